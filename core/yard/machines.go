package yard

// The machines: adding them, their sheets and meters, and taking them out.

import (
	"slices"
	"time"

	"vespers/core/defect"
	"vespers/core/inspect"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/record"
	"vespers/core/text"
	"vespers/core/unit"
)

// bayMost is the longest name of a bay, in characters; hoursMost the most that
// an hour meter shows, in hours.
const (
	bayMost   = 20
	hoursMost = 99999
)

var (
	ruleNamedSo      = text.NewRule("machine.named_so_already", text.Slot{Name: "name", Kind: text.Name}, text.Slot{Name: "bay", Kind: text.Name})
	ruleHours        = text.NewRule("machine.hours_needed")
	ruleOtherSheet   = text.NewRule("machine.other_sheet")
	ruleWay          = text.NewRule("machine.option_way", text.Slot{Name: "option", Kind: text.Words})
	ruleBuilt        = text.NewRule("take_out.built_how", text.Slot{Name: "option", Kind: text.Words})
	ruleNoMeter      = text.NewRule("machine.no_meter")
	ruleTaken        = text.NewRule("take_out.taken", text.Slot{Name: "who", Kind: text.Name})
	ruleHalt         = text.NewRule("take_out.on_halt", text.Slot{Name: "who", Kind: text.Name}, text.Slot{Name: "when", Kind: text.Moment})
	RuleSecondOuting = text.NewRule("take_out.another_is_open", text.Slot{Name: "machines", Kind: text.Name})
)

func typedHours(typed string) (float64, error) {
	hour, _ := unit.Find("h")
	hours, _, err := unit.Parse(typed, hour)
	if err != nil || hours.Value < 0 || hour.In(hours) > hoursMost {
		return 0, record.Refuse(ruleHours.Says())
	}
	return hour.In(hours), nil
}

func (c AddMachine) decide(s speech) ([]Decided, error) {
	name, err := named(c.Name, nameMost)
	if err != nil {
		return nil, err
	}
	bay, err := named(c.Bay, bayMost)
	if err != nil {
		return nil, err
	}
	if reason, wrong := text.Wrong(c.Hirer, nameMost); wrong {
		return nil, record.Refuse(reason)
	}
	hours, err := typedHours(c.Hours)
	if err != nil {
		return nil, err
	}
	sheet, ok := s.Sheet(c.Sheet)
	if !ok {
		return nil, record.Refuse(ruleNoSheet.Says())
	}
	if _, chosen := machine.SplitKey(c.Sheet); sheet.Unsaid(chosen) != nil {
		return nil, record.Refuse(ruleWay.Says(sheet.Unsaid(chosen).Name))
	}
	if err := nameFree(s.View, name, ""); err != nil {
		return nil, err
	}
	id := "m-" + s.ID
	return []Decided{{Machine: id, Event: MachineAdded{ID: id, Name: name, Bay: bay, Sheet: c.Sheet, Hours: hours, Hirer: c.Hirer}}}, nil
}

func (c AdoptSheet) decide(s speech) ([]Decided, error) {
	m, ok := s.Machine(c.Machine)
	if !ok {
		return nil, record.Refuse(ruleNoMachine.Says())
	}
	old, _ := s.Sheet(m.Sheet)
	sheet, ok := s.Sheet(c.Sheet)
	if !ok || old == nil || sheet.ID != old.ID {
		return nil, record.Refuse(ruleOtherSheet.Says())
	}
	hash, _ := machine.SplitKey(c.Sheet)
	return []Decided{{Machine: m.ID, Event: SheetAdopted{Machine: m.ID, Sheet: machine.Key(hash, known(sheet, old.Chosen()))}}}, nil
}

// known is what is known of a sheet's options from another edition's.
func known(sheet *machine.Sheet, chosen machine.Chosen) machine.Chosen {
	out := machine.Chosen{}
	for i := range sheet.Options {
		o := &sheet.Options[i]
		if _, ok := o.Choice(chosen[o.ID]); ok {
			out[o.ID] = chosen[o.ID]
		}
	}
	return out
}

func (c SetOptions) decide(s speech) ([]Decided, error) {
	m, ok := s.Machine(c.Machine)
	if !ok {
		return nil, record.Refuse(ruleNoMachine.Says())
	}
	sheet, ok := s.Sheet(m.Sheet)
	if !ok {
		return nil, record.Refuse(ruleNoSheet.Says())
	}
	chosen := sheet.Ways(sheet.Chosen())
	for i := range sheet.Options {
		o := &sheet.Options[i]
		if o.Told {
			continue
		}
		if _, known := o.Choice(c.Ways[o.ID]); !known {
			return nil, record.Refuse(ruleWay.Says(o.Name))
		}
		chosen[o.ID] = c.Ways[o.ID]
	}
	hash, _ := machine.SplitKey(m.Sheet)
	return []Decided{{Machine: m.ID, Event: SheetAdopted{Machine: m.ID, Sheet: machine.Key(hash, chosen)}}}, nil
}

