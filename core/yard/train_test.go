package yard_test

import (
	"testing"
	"time"

	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/record"
	"vespers/core/yard"
)

// convoy is a town whose tractor, trailer, chipper and mower are out and released, all in
// Ida's hands.
type convoy struct{ *town }

func newConvoy(t *testing.T, names ...string) convoy {
	w := convoy{newTown(t)}
	families := map[string]string{"Archdeacon": "tractor", "Almsman": "tractor", "Wayfarer": "tilt_trailer", "Apparitor": "disc_chipper", "Pardoner": "tow_sweeper", "Lancet": "slope_rider"}
	var sheets []*machine.Sheet
	for _, name := range names {
		if family, ok := families[name]; ok {
			of := machinetest.Of(t, family)
			sheets = append(sheets, of.Sheet)
			w.must("maren", yard.AddMachine{Name: name, Bay: "2", Sheet: of.Hash, Hours: hoursOf(of.Sheet)})
		}
	}
	w.people["ida"] = outingtest.Schooled("ida", operator.Operator, sheets...)
	for _, name := range names {
		w.goOut(name)
	}
	return w
}

func hoursOf(s *machine.Sheet) string {
	if s.Metered() {
		return "100"
	}
	return "0"
}

// goOut takes a machine out and answers everything well until it is released.
func (w convoy) goOut(name string) {
	w.t.Helper()
	w.must("ida", yard.TakeOut{Machine: w.machine(name).ID, Both: true})
	w.release(name)
}

// release answers everything well until a machine is released.
func (w convoy) release(name string) {
	w.t.Helper()
	id := w.machine(name).Outing
	for range 400 {
		o := w.outings[id]
		c := outingtest.Next(o, w.at)
		if c == nil {
			if v := o.Judge(w.at); v.Outcome != outing.Clear {
				w.t.Fatalf("%s: %+v %+v", name, v.Halts, v.Missing)
			}
			w.must("ida", yard.InOuting{Outing: id, Command: outing.Release{Second: "maren"}})
			return
		}
		w.at = outingtest.Wait(o, w.at)
		if o.Stage() == outing.StageRound {
			if step, when, open := outingtest.Step(o.At(outing.StageRound), w.at); open {
				c, w.at = step, when
			}
		}
		w.must("ida", yard.InOuting{Outing: id, Command: c})
	}
	w.t.Fatalf("%s is never released", name)
}

func (w convoy) say(name string, c outing.Command) string {
	w.t.Helper()
	return w.rule("ida", yard.InOuting{Outing: w.machine(name).Outing, Command: c})
}

func (w convoy) unit(name string) *outing.UnitState {
	m := w.machine(name)
	return w.outings[m.Outing].Unit(m.ID)
}

func (w convoy) fact(name, fact string) string {
	return w.unit(name).Facts(record.Meta{At: w.at})[fact]
}

// steps answers a procedure well as far as it goes, and says what stopped it: "" at its
// end, or where a step is reached that is not to be answered.
func (w convoy) steps(name, procedure, before string) string {
	w.t.Helper()
	u := w.unit(name)
	if u.Live(record.Meta{At: w.at}).Open() == "" {
		if rule := w.say(name, outing.BeginProcedure{Machine: u.Machine, Procedure: procedure}); rule != "" {
			w.t.Log(name, procedure, u.Live(record.Meta{At: w.at}).Unmet(procedure))
			return rule
		}
	}
	for range 60 {
		c, when, open := outingtest.Step(w.unit(name), w.at)
		if !open || c.(outing.AnswerStep).Step == before {
			return ""
		}
		if when.After(w.at) {
			w.at = when
		}
		before := ""
		if why := yard.Held(w, w.outings[w.machine(name).Outing], c.(outing.AnswerStep), record.Meta{ID: "asked", By: "ida", At: w.at}); why != nil {
			before = string(why.Rule)
		}
		rule := w.say(name, c)
		if rule != before {
			w.t.Errorf("%s %+v: %q was said before, then %q", name, c, before, rule)
		}
		if rule != "" {
			return rule
		}
	}
	w.t.Fatalf("%s: %s does not end", name, procedure)
	return ""
}

func (w convoy) want(got, want string) {
	w.t.Helper()
	if got != want {
		w.t.Fatalf("%q, want %q", got, want)
	}
}

func (w convoy) link(name, how, to string) string {
	id := ""
	if to != "" {
		id = w.machine(to).ID
	}
	return w.say(name, outing.Link{Machine: w.machine(name).ID, How: how, To: id})
}

