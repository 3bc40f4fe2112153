package procedure

import (
	"math/rand"
	"slices"
	"testing"
	"time"

	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/text"
)

var dawn = time.Date(2026, 11, 26, 6, 0, 0, 0, time.UTC)

// TestLiveStaysWithinWhatWasFollowed: whatever is begun, answered, left or happens in
// service, at whatever time, stands at a state that the check has followed.
func TestLiveStaysWithinWhatWasFollowed(t *testing.T) {
	for _, r := range machinetest.Whole(t) {
		s := r.Sheet
		m := newModel(s, Way{})
		x := &explorer{m: m, report: &Report{Complete: true}, states: newStates(), most: StatesMost, answered: map[string]bool{}, stacks: [][]int{nil}}
		for _, h := range every(s) {
			x.report.Hazards = append(x.report.Hazards, HazardFound{ID: h.ID, Holds: true})
		}
		x.explore()
		random, answers, ended := rand.New(rand.NewSource(1)), 0, 0
		for range 150 {
			l, now := NewLive(s, Way{}), dawn
			for range 80 {
				now = now.Add(time.Duration(random.ExpFloat64() * float64(2*time.Minute)))
				before := l
				l = l.At(now)
				l = act(l, random, now, &answers, &ended)
				if _, fresh := x.states.add(state{l.w, l.open}); fresh {
					t.Fatalf("%s: nobody followed %v with %q open, from %v with %q open", s.ID, l.Stands(), l.Open(), before.Stands(), before.Open())
				}
			}
		}
		if answers < 1000 || ended < 50 {
			t.Errorf("%s: only %d answers, %d ended", s.ID, answers, ended)
		}
	}
}

// act does something at random.
func act(l *Live, random *rand.Rand, now time.Time, answers, ended *int) *Live {
	stands := l.Stands()
	if l.Open() == "" {
		for part, fact := range outingFacts {
			if (part == 0 || stands[outingFacts[part-1]] == "passed") && stands[fact] != "passed" && (stands["engine"] == "running") == (part >= 2) {
				return l.Know(machine.Facts{fact: "passed"}, nil)
			}
		}
	}
	if random.Intn(60) == 0 {
		return l.Left(now)
	}
	if random.Intn(40) == 0 && !l.inEvent() {
		_, events := l.Choices()
		next, _ := l.Happen(events[random.Intn(len(events))].ID, now)
		return next
	}
	turn, open := l.Turn(now)
	switch {
	case !open:
		procedures, _ := l.Choices()
		next, _ := l.Start(procedures[random.Intn(len(procedures))].ID, now)
		return next
	case turn.Step == nil:
		next, _ := l.Finish(now)
		*ended++
		return next
	}
	id := turn.Step.ID
	if len(turn.Meanwhile) > 0 {
		id = turn.Meanwhile[random.Intn(len(turn.Meanwhile))].ID
	}
	a := turn.Answers[0]
	if id != turn.Step.ID {
		a = "done"
	} else if random.Intn(6) == 0 {
		a = turn.Answers[len(turn.Answers)-1]
	}
	next, _, refused := l.Answer(id, a, false, now)
	if refused == nil {
		*answers++
	}
	return next
}

func (l *Live) inEvent() bool { return !l.open.none() && l.m.runs[l.open.run()].event }

// TestWaitsKeepTheirTime: a wait runs from a stored moment, whoever asks; an early
// answer is refused with the time; a long pause makes who waited look again.
func TestWaitsKeepTheirTime(t *testing.T) {
	l := NewLive(can(), Way{}).Know(nil, nil)
	l = ok(t)(l.Start("fuel", dawn))
	l = gives(t, l, "key", "done", dawn)
	l = gives(t, l, "here", "yes", dawn.Add(time.Minute))
	turn, _ := l.Turn(dawn.Add(2 * time.Minute))
	if !turn.Until.Equal(dawn.Add(16*time.Minute)) || len(turn.Meanwhile) != 1 || turn.Meanwhile[0].ID != "can_down" {
		t.Errorf("%+v", turn)
	}
	if _, _, refused := l.Answer("cool", "waited", true, dawn.Add(15*time.Minute)); refused == nil || refused.Rule != RuleWaiting {
		t.Errorf("early: %v", refused)
	}
	if _, _, refused := l.Answer("open", "done", false, dawn.Add(2*time.Minute)); refused == nil || refused.Rule != RuleNoStep {
		t.Errorf("the cap over hot metal: %v", refused)
	}
	l = gives(t, l, "can_down", "done", dawn.Add(3*time.Minute))
	// Ten minutes and more without an answer while it waits: it asks where it stands
	// again, and the wait is over.
	later := dawn.Add(17 * time.Minute)
	if l = l.At(later); l.Open() != "fuel" || l.Stands()["place"] != "unknown" || l.Stands()["can"] != "ground" {
		t.Errorf("%q %v", l.Open(), l.Stands())
	}
	if turn, _ := l.Turn(later); turn.Step.ID != "here" || turn.Behind != 1 {
		t.Errorf("%+v", turn)
	}
	l = gives(t, l, "here", "yes", later)
	l = gives(t, l, "cool", "waited", later)
	// And where nothing waits, it is closed.
	if gone := l.At(later.Add(11 * time.Minute)); gone.Open() != "" || gone.Stands()["level"] != "unknown" {
		t.Errorf("%q %v", gone.Open(), gone.Stands())
	}
	l = gives(t, l, "open", "done", later)
	l = gives(t, l, "shut", "done", later)
	if turn, open := l.Turn(later); !open || turn.Step != nil {
		t.Errorf("%+v", turn)
	}
	if l = ok(t)(l.Finish(later)); l.Open() != "" || l.Stands()["cap"] != "shut" {
		t.Errorf("%v", l.Stands())
	}
}

