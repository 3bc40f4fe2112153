package outingtest

// People and machines as tests of the core need them.

import (
	"slices"
	"testing"
	"time"

	"vespers/core/defect"
	"vespers/core/inspect"
	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/record"
	"vespers/core/text"
	"vespers/core/unit"
)

// Morning is when the outings of tests begin.
var Morning = time.Date(2026, 11, 24, 6, 0, 0, 0, time.UTC)

// Crew is a crew of whoever is in it.
type Crew map[string]operator.Person

// Person implements outing.Crew.
func (c Crew) Person(id string) (operator.Person, bool) {
	p, ok := c[id]
	return p, ok
}

// Add puts people into the crew.
func (c Crew) Add(people ...operator.Person) Crew {
	for _, p := range people {
		c[p.ID] = p
	}
	return c
}

// Schooled is somebody who has read, practised and holds all that these machines
// ask for.
func Schooled(id string, role operator.Role, sheets ...*machine.Sheet) operator.Person {
	on := Morning.AddDate(0, -3, 0)
	p := operator.Person{ID: id, Name: "Name of " + id, Role: role, Language: text.English, Units: unit.Metric, Born: "1988-09-30",
		Qualifications: []operator.Qualification{{Kind: operator.Licence, On: on, By: "edda"}}}
	for _, s := range sheets {
		p.Manuals = append(p.Manuals, operator.ManualRead{Sheet: s.ID, Edition: s.Edition, Language: text.English, On: on})
		for _, kind := range []string{operator.Practice, operator.SlopePractice} {
			p.Qualifications = append(p.Qualifications, operator.Qualification{Kind: kind, Sheet: s.ID, On: on, By: "edda"})
		}
	}
	return p
}

// Machine is a machine of a sheet as it is taken out, with a hundred hours; it
// came this morning, so that nothing on it is overdue.
func Machine(id string, r machinetest.Resolved, carried ...outing.Carried) outing.Machine {
	return outing.Machine{ID: id, Name: "Name of " + id, Hash: r.Hash, Sheet: r.Sheet, Hours: 100, Carried: carried,
		Past: inspect.Past{Added: inspect.Seen{At: Morning, Hours: 100}, Today: Morning.Add(-2 * time.Hour)}}
}

// Begin takes machines out: the first, and a carrier if there is one. An
// implement without one is looked at by itself, which no yard would let go out.
func Begin(t testing.TB, who string, main outing.Machine, carrier *outing.Machine) *outing.Outing {
	t.Helper()
	sheets := map[string]*machine.Sheet{main.Hash: main.Sheet}
	if carrier == nil && main.Sheet.Carrier != nil {
		alone := *main.Sheet
		alone.Interlock = interlock.Section(main.Sheet)
		alone.Carrier = nil
		main.Sheet = &alone
	}
	asked := []*machine.Sheet{main.Sheet}
	if carrier != nil {
		asked = append(asked, carrier.Sheet)
	}
	started, err := outing.Compose("o", Schooled(who, operator.Operator, asked...), defect.DefaultHouse(), main, carrier, outing.Plan, Morning)
	if err != nil {
		t.Fatal(err)
	}
	for i := range started.Units {
		started.Units[i].Spots = nil // tests say themselves what is measured
	}
	if carrier != nil {
		sheets[carrier.Hash] = carrier.Sheet
	}
	for hash, sheet := range sheets {
		sheets[hash] = warm(sheet)
	}
	o, err := outing.Begin("o", record.Meta{ID: "start", By: who, At: Morning}, started, func(hash string) (*machine.Sheet, error) { return sheets[hash], nil })
	if err != nil {
		t.Fatal(err)
	}
	return o
}

// warm is a sheet whose engine needs no warming up: tests say themselves what
// they wait for.
func warm(sheet *machine.Sheet) *machine.Sheet {
	one := *sheet
	one.Numbers = slices.DeleteFunc(slices.Clone(one.Numbers), func(n machine.Parameter) bool { return n.ID == "warm_up" })
	return &one
}