// runs starts a machine where its engine does not run yet.
func (w convoy) runs(name string) string {
	if w.fact(name, "engine") == "running" {
		return ""
	}
	return w.steps(name, "start", "")
}

// TestOntoTheTrailerAndAway: coupled before anything is loaded, open while it is driven
// on, latched while it is fastened, fastened before it is pulled; and off again.
func TestOntoTheTrailerAndAway(t *testing.T) {
	w := newConvoy(t, "Archdeacon", "Wayfarer", "Lancet")
	w.want(w.steps("Wayfarer", "load", "couple"), "")
	w.want(w.steps("Wayfarer", "load", ""), "train.say_first_behind")
	w.want(w.link("Wayfarer", outing.Behind, "Lancet"), "train.cannot_pull")
	w.want(w.link("Wayfarer", outing.On, "Archdeacon"), "procedure.not_on_this_machine")
	w.want(w.link("Wayfarer", outing.Behind, "Archdeacon"), "")

	// The mower: which trailer, and only while its bed is open.
	w.want(w.runs("Lancet"), "")
	w.want(w.steps("Lancet", "load", "drive_on"), "")
	w.want(w.steps("Lancet", "load", ""), "train.say_first_on")
	w.want(w.link("Lancet", outing.On, "Archdeacon"), "train.cannot_pull")
	w.want(w.link("Lancet", outing.On, "Wayfarer"), "")
	w.want(w.steps("Wayfarer", "load", "lock_ready"), "")
	w.want(w.steps("Lancet", "load", ""), "train.bed_not_ready") // its bed is not open yet
	if turn, _ := w.unit("Lancet").Live(record.Meta{At: w.at}).Turn(w.at); turn.Step.ID != "drive_on" {
		t.Errorf("it is on the way up, at %s", turn.Step.ID)
	}
	w.want(w.steps("Wayfarer", "load", "drive_on"), "")
	w.want(w.steps("Lancet", "load", "strapped"), "")
	if is := w.fact("Wayfarer", "load"); is != "aboard" {
		t.Fatalf("the trailer's load is %s", is)
	}
	w.want(w.steps("Lancet", "load", ""), "train.bed_not_ready") // its latch is open
	w.want(w.steps("Wayfarer", "load", "chain"), "")
	w.want(w.steps("Lancet", "load", ""), "")
	if is := w.fact("Wayfarer", "load"); is != "chained" {
		t.Fatalf("the trailer's load is %s", is)
	}
	w.want(w.steps("Wayfarer", "load", ""), "")

	// Away: the tractor moves with it and not before it.
	w.want(w.runs("Archdeacon"), "")
	w.want(w.steps("Archdeacon", "work", ""), "train.behind_not_ready")
	w.want(w.steps("Wayfarer", "work", "look_again"), "")
	if w.fact("Archdeacon", "travel") != "moving" || w.fact("Archdeacon", "brake") != "off" {
		t.Error("the trailer moves, and the tractor does not")
	}
	w.want(w.link("Wayfarer", outing.Behind, ""), "train.still_coupled")
	w.want(w.steps("Wayfarer", "work", ""), "")
	if w.fact("Archdeacon", "travel") != "neutral" || w.fact("Archdeacon", "brake") != "set" {
		t.Error("the trailer stands, and the tractor does not")
	}

	// Off: unchained and open first, down while it is open.
	w.want(w.steps("Lancet", "unload", ""), "train.bed_not_ready")
	w.want(w.steps("Wayfarer", "unload", "drive_off"), "")
	w.want(w.steps("Lancet", "unload", ""), "")
	if is := w.fact("Wayfarer", "load"); is != "aboard" {
		t.Errorf("loose on the bed, and the trailer's load is %s", is)
	}
	w.want(w.link("Lancet", outing.On, "Wayfarer"), "")
	w.want(w.runs("Lancet"), "")
	w.want(w.steps("Lancet", "work", "work"), "")
	if is := w.fact("Wayfarer", "load"); is != "none" {
		t.Errorf("driven off, and the trailer's load is %s", is)
	}
	w.want(w.steps("Wayfarer", "unload", ""), "")
}

