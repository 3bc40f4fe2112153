package yard_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"vespers/core/defect"
	"vespers/core/grade"
	"vespers/core/inspect"
	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/record"
	"vespers/core/yard"
)

// life is a machine over many outings, with everything that was said of it kept apart
// from the yard: what a case is made of.
type life struct {
	*town
	*rand.Rand
	id     string
	sheet  *machine.Sheet
	begun  int
	log    []logged // what came before, in order
	now    []grade.Finding
	hours  float64
	traced []string
	// metered: an hour meter runs on it.
	metered bool
}

// meter is the hour meter as it is read now, nil where none runs.
func (l *life) meter() *float64 {
	if !l.metered {
		return nil
	}
	h := math.Round(l.hours*10) / 10
	return &h
}

// logged is something of the past, and how many outings had been begun then.
type logged struct {
	grade.Finding
	outing int
}

func (l *life) note(format string, args ...any) {
	l.traced = append(l.traced, fmt.Sprintf(format, args...))
}

// fold keeps the town's defects and memory as the yard's file does.
func (l *life) fold(o *outing.Outing) {
	standing := map[string]bool{}
	for _, d := range o.Defects() {
		standing[d.ID] = true
		one, known := l.defects[d.ID]
		if !known {
			one = yard.Defect{ID: d.ID, Machine: d.Machine, Outing: o.ID, Point: d.Check, Item: d.Item, Fault: d.Fault, Test: d.Test, FoundBy: d.By, FoundAt: d.At, Open: true}
		}
		if one.Open {
			one.Finding = d.Finding
		}
		l.defects[d.ID] = one
	}
	for id, d := range l.defects {
		if d.Outing == o.ID && d.Open && !standing[id] {
			delete(l.defects, id)
		}
	}
}

func (l *life) say(by string, id string, c outing.Command, supersedes string) bool {
	l.n++
	l.at = l.at.Add(3 * time.Second)
	meta := record.Meta{ID: fmt.Sprintf("%04d", l.n), By: by, At: l.at, Supersedes: supersedes}
	said, err := yard.Decide(l, yard.InOuting{Outing: id, Command: c}, meta)
	if err != nil {
		return false
	}
	for i, d := range said {
		if i > 0 {
			meta.ID = fmt.Sprintf("%04d+%d", l.n, i)
		}
		before := l.outings[id]
		l.take(meta, d)
		switch e := d.Event.(type) {
		case outing.Ended:
			l.memory[l.id] = l.memory[l.id].After(before, l.id)
		case yard.DefectClosed:
			for _, p := range append(slices.Clone(e.Touched), l.defects[e.Defect].Point) {
				work := defect.Repaired
				if slices.Contains(e.Replaced, p) {
					work = defect.Replaced
				}
				l.memory[l.id] = l.memory[l.id].Mended(p, work)
			}
		}
	}
	if o := l.outings[id]; o.Status != outing.Closed {
		l.fold(o)
	}
	return true
}

// near is a value about a limit of a reading, within what its instrument shows.
func (l *life) near(r *machine.Reading) float64 {
	r = l.outings[l.machines[l.id].Outing].Units[0].Under(r)
	var at []float64
	for _, limit := range []*float64{r.Limits.Low, r.Limits.High} {
		if limit != nil {
			at = append(at, *limit)
		}
	}
	v := at[l.IntN(len(at))] + float64(l.IntN(25)-8)*math.Max(r.Uncertainty, 0.1)/2
	return math.Min(r.Range[1], math.Max(r.Range[0], math.Round(v*100)/100))
}

func typed(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }

