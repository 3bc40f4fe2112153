package outing_test

// Procedures and events as they are recorded in an outing.

import (
	"errors"
	"maps"
	"slices"
	"strings"
	"testing"
	"time"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/procedure"
	"vespers/core/record"
	"vespers/core/text"
)

// out is an outing of one machine that has just been released.
func out(t *testing.T, of machinetest.Resolved) *runner {
	t.Helper()
	r := newRunner(t, of)
	r.until(r.stage(outing.StageVerdict))
	r.must(outing.Release{})
	if !of.Sheet.HasEngine() && hasProcedure(of, "start") {
		r.follow("start") // no round has started it
	}
	return r
}

func hasProcedure(of machinetest.Resolved, id string) bool {
	return slices.ContainsFunc(of.Sheet.Procedures, func(p machine.Procedure) bool { return p.ID == id })
}

// now is when the next thing is said.
func (r *runner) now() time.Time { return morning.Add(time.Duration(r.n+1) * time.Second) }

// follow begins a procedure and answers all of it well; it gives what was asked.
func (r *runner) follow(id string) (asked []string) {
	r.t.Helper()
	r.must(outing.BeginProcedure{Machine: r.u().Machine, Procedure: id})
	return r.through()
}

// through answers what is open on the first machine until nothing is.
func (r *runner) through() (asked []string) {
	r.t.Helper()
	for {
		c, at, open := outingtest.Step(r.u(), r.now())
		if !open {
			return asked
		}
		r.n = max(r.n, int(at.Sub(morning).Seconds()))
		asked = append(asked, c.(outing.AnswerStep).Step)
		if r.must(c); len(asked) > 99 {
			r.t.Fatalf("it never ends: %v", asked)
		}
	}
}

// alone are the machines that go out by themselves; what is carried goes out with its
// carrier.
func alone(t *testing.T) (out []machinetest.Resolved) {
	for _, r := range machinetest.All(t) {
		if r.Sheet.Carrier == nil {
			out = append(out, r)
		}
	}
	return out
}

// TestADayOfEveryMachine: out, worked with, shut down, cleaned, greased, put away, in
// the order of the day; what has to come first is asked first, and the next outing
// begins with how it was left.
func TestADayOfEveryMachine(t *testing.T) {
	for _, of := range alone(t) {
		t.Run(of.Sheet.ID, func(t *testing.T) {
			r := out(t, of)
			u := r.u()
			fills := map[string]string{"battery": "charge", "none": "load"}[of.Sheet.Power]
			if fills == "" {
				fills = "fuel"
			}
			if of.Sheet.Power == "none" {
				if hasProcedure(of, "load") {
					r.follow("load") // it is taken out to carry something
				}
			} else if stands := u.Live(record.Meta{At: r.now()}).Stands(); stands["engine"] != "running" {
				t.Fatalf("after the running checks its engine is %s", stands["engine"])
			} else {
				r.refused(outing.BeginProcedure{Machine: "m", Procedure: fills}, "procedure.not_now")
			}
			uncoupled := func(u procedure.Unmet) bool { return u.Fact == "coupled" }
			if of.Sheet.HasEngine() && slices.ContainsFunc(r.u().Live(record.Meta{At: r.now()}).Unmet("work"), uncoupled) { // coupled and taken there first
				for _, id := range []string{"shutdown", "load", "unload", "start"} {
					r.follow(id)
				}
			}
			r.follow("work")
			r.refused(outing.End{}, "outing.shut_down_first")
			asked := r.follow("shutdown")
			if len(asked) < 3 && of.Sheet.Power != "none" || len(asked) < 2 {
				t.Errorf("it is shut down by %v", asked)
			}
			for _, id := range []string{"unload", "fuel", "charge", "clean", "grease", "store"} {
				if hasProcedure(of, id) && (id != "unload" || of.Sheet.Power == "none") {
					r.follow(id)
					if _, ended := r.u().Ended(id); !ended {
						t.Errorf("%s was not ended", id)
					}
				}
			}
			r.must(outing.End{})
			stood := r.o.End.Stood["m"]
			if stood["engine"] != "off" || stood["key"] != "out" || stood["walk"] != "" || stood["people"] != "unknown" {
				t.Errorf("it is left %v", stood)
			}
			next := outingtest.Machine("m", of)
			next.Stood, next.Worked = stood, morning.Add(-20*time.Hour)
			n := runnerOf(t, outingtest.Begin(t, "ida", next, nil))
			n.next()
			if fills == "load" {
				return // what is put on it is looked at first
			}
			n.follow(fills)
			if d := n.now().Sub(morning); d > 5*time.Minute {
				t.Errorf("fuelled cold it takes %v", d)
			}
		})
	}
}