// TestAClockThatJumps: for fuel a wait that spans the jump begins again there;
// elsewhere the person says that it is over.
func TestAClockThatJumps(t *testing.T) {
	s := can()
	s.Procedures = append(s.Procedures, machine.Procedure{ID: "store", Steps: []machine.Step{doing("rest", func(st *machine.Step) {
		st.Answer, st.Wait = "wait", &machine.Wait{Seconds: 600, Since: machine.Facts{"engine": "off"}}
	})}})
	off := map[string]time.Time{"engine=off": dawn}
	l := NewLive(s, Way{}).Know(machine.Facts{"engine": "off", "key": "out"}, off).Jumped(dawn.Add(time.Hour))
	now := dawn.Add(time.Hour + time.Minute)
	fuelling := gives(t, ok(t)(l.Start("fuel", now)), "here", "yes", now)
	if turn, _ := fuelling.Turn(now); !turn.Until.Equal(dawn.Add(75 * time.Minute)) {
		t.Errorf("%v", turn.Until)
	}
	stored := ok(t)(l.Start("store", now))
	if turn, _ := stored.Turn(now); !turn.Until.IsZero() || !turn.Unsure {
		t.Errorf("%+v", turn)
	}
	if _, _, refused := stored.Answer("rest", "waited", false, now); refused == nil || refused.Rule != RuleUnsure {
		t.Errorf("%v", refused)
	}
	if _, _, refused := stored.Answer("rest", "waited", true, now); refused != nil {
		t.Errorf("%v", refused)
	}
}

// TestMetalGrowsHot: after a minute of running since it was cool, moves added up.
func TestMetalGrowsHot(t *testing.T) {
	s := can()
	s.Procedures = []machine.Procedure{{ID: "start", Steps: []machine.Step{doing("on", makes("engine", "running"))}}, {ID: "shutdown", Steps: []machine.Step{doing("off", makes("engine", "off"))}}}
	l := NewLive(s, Way{}).Know(machine.Facts{"metal": "cool"}, nil)
	at := dawn
	move := func(run string, step string, after time.Duration) {
		at = at.Add(after)
		l = gives(t, ok(t)(l.At(at).Start(run, at)), step, "done", at)
		l = ok(t)(l.Finish(at))
	}
	move("start", "on", 0)
	move("shutdown", "off", 40*time.Second)
	if l = l.At(at.Add(time.Hour)); l.Stands()["metal"] != "cool" {
		t.Error("hot after forty seconds")
	}
	move("start", "on", time.Minute)
	if l.At(at.Add(19 * time.Second)).Stands()["metal"] != "cool" || l.At(at.Add(20 * time.Second)).Stands()["metal"] != "hot" {
		t.Error("a second move does not add up to a minute")
	}
}

// TestEventsInService: an event closes what is open; one during another begins at
// once, and the first begins again after it; what did not occur is refused.
func TestEventsInService(t *testing.T) {
	s := can()
	s.Events = []machine.Event{
		{ID: "fire", After: "halt", Steps: []machine.Step{doing("off", func(st *machine.Step) { st.Ask, st.Makes = "always", machine.Facts{"engine": "off"} })}},
		{ID: "lamp", Occurs: machine.Needs{"engine": {"running"}}, Steps: []machine.Step{doing("off", makes("engine", "off"))}},
		{ID: "hurt", Steps: []machine.Step{doing("call", nil)}},
	}
	l := ok(t)(NewLive(s, Way{}).Start("fuel", dawn))
	if _, refused := l.Happen("event:lamp", dawn); refused == nil || refused.Rule != RuleNotNow {
		t.Errorf("%v", refused)
	}
	if _, refused := l.Happen("event:flood", dawn); refused == nil || refused.Rule != RuleNotOpen {
		t.Errorf("%v", refused)
	}
	if _, refused := l.Start("fuel", dawn); refused == nil || refused.Rule != RuleOpen {
		t.Errorf("%v", refused)
	}
	l = ok(t)(l.Happen("event:fire", dawn))
	l = ok(t)(l.Happen("event:hurt", dawn))
	if l.Open() != "event:hurt" {
		t.Errorf("%q is open", l.Open())
	}
	l = ok(t)(gives(t, l, "call", "done", dawn).Finish(dawn))
	if l.Open() != "event:fire" {
		t.Errorf("after it %q is open", l.Open())
	}
	l = ok(t)(gives(t, l, "off", "done", dawn).Finish(dawn))
	if l.Open() != "" || !slices.Contains([]string{"unknown"}, l.Stands()["place"]) {
		t.Errorf("%q %v", l.Open(), l.Stands())
	}
	if _, _, refused := l.Answer("off", "done", false, dawn); refused == nil {
		t.Error("answered with nothing open")
	}
}