// answer answers a point by chance, and notes what it said.
func (l *life) answer(id string, a outing.Answer) {
	c, _ := l.sheet.Check(a.Check)
	f := grade.Finding{Check: a.Check, Sound: true}
	if r, reads := c.Reading(a.Item); reads && a.Answer.Answer == inspect.Read {
		v, _ := strconv.ParseFloat(a.Typed, 64)
		switch {
		case r.Kind == "hours":
			v = math.Round(l.hours*10) / 10
		case r.Limits != nil && l.Float64() < 0.2:
			v = l.near(r)
		}
		a.Typed, a.Unit = typed(v), r.Unit
		f = grade.Finding{Check: a.Check, Of: a.Item, Reading: &v}
	} else if often := 0.05; a.Answer.Answer == inspect.Sound {
		kind := c.Faults[l.IntN(len(c.Faults))]
		if c.System != "" && kind.Extent == machine.Early {
			often = 0.6 // two of one system
		}
		if l.Float64() > often {
			kind = machine.Fault{}
		}
		if kind.ID != "" {
			a = outingtest.Fault(l.id, c.ID, kind.ID)
			f = grade.Finding{Check: c.ID, Fault: kind.ID}
		}
	}
	if !l.say("ida", id, a, "") {
		return
	}
	g, _ := l.outings[id].Units[0].Last(a.Check, a.Item)
	u := l.outings[id].Units[0]
	if f.Reading != nil && u.MayMeasureAgain(a.Check, a.Item) && l.Float64() < 0.3 {
		r, _ := c.Reading(a.Item)
		again := l.near(r)
		b := a
		b.Again, b.Typed = true, typed(again)
		if l.say("ida", id, b, g.Meta.ID) {
			f.Again = &again
		}
	}
	if g, _ = l.outings[id].Units[0].Last(a.Check, a.Item); l.outings[id].Units[0].Mendable(g) && l.Float64() < 0.4 {
		now := outingtest.Sound(l.id, a.Check).Answer
		if f.Reading != nil {
			r, _ := c.Reading(a.Item)
			now = outingtest.Typed(l.id, a.Check, r, outingtest.Good(u, r))
		}
		if l.say("ida", id, outing.PutRight{Finding: g.Meta.ID, Now: now}, "") {
			f.PutRight = true
		}
	}
	at := g.Meta.At
	f.At = &at
	l.now = append(l.now, f)
	if f.Sound || f.Of == "hours" {
		return
	}
	words := "  " + f.Check + " " + f.Fault
	if f.Reading != nil {
		words += f.Of + "=" + typed(*f.Reading)
	}
	if f.Again != nil {
		words += ", again " + typed(*f.Again)
	}
	if f.PutRight {
		words += ", put right"
	}
	l.note("%s", words)
}

// walk takes the machine out and walks it round; nil where it may not go out.
func (l *life) walk() (o *outing.Outing, carried []grade.Carried) {
	for _, d := range l.OpenDefects(l.id) {
		at := d.FoundAt
		carried = append(carried, grade.Carried{Check: d.Point, Grade: d.Finding.Grade, Restrictions: d.Finding.Restrictions, Deadline: d.Finding.Deadline, At: &at})
	}
	if l.rule("ida", yard.TakeOut{Machine: l.id}) != "" {
		return nil, nil
	}
	id := l.machines[l.id].Outing
	l.memory[l.id] = l.memory[l.id].Started()
	l.begun++
	l.now = nil
	for range 400 {
		o = l.outings[id]
		if o.Ready() != nil && o.Stage() != outing.StageWalk {
			break
		}
		l.at = outingtest.Wait(o, l.at)
		c := outingtest.Next(o, l.at)
		if a, ok := c.(outing.Answer); ok {
			l.answer(id, a)
		} else if !l.say("ida", id, c, "") {
			l.t.Fatalf("%T %+v is refused", c, c)
		}
	}
	return l.outings[id], carried
}

// judged is what a case made of everything that was said comes to.
func (l *life) judged(carried []grade.Carried) grade.Report {
	now := l.at
	c := grade.Case{At: &now, Hours: l.meter(), Carried: carried, Conditions: map[string]float64{}}
	u := l.outings[l.machines[l.id].Outing].Units[0]
	for i := range l.sheet.Conditions {
		if choice, told := l.sheet.Conditions[i].Choice(u.Told(l.sheet.Conditions[i].ID)); told {
			c.Conditions[l.sheet.Conditions[i].ID] = choice.Value
		}
	}
	for _, p := range l.log {
		f, ago := p.Finding, l.begun-p.outing
		if ago > 0 {
			f.Ago = &ago
		}
		c.History = append(c.History, f)
	}
	for _, f := range l.now {
		if f.Reading != nil && f.PutRight { // it was read anew
			point, _ := l.sheet.Check(f.Check)
			r, _ := point.Reading(f.Of)
			v := outingtest.Good(l.outings[l.machines[l.id].Outing].Units[0], r)
			f.Reading, f.Again = &v, nil
		}
		c.Findings = append(c.Findings, f)
	}
	r, err := c.Judge(l.sheet)
	if err != nil {
		l.t.Fatal(err)
	}
	return r
}

// over ends the outing, and puts what was said into the past.
func (l *life) over(o *outing.Outing) {
	if !l.say("ida", o.ID, outing.End{}, "") {
		l.t.Fatal("it does not end")
	}
	for _, f := range l.now {
		f.Hours, f.At = l.meter(), nil
		l.log = append(l.log, logged{f, l.begun})
		if f.Reading != nil && f.PutRight { // read anew
			c, _ := l.sheet.Check(f.Check)
			r, _ := c.Reading(f.Of)
			v := outingtest.Good(o.Units[0], r)
			l.log = append(l.log, logged{grade.Finding{Check: f.Check, Of: f.Of, Reading: &v, Hours: l.meter()}, l.begun})
		}
	}
}