// TestWhatRunsIsAskedForEverything: a crew that worked for an hour and told nothing
// is asked for each act that stops it.
func TestWhatRunsIsAskedForEverything(t *testing.T) {
	r := out(t, machinetest.Of(t, "zero_turn"))
	r.n += 3600
	asked := r.follow("shutdown")
	for _, act := range []string{"park", "brake", "deck_down", "engine_off", "key_out", "still"} {
		if !slices.Contains(asked, act) {
			t.Errorf("%s was passed over: %v", act, asked)
		}
	}
	if again := r.follow("shutdown"); slices.Contains(again, "engine_off") {
		t.Errorf("what is off is asked for again: %v", again)
	}
}

// TestWhatHappensIsNeverPassedOver: each event of each machine, out and untold, begins
// with an act and comes to its end by good answers; what halts, halts.
func TestWhatHappensIsNeverPassedOver(t *testing.T) {
	for _, of := range alone(t) {
		r := out(t, of)
		base, n := r.o, r.n
		for _, e := range of.Sheet.Events {
			t.Run(of.Sheet.ID+"/"+e.ID, func(t *testing.T) {
				r.o, r.n, r.t = base, n, t
				r.must(outing.Happen{Machine: "m", Event: e.ID})
				r.refused(outing.End{}, "procedure.end_event_first")
				asked := r.through()
				if len(asked) == 0 || asked[0] != e.Steps[0].ID && e.Steps[0].When == nil {
					t.Errorf("asked %v, and its first act is %s", asked, e.Steps[0].ID)
				}
				halts := procedure.After(e) == "halt" || procedure.After(e) == "return_only"
				verdict := r.o.Judge(r.now())
				if (verdict.Outcome == outing.Halted) != halts || (len(r.o.Defects()) == 1) != halts {
					t.Errorf("it is %s with %d defects", verdict.Outcome, len(r.o.Defects()))
				}
				if d := r.o.Defects(); halts && (d[0].Check != "event:"+e.ID || d[0].Finding.Grade != defect.Halt || d[0].By != "ida") {
					t.Errorf("%+v", d[0])
				}
				r.must(outing.Happen{Machine: "m", Event: e.ID})
				if n := len(r.o.Defects()); halts && n != 1 {
					t.Errorf("twice the same is %d defects", n)
				}
				r.through()
				r.home()
			})
		}
	}
}

// TestAHaltKeepsTheMachineIn: after what happened nothing is begun but putting away.
func TestAHaltKeepsTheMachineIn(t *testing.T) {
	r := out(t, machinetest.Of(t, "zero_turn"))
	r.must(outing.Happen{Machine: "m", Event: "struck"})
	r.through()
	for _, id := range []string{"start", "work"} {
		r.refused(outing.BeginProcedure{Machine: "m", Procedure: id}, "procedure.not_now")
	}
	if v := r.o.Judge(r.now()); v.Halts[0].Rule != "release.halt_by_event" {
		t.Errorf("%+v", v.Halts)
	}
	r.must(outing.End{}) // it stands where it stands, its engine off
	r = out(t, machinetest.Of(t, "zero_turn"))
	r.must(outing.Happen{Machine: "m", Event: "charge_lamp"})
	r.through()
	if v := r.o.Judge(r.now()); v.Outcome != outing.Halted || v.Halts[0].Rule != "release.home_by_event" {
		t.Errorf("%+v", v.Halts)
	}
	r.refused(outing.End{}, "outing.shut_down_first")
	// It is led to standing still and being put away, and to nothing else.
	for _, id := range []string{"shutdown", "store", ""} {
		if next := r.o.ComesNext(r.u(), record.Meta{At: r.now()}); next != id {
			t.Errorf("on Halt %q comes next, want %q", next, id)
		}
		if id != "" {
			r.follow(id)
		}
	}
}