// TestLeavingAnEvent: it starts again at its own first step, and nobody looks any more.
func TestLeavingAnEvent(t *testing.T) {
	s := can()
	s.Events = []machine.Event{{ID: "hurt", Steps: []machine.Step{doing("call", nil), doing("aid", nil)}}}
	l := ok(t)(NewLive(s, Way{}).Know(machine.Facts{"people": "clear", "person": "in_place", "place": "open_shed"}, nil).Happen("event:hurt", dawn))
	l = gives(t, l, "call", "done", dawn)
	if turn, _ := l.Turn(dawn); turn.Step.ID != "aid" {
		t.Errorf("%+v", turn)
	}
	l = l.At(dawn.Add(11 * time.Minute))
	if turn, open := l.Turn(dawn); !open || turn.Step.ID != "call" {
		t.Errorf("after it was left: %+v", turn)
	}
	if stands := l.Stands(); stands["people"] != "unknown" || stands["person"] != "beside" || stands["place"] != "unknown" {
		t.Errorf("%v", stands)
	}
}

// TestAnswersThatAreNone: only its own answers are taken, each step once.
func TestAnswersThatAreNone(t *testing.T) {
	l := ok(t)(NewLive(can(), Way{}).Start("fuel", dawn))
	for _, c := range []struct {
		id, with string
		rule     text.Rule
	}{{"key", "yes", RuleNoAnswer}, {"key", "maybe", RuleNoAnswer}, {"here", "yes", RuleNoStep}, {"lid", "done", RuleNoStep}} {
		if _, _, refused := l.Answer(c.id, c.with, false, dawn); refused == nil || refused.Rule != c.rule {
			t.Errorf("%s=%s: %v", c.id, c.with, refused)
		}
	}
	l = gives(t, l, "key", "done", dawn)
	if _, _, refused := l.Answer("key", "done", false, dawn); refused == nil {
		t.Error("answered twice")
	}
	if next, o, refused := l.Answer("here", "no", false, dawn); refused != nil || !o.Stopped || !o.Ended || next.Open() != "" {
		t.Errorf("%+v %v", o, refused)
	}
}

func ok(t *testing.T) func(*Live, *text.Reason) *Live {
	t.Helper()
	return func(l *Live, refused *text.Reason) *Live {
		t.Helper()
		if refused != nil {
			t.Fatalf("refused: %+v", refused)
		}
		return l
	}
}

func gives(t *testing.T, l *Live, id, with string, now time.Time) *Live {
	t.Helper()
	next, _, refused := l.Answer(id, with, false, now)
	if refused != nil {
		t.Fatalf("%s=%s: refused: %+v", id, with, refused)
	}
	return next
}

// TestIdlingForLongIsSaid: a longest time warns, from when the engine runs.
func TestIdlingForLongIsSaid(t *testing.T) {
	s := machinetest.Of(t, "zero_turn").Sheet
	now := time.Date(2026, 5, 4, 7, 0, 0, 0, time.UTC)
	l := NewLive(s, Way{}).Know(machine.Facts{"engine": "off", "walk": "passed", "refusals": "passed", "cap": "shut", "can": "away", "spill": "none"}, nil)
	l, refused := l.Start("start", now)
	if refused != nil {
		t.Fatal(refused.Rule)
	}
	for {
		turn, _ := l.Turn(now)
		if turn.Step.ID == "warm" {
			break
		}
		if l, _, refused = l.Answer(turn.Step.ID, turn.Answers[0], false, now); refused != nil {
			t.Fatal(turn.Step.ID, refused.Rule)
		}
	}
	for minutes, want := range map[int]bool{1: false, 5: false, 6: true} {
		if _, _, too := l.TooLong(now.Add(time.Duration(minutes) * time.Minute)); too != want {
			t.Errorf("after %d minutes: %v", minutes, too)
		}
	}
}