// mend repairs some of what is open, and all that is a Halt.
func (l *life) mend() {
	for _, d := range l.OpenDefects(l.id) {
		if d.Finding.GradeAt(l.machines[l.id].Hours, l.at) != defect.Halt && l.Float64() < 0.7 {
			continue
		}
		// Closed at once, without its proof: that is another test's.
		d.Open = false
		l.defects[d.ID] = d
		f := grade.Finding{Check: d.Point, Repaired: true}
		work := defect.Repaired
		if l.Float64() < 0.4 {
			f = grade.Finding{Check: d.Point, Replaced: true}
			work = defect.Replaced
		}
		l.memory[l.id] = l.memory[l.id].Mended(d.Point, work)
		l.log = append(l.log, logged{f, l.begun})
		l.note("  mended %s %s", d.Point, work)
	}
}

// TestManyOutings: whatever is found, measured again, put right, mended, worn and left,
// the machine is judged as a case is that is made of all that was said.
func TestManyOutings(t *testing.T) {
	met := map[string]int{}
	var sheets []machinetest.Resolved
	for _, r := range machinetest.All(t) {
		if r.Sheet.Carrier == nil {
			sheets = append(sheets, r)
		}
	}
	for seed := range uint64(24) {
		of := sheets[int(seed)%len(sheets)]
		if seed < 12 {
			of = machinetest.All(t)[0]
		}
		t.Run(fmt.Sprint(seed, " ", of.Sheet.ID), func(t *testing.T) {
			w := newTown(t)
			sheet := *of.Sheet
			sheet.Checks = slices.Clone(sheet.Checks)
			for i := range sheet.Checks { // more of one system than there is
				if c := &sheet.Checks[i]; slices.Contains([]string{"castors", "blades", "throttle_choke", "belt_covers"}, c.ID) {
					c.System = "all"
				}
			}
			w.sheets[of.Hash] = &sheet
			w.must("maren", yard.AddMachine{Name: "Old", Bay: "7", Sheet: of.Hash, Hours: "100"})
			p := outingtest.Schooled("ida", operator.Operator, &sheet)
			p.Name = "Ida"
			w.people["ida"] = p
			l := &life{town: w, Rand: rand.New(rand.NewPCG(seed, 41)), id: w.machine("Old").ID, sheet: &sheet, hours: 100, metered: sheet.Metered()}
			for n := range 14 {
				gone := time.Duration(1+l.IntN(40)) * time.Hour
				l.at = l.at.Add(gone)
				l.hours += math.Round(math.Min(gone.Hours(), l.Float64()*6)*10) / 10
				l.note("outing %d at %s, %.1f h", n, l.at.Format(time.DateTime), l.hours)
				o, carried := l.walk()
				if o == nil {
					l.mend()
					continue
				}
				m := l.machines[l.id]
				m.Hours = o.Units[0].HoursNow()
				l.machines[l.id] = m
				got, want := o.Judge(l.at), l.judged(carried)
				halted := got.Outcome == outing.Halted
				for _, d := range o.Defects() {
					l.note("  stands: %s %s %s carried %v %s %v %v", d.Check, d.Item, d.Fault, d.Carried, d.Finding.Grade, says(d.Finding), d.Finding.Deadline.At)
				}
				for i, f := range want.Findings {
					if f.Grade != defect.Sound {
						l.note("  judged: %s %s %v %+v", f.Check, f.Grade, says(f.Finding), i)
					}
				}
				if got.Grade != want.Grade || halted != (want.Grade == defect.Halt) || fmt.Sprint(got.Restrictions) != fmt.Sprint(want.Restrictions) {
					t.Fatalf("%s %v, want %s %v\n%v", got.Grade, got.Restrictions, want.Grade, want.Restrictions, strings.Join(l.traced, "\n"))
				}
				if got.Grade == defect.Mend && !same(got.Deadline, want.Deadline) {
					t.Fatalf("until %v %v, want %v %v\n%v", got.Deadline.Hours, got.Deadline.At, want.Deadline.Hours, want.Deadline.At, strings.Join(l.traced, "\n"))
				}
				met[string(got.Grade)]++
				for _, f := range want.Findings {
					for _, reason := range f.Reasons {
						met[string(reason.Rule)]++
					}
				}
				l.over(o)
				l.mend()
			}
		})
	}
	for _, what := range []string{"sound", "watch", "mend", "halt", "grade.again", "grade.did_not_hold", "grade.two_watches", "grade.trend", "grade.put_right"} {
		if met[what] == 0 {
			t.Errorf("%s was never met: %v", what, met)
		}
	}
}

// says lists the rules of a finding.
func says(f defect.Finding) (rules []string) {
	for _, r := range f.Reasons {
		rules = append(rules, string(r.Rule))
	}
	return rules
}

func same(a, b defect.Deadline) bool {
	if (a.Hours == nil) != (b.Hours == nil) || (a.At == nil) != (b.At == nil) {
		return false
	}
	return (a.Hours == nil || math.Abs(*a.Hours-*b.Hours) < 1e-6) && (a.At == nil || a.At.Sub(*b.At).Abs() < time.Second)
}