// TestWhatComesNext: out and well, it is worked with and shut down; then it is
// fuelled before it is put away.
func TestWhatComesNext(t *testing.T) {
	r := out(t, machinetest.Of(t, "zero_turn"))
	for _, id := range []string{"work", "shutdown", "fuel"} {
		for n := 0; r.o.ComesNext(r.u(), record.Meta{At: r.now()}) != id; n++ {
			if n > 3 {
				t.Fatalf("%q never comes next", id)
			}
			r.follow(r.o.ComesNext(r.u(), record.Meta{At: r.now()}))
		}
		r.follow(id)
	}
}

// TestAWaitIsTheServers: it is over by the server's clock, from when the engine was
// set off; nobody waives it.
func TestAWaitIsTheServers(t *testing.T) {
	r := out(t, machinetest.Of(t, "zero_turn"))
	r.n += 1200
	r.follow("work")
	r.follow("shutdown")
	at := r.now()
	r.must(outing.BeginProcedure{Machine: "m", Procedure: "fuel"})
	var turn procedure.Turn
	for {
		turn, _ = r.u().Live(record.Meta{At: r.now()}).Turn(r.now())
		if !turn.Until.IsZero() {
			break
		}
		r.must(outing.AnswerStep{Machine: "m", Procedure: "fuel", Step: turn.Step.ID, Answer: turn.Answers[0]})
	}
	if d := turn.Until.Sub(at); d < 14*time.Minute || d > 15*time.Minute {
		t.Errorf("it cools for another %v", d)
	}
	cool := outing.AnswerStep{Machine: "m", Procedure: "fuel", Step: turn.Step.ID, Answer: "waited"}
	r.refused(cool, "procedure.waiting")
	cool.Sure = true
	r.refused(cool, "procedure.waiting")
	if len(turn.Meanwhile) == 0 || slices.ContainsFunc(turn.Meanwhile, func(s *machine.Step) bool { return s.ID == "touch_metal" || s.ID == "open" }) {
		t.Errorf("meanwhile %v", turn.Meanwhile)
	}
	fill := outing.AnswerStep{Machine: "m", Procedure: "fuel", Step: turn.Meanwhile[0].ID, Answer: "done"}
	r.must(fill)
	// a second device gives the same answer
	var refused *record.Refused
	if err := r.try(fill); !errors.As(err, &refused) || refused.Reason.Rule != "procedure.answered_already" || refused.Earlier == nil || refused.Earlier.Meta.By != "ida" {
		t.Errorf("the same step a second time: %v", err)
	}
	r.refused(outing.AnswerStep{Machine: "m", Procedure: "fuel", Step: turn.Step.ID, Answer: "yes"}, "procedure.no_answer")
	r.refused(outing.AnswerStep{Machine: "m", Procedure: "store", Step: "key_out", Answer: "done"}, "procedure.not_open")
	r.refused(outing.BeginProcedure{Machine: "m", Procedure: "clean"}, "procedure.other_open")
	// nobody answers for more than ten minutes: what nobody looks at any more is asked
	// anew, and the wait goes on
	r.n += 640
	asked := r.through()
	if r.now().Before(turn.Until) || !slices.Contains(asked, "cool") || asked[0] != "spot" || !slices.Contains(asked, "flames") {
		t.Errorf("fuelled at %v by %v", r.now(), asked)
	}
}