// TestWhatPullsStandsAndRuns: its brake is set while it is coupled, its engine runs before
// it moves, and it is not left with what hangs behind it loose.
func TestWhatPullsStandsAndRuns(t *testing.T) {
	w := newConvoy(t, "Archdeacon", "Pardoner", "Apparitor")
	w.want(w.link("Pardoner", outing.Behind, "Archdeacon"), "")
	w.want(w.runs("Archdeacon"), "")
	w.want(w.steps("Archdeacon", "work", "halt_there"), "") // it has driven, and stands unbraked
	w.want(w.steps("Pardoner", "work", ""), "train.brake_first")
	w.want(w.steps("Archdeacon", "work", ""), "")
	w.want(w.steps("Pardoner", "work", "there"), "")
	w.want(w.steps("Archdeacon", "shutdown", ""), "") // chocked: it may be left
	w.want(w.steps("Pardoner", "work", ""), "train.start_first")
	w.want(w.runs("Archdeacon"), "")
	w.want(w.steps("Pardoner", "work", "stand"), "")
	w.want(w.link("Apparitor", outing.Behind, "Archdeacon"), "train.pulls_already")
	w.want(w.steps("Archdeacon", "shutdown", ""), "train.chock_first")
	w.want(w.steps("Pardoner", "work", "brush_down"), "")
	w.want(w.steps("Archdeacon", "shutdown", ""), "")
	w.want(w.steps("Pardoner", "work", ""), "train.start_first") // to sweep
}

// TestLeftCoupled: what was left hanging behind a tractor is taken out and walked round
// before the tractor moves, and is still said to hang there.
func TestLeftCoupled(t *testing.T) {
	w := newConvoy(t, "Archdeacon", "Pardoner")
	w.want(w.link("Pardoner", outing.Behind, "Archdeacon"), "")
	w.want(w.steps("Pardoner", "work", "braked"), "")
	w.want(w.steps("Pardoner", "work", "chocks_away"), "")
	w.want(w.say("Pardoner", outing.LeaveProcedure{Machine: w.machine("Pardoner").ID, Procedure: "work"}), "")
	w.want(w.steps("Pardoner", "shutdown", ""), "")
	w.want(w.say("Pardoner", outing.End{}), "")
	w.want(w.runs("Archdeacon"), "")
	w.want(w.steps("Archdeacon", "work", ""), "train.behind_not_out")
	w.goOut("Pardoner")
	if b := w.unit("Pardoner").Behind; b == nil || *b != w.machine("Archdeacon").ID {
		t.Error("nobody knows what it hangs on")
	}
	w.want(w.steps("Archdeacon", "work", ""), "")
	w.want(w.steps("Archdeacon", "shutdown", ""), "")
	w.want(w.steps("Pardoner", "shutdown", ""), "")
	w.want(w.steps("Pardoner", "store", ""), "")
	w.want(w.say("Pardoner", outing.End{}), "")
	w.want(w.runs("Archdeacon"), "")
	w.want(w.steps("Archdeacon", "work", ""), "")
}

// TestACarriedImplementTakesTheHitch: a tractor with a boom pulls nothing.
func TestACarriedImplementTakesTheHitch(t *testing.T) {
	w := newConvoy(t, "Pardoner")
	for name, family := range map[string]string{"Crozier": "boom_mower", "Archdeacon": "tractor"} {
		of := machinetest.Of(t, family)
		w.must("maren", yard.AddMachine{Name: name, Bay: "3", Sheet: of.Hash, Hours: "100"})
	}
	tractor, boom := machinetest.Of(t, "tractor").Sheet, machinetest.Of(t, "boom_mower").Sheet
	w.people["ida"] = outingtest.Schooled("ida", operator.Operator, tractor, boom, w.unit("Pardoner").Sheet)
	w.want(w.link("Pardoner", outing.Behind, "Archdeacon"), "train.not_out")
	w.must("ida", yard.TakeOut{Machine: w.machine("Crozier").ID, Carrier: w.machine("Archdeacon").ID, Both: true})
	w.release("Crozier")
	w.want(w.link("Pardoner", outing.Behind, "Archdeacon"), "train.pulls_already")
}

