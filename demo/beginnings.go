package demo

// What Wrenfield begins with: its name, its crew with what is known of them, and
// its machines.

import (
	"fmt"
	"slices"
	"time"

	"vespers/catalogue"
	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/record"
	"vespers/core/unit"
	"vespers/core/yard"
	"vespers/store"
)

// born is when the crew were born; Jonah is too young for saws and trenchers.
var born = map[string]string{"maren": "1974-03-12", "ines": "1988-09-30", "tobias": "1991-01-17", "ruth": "1983-06-05", "jonah": "2009-04-21", "lucia": "1996-11-08", "edda": "1969-12-02", "osk": "1979-02-14"}

// voucher is the lead who writes down what somebody has shown: never themselves.
func voucher(person string) string {
	if person == "maren" {
		return "edda"
	}
	return "maren"
}

// beginnings lists what is recorded before anybody works, at a time long enough
// before now.
func beginnings(at, now time.Time, sheets []catalogue.Resolved) []store.Seed {
	var out []store.Seed
	add := func(by, pin string, e record.Event) {
		out = append(out, store.Seed{ID: fmt.Sprintf("wrenfield-%04d", len(out)+1), By: by, At: at, Event: e, PIN: pin})
	}
	add("maren", "", yard.Named{Name: "Wrenfield Arboretum and Burial Grounds", Timezone: Timezone, House: defect.DefaultHouse(),
		Emergency: yard.Emergency{Numbers: "Emergency 112; crew lead 555-0114", Address: "Wrenfield Arboretum, Upper Gate, Chapel Lane", Meeting: "Upper Gate, by the yew: somebody waits there"}})
	for _, p := range crew {
		add("maren", "", yard.PersonAdded{ID: p.ID, Name: p.Name, Role: p.Role, Language: p.Language, Units: unit.Metric})
		add(p.ID, p.pin, yard.PINSet{ID: p.ID})
		if p.Units != unit.Metric {
			add(p.ID, "", yard.PersonSet{ID: p.ID, Language: p.Language, Units: p.Units, Theme: "auto", Keys: true})
		}
		add(voucher(p.ID), "", yard.BornRecorded{Person: p.ID, Born: born[p.ID]})
		for _, q := range shown(p, at, now, sheets) {
			add(voucher(p.ID), "", yard.QualificationRecorded{Person: p.ID, Qualification: q})
		}
		for _, r := range sheets {
			if slices.Contains(p.read, r.Sheet.ID) {
				add(voucher(p.ID), "", yard.ManualRecorded{Person: p.ID, Manual: operator.ManualRead{Sheet: r.Sheet.ID, Edition: r.Sheet.Edition, Language: p.Language, On: at}})
			}
		}
	}
	for _, m := range machines {
		for _, r := range sheets {
			if id, build := machine.SplitKey(m.sheet); r.Sheet.ID == id {
				add("maren", "", yard.MachineAdded{ID: m.id, Name: m.name, Bay: m.bay, Sheet: machine.Key(r.Hash, build), Hours: m.hours, Hirer: hired[m.id]})
			}
		}
	}
	return out
}

// shown is what a person holds and has practised on the machines they know;
// Tobias's practice on the chipper runs out soon.
func shown(p Person, at, now time.Time, sheets []catalogue.Resolved) []operator.Qualification {
	if p.Role == operator.Trainee || p.Role == operator.Visitor {
		return nil
	}
	out := []operator.Qualification{{Kind: operator.Licence, On: at, By: voucher(p.ID)}}
	for _, r := range sheets {
		if r.Sheet.Needs == nil || !slices.Contains(p.read, r.Sheet.ID) {
			continue
		}
		for _, kind := range []string{operator.Practice, operator.SlopePractice} {
			if kind == operator.SlopePractice && (!r.Sheet.Needs.SlopePractice || p.ID == "ines") {
				continue
			}
			out = append(out, operator.Qualification{Kind: kind, Sheet: r.Sheet.ID, On: practisedOn(p, r.Sheet, now), By: voucher(p.ID)})
		}
	}
	return out
}

func practisedOn(p Person, sheet *machine.Sheet, now time.Time) time.Time {
	if p.ID == "tobias" && sheet.Family == "disc_chipper" {
		return now.AddDate(0, -23, -10)
	}
	return now.AddDate(0, -7, 0)
}