// TestWhoComesHomeIsNotCool: taken out again soon after it worked, a machine cools from
// when it was set off, whatever else of it has to be cold.
func TestWhoComesHomeIsNotCool(t *testing.T) {
	for _, of := range alone(t) {
		if of.Sheet.Power == "battery" || of.Sheet.Power == "none" {
			continue // no metal of it gets hot
		}
		for ago, cool := range map[time.Duration]bool{10 * time.Minute: false, 59 * time.Minute: false, 20 * time.Hour: true} {
			m := outingtest.Machine("m", of)
			m.Stood, m.Worked = machine.Facts{"brake": "set", "key": "out", "attachment": "down"}, morning.Add(-ago)
			r := runnerOf(t, outingtest.Begin(t, "ida", m, nil))
			live := r.u().Live(record.Meta{At: morning})
			if is := live.Stands()["metal"]; (is == "cool") != cool {
				t.Errorf("%s, %v after work its metal is %s", of.Sheet.ID, ago, is)
			}
			if at, _ := live.Since("engine"); !cool && !at.Equal(morning.Add(-ago)) && ago < of.Sheet.CoolsIn() {
				t.Errorf("%s: its engine is off since %v", of.Sheet.ID, at)
			}
		}
	}
}

// TestAClockThatJumps: a wait for fuel begins anew, and any other asks the person.
func TestAClockThatJumps(t *testing.T) {
	r := out(t, machinetest.Of(t, "zero_turn"))
	r.n += 1200
	r.follow("work")
	r.must(outing.BeginProcedure{Machine: "m", Procedure: "shutdown"})
	for {
		c, _, _ := outingtest.Step(r.u(), r.now())
		if c.(outing.AnswerStep).Answer == "waited" {
			break
		}
		r.must(c)
	}
	jump := r.now().Add(2 * time.Minute)
	say := func(c outing.Command, at time.Time) error {
		meta := record.Meta{ID: "j" + at.String(), By: "ida", At: at, Wrong: jump}
		events, err := outing.Decide(r.o, c, meta, r.crew)
		for _, e := range events {
			r.o = r.o.Apply(meta, e)
		}
		return err
	}
	idle := outing.AnswerStep{Machine: "m", Procedure: "shutdown", Step: "idle", Answer: "waited"}
	if err := say(idle, jump); rule(err) != "procedure.clock_jumped" {
		t.Errorf("by a clock that jumped: %v", err)
	}
	idle.Sure = true
	if err := say(idle, jump); err != nil {
		t.Errorf("and the person says it is over: %v", err)
	}
	for at := jump; ; at = at.Add(time.Second) {
		c, when, open := outingtest.Step(r.u(), at)
		if !open {
			break
		}
		if err := say(c, when); err != nil {
			t.Fatal(err)
		}
		at = when
	}
}

// TestOneEngineTurnsBoth: what is told of a tractor stands for the boom it carries.
func TestOneEngineTurnsBoth(t *testing.T) {
	tractor := outingtest.Machine("t", machinetest.Of(t, "tractor"))
	r := runnerOf(t, outingtest.Begin(t, "ida", outingtest.Machine("b", machinetest.Of(t, "boom_mower")), &tractor))
	r.until(r.stage(outing.StageVerdict))
	r.must(outing.Release{})
	boom, carrier := r.o.Unit("b"), r.o.Unit("t")
	for _, u := range []*outing.UnitState{boom, carrier} {
		if is := u.Live(record.Meta{At: r.now()}).Stands()["engine"]; is != "running" {
			t.Errorf("the engine of %s is %s", u.Machine, is)
		}
	}
	for r.o.NotParked() != nil {
		c, at := outingtest.Home(r.o, r.now())
		r.n = max(r.n, int(at.Sub(morning).Seconds()))
		r.must(c)
		is := []string{}
		for _, u := range r.o.Units {
			is = append(is, u.Live(record.Meta{At: r.now()}).Stands()["engine"])
		}
		if is[0] != is[1] {
			t.Fatalf("after %+v the one engine is %v", c, is)
		}
	}
	r.must(outing.End{})
	if len(r.o.End.Stood) != 2 {
		t.Errorf("%v", r.o.End.Stood)
	}
}