// TestNoEngineBesideAnOpenCap: the tractor is not started while the chipper behind it is
// fuelled, and one that runs is a source of ignition.
func TestNoEngineBesideAnOpenCap(t *testing.T) {
	w := newConvoy(t, "Archdeacon", "Apparitor")
	w.want(w.link("Apparitor", outing.Behind, "Archdeacon"), "")
	w.want(w.steps("Apparitor", "shutdown", ""), "")
	w.want(w.steps("Apparitor", "load", "lamps"), "")
	w.want(w.say("Apparitor", outing.LeaveProcedure{Machine: w.machine("Apparitor").ID, Procedure: "load"}), "")
	w.at = w.at.Add(2 * time.Hour)
	w.want(w.steps("Archdeacon", "shutdown", ""), "")
	w.want(w.runs("Archdeacon"), "")
	if is := w.fact("Apparitor", "ignition"); is != "near" {
		t.Errorf("an engine runs before it, and ignition is %s", is)
	}
	w.want(w.steps("Archdeacon", "shutdown", ""), "")
	if is := w.fact("Apparitor", "ignition"); is == "near" {
		t.Error("it is off, and still near")
	}
	w.want(w.steps("Apparitor", "fuel", "flames"), "")
	w.want(w.runs("Archdeacon"), "")
	w.want(w.steps("Apparitor", "fuel", ""), "train.runs_beside")
	w.want(w.steps("Archdeacon", "shutdown", ""), "")
	w.want(w.steps("Apparitor", "fuel", "shut"), "")
	w.want(w.steps("Archdeacon", "start", ""), "train.cap_open")
	w.want(w.steps("Apparitor", "fuel", ""), "")
	w.want(w.runs("Archdeacon"), "")
	w.want(w.steps("Archdeacon", "work", ""), "train.behind_not_ready") // chocked, its table down
}

// TestWhatHappensIsNeverRefused: something runs after all, beside an open cap; the world is
// right, and what was known of it was not.
func TestWhatHappensIsNeverRefused(t *testing.T) {
	w := newConvoy(t, "Archdeacon", "Apparitor")
	w.want(w.link("Apparitor", outing.Behind, "Archdeacon"), "")
	w.want(w.steps("Apparitor", "shutdown", ""), "")
	w.want(w.steps("Apparitor", "load", "lamps"), "")
	w.want(w.say("Apparitor", outing.LeaveProcedure{Machine: w.machine("Apparitor").ID, Procedure: "load"}), "")
	w.want(w.steps("Archdeacon", "shutdown", ""), "")
	w.at = w.at.Add(2 * time.Hour)
	w.want(w.steps("Apparitor", "fuel", "shut"), "")
	w.want(w.say("Archdeacon", outing.Happen{Machine: w.machine("Archdeacon").ID, Event: "oil_lamp"}), "")
}

// TestNotPulledUnfastened: chained by the trailer's own steps, and not by those of what
// stands on it, it does not go on the road.
func TestNotPulledUnfastened(t *testing.T) {
	w := newConvoy(t, "Wayfarer", "Lancet")
	w.want(w.steps("Wayfarer", "load", "drive_on"), "")
	w.want(w.link("Lancet", outing.On, "Wayfarer"), "")
	w.want(w.runs("Lancet"), "")
	w.want(w.steps("Lancet", "load", "strapped"), "")
	w.want(w.steps("Wayfarer", "load", ""), "")
	w.want(w.steps("Wayfarer", "work", ""), "train.not_fastened")
	w.want(w.steps("Lancet", "load", ""), "")
	w.want(w.steps("Wayfarer", "work", ""), "")
}

// TestCoupledBeforeAPullerCame: what was coupled when nothing of ours could pull it goes on
// without being asked.
func TestCoupledBeforeAPullerCame(t *testing.T) {
	w := newConvoy(t, "Wayfarer")
	w.want(w.steps("Wayfarer", "load", "drive_on"), "")
	of := machinetest.Of(t, "tractor")
	w.must("maren", yard.AddMachine{Name: "Archdeacon", Bay: "3", Sheet: of.Hash, Hours: "100"})
	w.people["ida"] = outingtest.Schooled("ida", operator.Operator, of.Sheet, w.unit("Wayfarer").Sheet)
	w.goOut("Archdeacon")
	w.want(w.steps("Wayfarer", "load", ""), "")
}

// TestWithoutOneOfOurs: where nothing of ours pulls or carries, nobody is asked; where
// somebody said so, nothing is asked of anything.
func TestWithoutOneOfOurs(t *testing.T) {
	w := newConvoy(t, "Wayfarer", "Lancet")
	w.want(w.steps("Wayfarer", "load", "drive_on"), "")
	w.want(w.link("Lancet", outing.On, ""), "")
	w.want(w.runs("Lancet"), "")
	w.want(w.steps("Lancet", "load", ""), "")
	if is := w.fact("Wayfarer", "load"); is != "none" {
		t.Errorf("it stands on another trailer, and this one's load is %s", is)
	}
	w.want(w.say("Wayfarer", outing.Link{Machine: w.machine("Wayfarer").ID, How: outing.Behind, To: "nothing"}), "yard.no_such_machine")
	w.want(w.say("Wayfarer", outing.Link{Machine: w.machine("Wayfarer").ID, How: "under"}), "procedure.not_on_this_machine")
	w.want(w.say("Wayfarer", outing.Link{Machine: "nothing", How: outing.On}), "outing.unknown_machine")
}