// A wrong reading takes with it the deadlines that were reckoned from
// it, a new meter all of them.
func (c SetMeter) decide(s speech) ([]Decided, error) {
	m, ok := s.Machine(c.Machine)
	if !ok {
		return nil, record.Refuse(ruleNoMachine.Says())
	}
	if sheet, ok := s.Sheet(m.Sheet); !ok || !sheet.Metered() {
		return nil, record.Refuse(ruleNoMeter.Says())
	}
	hours, err := typedHours(c.Hours)
	if err != nil {
		return nil, err
	}
	reason, err := why(c.Reason)
	if err != nil {
		return nil, err
	}
	e := MeterSet{Machine: m.ID, Hours: hours, Was: m.Hours, Exchanged: c.Exchanged, Reason: reason}
	shift := hours - m.Hours
	for _, d := range s.OpenDefects(m.ID) {
		until := d.Finding.Deadline.Hours
		if until == nil || !c.Exchanged && (*until < m.Hours || shift > 0) {
			continue // reckoned from an older reading; a later one never gives more time
		}
		if e.Deadlines == nil {
			e.Deadlines = map[string]float64{}
		}
		e.Deadlines[d.ID] = *until + shift
	}
	out := []Decided{{Machine: m.ID, Event: e}}
	if m.Outing != "" {
		out = append(out, Decided{Outing: m.Outing, Machine: m.ID, Event: outing.Metered{Machine: m.ID, Hours: hours}})
	}
	return out, nil
}

// notAlreadyOut asks somebody who has an outing open what becomes of it.
func notAlreadyOut(v View, who operator.Person, both bool) error {
	if both {
		return nil
	}
	names := ""
	for _, id := range v.OutWith(who.ID) {
		if o, ok := v.Outing(id); ok {
			if names != "" {
				names += ", "
			}
			names += o.Name()
		}
	}
	if names == "" {
		return nil
	}
	return record.Refuse(RuleSecondOuting.Says(names))
}

func (c TakeOut) decide(s speech) ([]Decided, error) {
	id := "o-" + s.ID
	main, started, err := c.compose(id, s.View, s.who, s.At)
	if err != nil {
		return nil, err
	}
	if err := refuseJob(main.Name, jobsRefused(s.View, started, s.At)); err != nil {
		return nil, err
	}
	if err := notAlreadyOut(s.View, s.who, c.Both); err != nil {
		return nil, err
	}
	return []Decided{{Outing: id, Machine: main.ID, Event: started}}, nil
}

// compose is what the outing begins with.
func (c TakeOut) compose(id string, v View, who operator.Person, now time.Time) (main outing.Machine, started outing.Started, err error) {
	if main, err = standing(v, c.Machine, now); err != nil {
		return main, started, err
	}
	var carrier *outing.Machine
	if main.Sheet.Carrier != nil && c.Carrier != "" {
		one, err := standing(v, c.Carrier, now)
		if err != nil {
			return main, started, err
		}
		carrier = &one
	}
	plan, err := c.For.Read()
	if err != nil {
		return main, started, err
	}
	settings, _ := v.Settings()
	started, err = outing.Compose(id, who, settings.House, main, carrier, v.Plan, now)
	started.Plan = plan
	return main, started, err
}

// standing is a machine that stands in its bay and may be started, with what it
// brings into an outing.
func standing(v View, id string, now time.Time) (outing.Machine, error) {
	m, err := inYard(v, id)
	if err != nil {
		return outing.Machine{}, err
	}
	if m.Outing != "" {
		who := operator.Person{}
		if o, ok := v.Outing(m.Outing); ok {
			who, _ = v.Person(o.Operator())
		}
		return outing.Machine{}, record.Refuse(ruleTaken.Says(who.Name))
	}
	sheet, ok := v.Sheet(m.Sheet)
	if !ok {
		return outing.Machine{}, record.Refuse(ruleNoSheet.Says())
	}
	if _, chosen := machine.SplitKey(m.Sheet); sheet.Unsaid(chosen) != nil {
		return outing.Machine{}, record.Refuse(ruleBuilt.Says(sheet.Unsaid(chosen).Name))
	}
	out, halt := bring(v, m, sheet, nil, now)
	if halt != nil {
		finder, _ := v.Person(halt.FoundBy)
		return outing.Machine{}, record.Refuse(ruleHalt.Says(finder.Name, halt.FoundAt))
	}
	return out, nil
}

// bring is a machine with what it brings into an outing, its open defects but those
// that are being mended, and one of them that is a Halt now, or nil.
func bring(v View, m Machine, sheet *machine.Sheet, mended []string, now time.Time) (out outing.Machine, halt *Defect) {
	settings, _ := v.Settings()
	out = outing.Machine{Practice: settings.Practice.For(sheet.Family), ID: m.ID, Name: m.Name, Hash: m.Sheet, Sheet: sheet, Hours: m.Hours, HoursAt: m.HoursAt, Worked: m.Worked, Stood: m.Stood, Before: v.LastRead(m.ID),
		Past: past(v, m.ID, now), Memory: v.Memory(m.ID)}
	for _, d := range v.OpenDefects(m.ID) {
		if slices.Contains(mended, d.ID) {
			continue
		}
		f := d.Finding
		if !sheet.Metered() {
			f.Deadline = f.Deadline.ByClock(d.FoundAt, m.Hours)
		}
		if halt == nil && f.GradeAt(m.Hours, now) == defect.Halt {
			halt = &d
		}
		out.Carried = append(out.Carried, outing.Carried{ID: d.ID, Check: d.Point, Item: d.Item, Finding: f})
	}
	return out, halt
}

// past is what decides what is due on a machine today.
func past(v View, id string, now time.Time) inspect.Past {
	p := v.Past(id)
	p.Today = today(v, now)
	return p
}

// today is when the yard's day began.
func today(v View, now time.Time) time.Time {
	settings, _ := v.Settings()
	zone, ok := v.Zone(settings.Timezone)
	if !ok {
		zone = time.UTC
	}
	return DayStart(now, zone)
}

// Carriers lists the machines of a family that may carry an implement out now.
func Carriers(v View, family string, now time.Time) []Machine {
	var out []Machine
	for _, m := range v.Machines() {
		if sheet, ok := v.Sheet(m.Sheet); ok && sheet.Family == family && m.Outing == "" && m.GradeAt(now) != defect.Halt {
			out = append(out, m)
		}
	}
	return out
}