// TestNothingIsStartedOverAnOpenTank: what keeps a machine from being started keeps it
// from its round.
func TestNothingIsStartedOverAnOpenTank(t *testing.T) {
	of := machinetest.Of(t, "zero_turn")
	m := outingtest.Machine("m", of)
	m.Stood, m.Worked = machine.Facts{"brake": "set", "key": "out", "attachment": "down"}, morning.Add(-20*time.Hour)
	r := runnerOf(t, outingtest.Begin(t, "ida", m, nil))
	r.until(r.stage(outing.StageRound))
	r.must(outing.BeginProcedure{Machine: "m", Procedure: "fuel"})
	begin := outingtest.InPlace(r.u().Round)
	r.refused(begin, "procedure.end_it_first")
	for {
		c, _, _ := outingtest.Step(r.u(), r.now())
		r.must(c)
		if c.(outing.AnswerStep).Step == "open" {
			break
		}
	}
	r.must(outing.LeaveProcedure{Machine: "m", Procedure: "fuel"})
	r.refused(begin, "procedure.not_to_be_started")
	r.follow("fuel")
	if is := r.u().Live(record.Meta{At: r.now()}).Stands(); is["cap"] != "shut" || is["from_fuel"] != "moved" {
		t.Errorf("fuelled it stands %v", is)
	}
	r.must(begin)
	r.must(outing.BeginProcedure{Machine: "m", Procedure: "fuel"}) // it may run dry before it is started
	r.through()
	r.refused(outing.BeginProcedure{Machine: "m", Procedure: "shutdown"}, "procedure.round_runs")
}

// TestWhoTakesOverLooksAnew: a hand-over closes what is open, and nobody looks any
// more.
func TestWhoTakesOverLooksAnew(t *testing.T) {
	r := out(t, machinetest.Of(t, "zero_turn"))
	r.must(outing.BeginProcedure{Machine: "m", Procedure: "work"})
	for range 4 {
		c, _, _ := outingtest.Step(r.u(), r.now())
		r.must(c)
	}
	r.must(outing.HandOver{To: "otto"})
	live := r.u().Live(record.Meta{At: r.now()})
	if live.Open() != "" || live.Stands()["people"] != "unknown" || live.Stands()["person"] == "in_place" {
		t.Errorf("%s is open and it stands %v", live.Open(), live.Stands())
	}
	r.by = "otto"
	r.refused(outing.BeginProcedure{Machine: "m", Procedure: "work"}, "outing.ready_first")
	r.must(outing.Happen{Machine: "m", Event: "hurt"}) // that is never refused
}

// TestAStepFindsAFault: a chipper whose stop bar does not stop it is on Halt, by its
// point; the machine is not fed.
func TestAStepFindsAFault(t *testing.T) {
	r := out(t, machinetest.Of(t, "disc_chipper"))
	r.must(outing.BeginProcedure{Machine: "m", Procedure: "work"})
	for range 20 {
		turn, open := r.u().Live(record.Meta{At: r.now()}).Turn(r.now())
		if !open {
			t.Fatal("nothing finds a fault")
		}
		with := turn.Answers[0]
		found := turn.Step.No != nil && turn.Step.No.Finding != nil
		if found {
			with = turn.Answers[1]
		}
		r.n = max(r.n, int(turn.Until.Sub(morning).Seconds()))
		r.must(outing.AnswerStep{Machine: "m", Procedure: "work", Step: turn.Step.ID, Answer: with})
		if found {
			break
		}
	}
	d := r.o.Defects()
	if len(d) != 1 || d[0].Check != "stop_bar" || d[0].Fault != "tied" || d[0].Finding.Grade != defect.Halt {
		t.Fatalf("%+v", d)
	}
	if open := r.u().Live(record.Meta{At: r.now()}).Open(); open != "" {
		t.Errorf("%s goes on", open)
	}
	r.refused(outing.BeginProcedure{Machine: "m", Procedure: "work"}, "procedure.not_now")
}

// TestWhatCannotHappenHere is refused, and so is a machine that is not there.
func TestWhatCannotHappenHere(t *testing.T) {
	r := out(t, machinetest.Of(t, "petrol_chainsaw"))
	r.refused(outing.Happen{Machine: "m", Event: "tips"}, "procedure.not_on_this_machine")
	for _, c := range []outing.Command{outing.Happen{Machine: "x", Event: "hurt"}, outing.BeginProcedure{Machine: "x", Procedure: "start"},
		outing.AnswerStep{Machine: "x"}, outing.LeaveProcedure{Machine: "x"}} {
		r.refused(c, "outing.unknown_machine")
	}
	r.refused(outing.BeginProcedure{Machine: "m", Procedure: "charge"}, "procedure.not_open")
	r.refused(outing.LeaveProcedure{Machine: "m"}, "procedure.not_open")
}

// TestWordsForEveryFact: a refusal names how a fact stands by a key of its own.
func TestWordsForEveryFact(t *testing.T) {
	seen := map[string]text.Key{}
	for _, f := range procedure.Facts() {
		for _, is := range f.Values {
			key := procedure.FactKey(f.ID, is)
			seen[key] = text.Key(key)
			if !strings.HasPrefix(key, "fact."+f.ID+".") {
				t.Errorf("%s = %s is told as %s", f.ID, is, key)
			}
		}
	}
	if len(seen) < 70 || len(slices.Collect(maps.Keys(seen))) != len(seen) || procedure.FactKey("hood", "shut") != "fact.own" {
		t.Errorf("%d keys", len(seen))
	}
}

// TestAFoldSeesTheRecordAlone: begun while the clock was wrong, which a lead puts right
// then, a procedure waits as long at once as read again.
func TestAFoldSeesTheRecordAlone(t *testing.T) {
	r := out(t, machinetest.Of(t, "zero_turn"))
	r.n += 1200
	r.follow("shutdown")
	meta := record.Meta{ID: "f", By: "ida", At: r.now(), Wrong: r.now()}
	var command outing.Command = outing.BeginProcedure{Machine: "m", Procedure: "fuel"}
	now, again := r.o, r.o
	for range 9 {
		events, err := outing.Decide(again, command, meta, r.crew)
		if err != nil {
			t.Fatal(err)
		}
		read := meta
		read.Wrong = time.Time{}
		now, again = now.Apply(meta, events[0]), again.Apply(read, events[0])
		meta = read // it is right again
		meta.At = meta.At.Add(time.Second)
		a, _ := now.Units[0].Live(meta).Turn(meta.At)
		b, _ := again.Units[0].Live(meta).Turn(meta.At)
		if a.Step != b.Step || !a.Until.Equal(b.Until) {
			t.Fatalf("at once until %v, read again until %v", a.Until, b.Until)
		}
		if !b.Until.IsZero() {
			return
		}
		command = outing.AnswerStep{Machine: "m", Procedure: "fuel", Step: b.Step.ID, Answer: b.Answers[0]}
	}
	t.Error("nothing waits")
}

// TestWhatHappensInARoundLeavesItUnwatched: who goes on is told how everything has to
// stand first.
func TestWhatHappensInARoundLeavesItUnwatched(t *testing.T) {
	r := newRunner(t, machinetest.Of(t, "zero_turn"))
	r.until(r.stage(outing.StageRound))
	r.next()
	r.next()
	if _, _, left := r.u().Round.WasLeft(r.now(), r.o.Unwatched(r.u())); left {
		t.Fatal("left while somebody is at it")
	}
	r.must(outing.Happen{Machine: "m", Event: "people_in"})
	if _, _, left := r.u().Round.WasLeft(r.now(), r.o.Unwatched(r.u())); !left {
		t.Error("something happened, and it goes on as if nothing had")
	}
}
