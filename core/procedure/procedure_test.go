package procedure

import (
	"reflect"
	"slices"
	"strings"
	"testing"

	"vespers/core/machine"
	"vespers/core/text"
)

func says(s string) text.Text { return text.Text{EN: s, ES: s} }

func doing(id string, change func(*machine.Step)) machine.Step {
	s := machine.Step{ID: id, Do: says(id)}
	if change != nil {
		change(&s)
	}
	return s
}

func makes(fact, is string) func(*machine.Step) {
	return func(s *machine.Step) { s.Makes = machine.Facts{fact: is} }
}

// can is a small machine that is fuelled: cooled, cap open, cap shut.
func can() *machine.Sheet {
	return &machine.Sheet{ID: "can", Power: "petrol", Numbers: []machine.Parameter{{ID: "cool_before_fuel", Value: 15, Unit: "min"}},
		Options: []machine.Option{{ID: "lock", Choices: []machine.OptionChoice{{ID: "none"}, {ID: "fitted"}}}},
		Procedures: []machine.Procedure{{ID: "fuel", Begin: machine.Needs{"engine": {"off"}}, Steps: []machine.Step{
			doing("key", makes("key", "out")),
			doing("here", func(s *machine.Step) {
				s.Answer, s.Makes = "yes_no", machine.Facts{"place": "outdoors", "level": "yes", "ignition": "none"}
				s.No = &machine.No{Then: "stop"}
			}),
			doing("cool", func(s *machine.Step) {
				s.Answer, s.Makes = "wait", machine.Facts{"metal": "cool"}
				s.Wait = &machine.Wait{Parameter: "cool_before_fuel", Since: machine.Facts{"engine": "off"}}
			}),
			doing("unlock", func(s *machine.Step) { s.If = machine.If{"lock": {"fitted"}} }),
			doing("can_down", makes("can", "ground")),
			doing("open", func(s *machine.Step) {
				s.Makes = machine.Facts{"cap": "open", "from_fuel": "near"}
				s.Needs = machine.Needs{"metal": {"cool"}, "key": {"out"}, "can": {"ground"}, "engine": {"off"}, "place": {"outdoors"}, "level": {"yes"}, "ignition": {"none"}}
			}),
			doing("shut", makes("cap", "shut")),
		}}}}
}

// TestAHazardThatIsReached: without its need the cap is opened over hot metal while
// the wait still runs, since order alone guards nothing then.
func TestAHazardThatIsReached(t *testing.T) {
	s := can()
	if r := Check(s); !r.Sound() || r.States == 0 {
		t.Fatalf("sound, it is not: %+v", r)
	}
	steps := s.Procedures[0].Steps
	delete(steps[5].Needs, "metal")
	r := Check(s)
	hot := r.Hazards[slices.IndexFunc(r.Hazards, func(h HazardFound) bool { return h.ID == "cap_hot" })]
	want := []string{"fuel/begin", "fuel/key=done", "fuel/here=yes", "fuel/can_down=done", "fuel/open=done"}
	if hot.Holds || !hot.Applies || !reflect.DeepEqual(hot.Path, want) || r.Sound() {
		t.Errorf("%+v", hot)
	}
}

// TestADeadEnd: a step that needs what nothing in its procedure makes.
func TestADeadEnd(t *testing.T) {
	s := can()
	s.Procedures[0].Steps[6].Needs = machine.Needs{"person": {"beside"}}
	r := Check(s)
	if len(r.DeadEnds) != 1 || r.DeadEnds[0].At != "fuel/shut" || !slices.Equal(r.DeadEnds[0].Because, []string{"person=away"}) || r.Sound() {
		t.Errorf("%+v", r.DeadEnds)
	}
}

// TestPlan: what is already true is left out, waits run from their stored moment,
// and what can be done meanwhile is, after its wait.
func TestPlan(t *testing.T) {
	ids := func(p Plan) (out []string) {
		for _, s := range p.Steps {
			out = append(out, s.Procedure+"/"+s.ID+"="+s.Answer)
		}
		return out
	}
	fresh := MakePlan(can(), "fuel", Given{})
	want := []string{"fuel/key=done", "fuel/here=yes", "fuel/cool=waited", "fuel/can_down=done", "fuel/open=done", "fuel/shut=done"}
	if !slices.Equal(ids(fresh), want) {
		t.Errorf("%v", ids(fresh))
	}
	// Nobody stored when the engine went off: 900 s from when the step becomes current,
	// 15 of them filled, and 15 for each of the others.
	if *fresh.Steps[2].Wait != 900 || !slices.Equal(fresh.Steps[2].Meanwhile, []string{"fuel/can_down"}) || fresh.Seconds != 30+900+15+30 || fresh.WaitingSeconds != 885 {
		t.Errorf("%+v", fresh)
	}
	stored := MakePlan(can(), "fuel", Given{Facts: machine.Facts{"key": "out"}, Since: map[string]float64{"engine=off": 600}, Options: machine.Chosen{"lock": "fitted"}})
	if *stored.Steps[1].Wait != 900-600-15 || stored.Steps[2].ID != "unlock" || stored.Steps[0].ID != "here" {
		t.Errorf("%v %+v", ids(stored), stored.Steps[1])
	}
	cool := MakePlan(can(), "fuel", Given{Facts: machine.Facts{"metal": "cool"}})
	if slices.Contains(ids(cool), "fuel/cool=waited") || cool.WaitingSeconds != 0 {
		t.Errorf("%v", ids(cool))
	}
	running := MakePlan(can(), "fuel", Given{Facts: machine.Facts{"engine": "running"}})
	if running.Impossible != "fuel" || running.Steps == nil || len(running.Steps) > 0 {
		t.Errorf("%+v", running)
	}
	s := can()
	s.Procedures = append(s.Procedures, machine.Procedure{ID: "shutdown", Steps: []machine.Step{doing("off", makes("engine", "off"))}})
	if with := MakePlan(s, "fuel", Given{Facts: machine.Facts{"engine": "running", "metal": "cool"}}); ids(with)[0] != "shutdown/off=done" || *with.Steps[3].Wait != 900-30 {
		t.Errorf("%v", ids(with)) // the metal is hot, since it ran, and cools from when it went off
	}
	if _, _, wrong := PlanRefused(s, "event:fire", Given{}); !wrong {
		t.Error("an event that the sheet has not was planned")
	}
	for field, g := range map[string]Given{
		"/facts/cap": {Facts: machine.Facts{"cap": "ajar"}}, "/since/engine=off": {Since: map[string]float64{"engine=off": -1}},
		"/house/clearing": {House: House{"clearing": "by_hand"}}, "/options/if": {Options: machine.Chosen{"lock": "open"}},
	} {
		if at, _, wrong := PlanRefused(s, "fuel", g); !wrong || at != field {
			t.Errorf("%s: %s %v", field, at, wrong)
		}
	}
}

// TestAWaitBeginsAnew: a fact that is left and taken again counts from then.
func TestAWaitBeginsAnew(t *testing.T) {
	s := can()
	s.Procedures[0].Begin = nil
	s.Procedures[0].Steps = append([]machine.Step{doing("on", makes("engine", "running")), doing("off", makes("engine", "off"))}, s.Procedures[0].Steps...)
	plan := MakePlan(s, "fuel", Given{Facts: machine.Facts{"person": "in_place", "people": "clear", "brake": "set"}, Since: map[string]float64{"engine=off": 9000}})
	if plan.Impossible == "" { // it would start near its fuel
		t.Fatalf("%+v", plan)
	}
	s.Power, s.Fitted = "carrier", []string{"metal", "ignition"}
	for i := range s.Procedures[0].Steps {
		st := &s.Procedures[0].Steps[i]
		for _, f := range []string{"cap", "can", "from_fuel"} {
			delete(st.Makes, f)
			delete(st.Needs, f)
		}
	}
	given := Given{Facts: machine.Facts{"person": "in_place", "people": "clear", "place": "outdoors", "walk": "passed", "refusals": "passed"}, Since: map[string]float64{"engine=off": 9000}}
	plan = MakePlan(s, "fuel", given)
	i := slices.IndexFunc(plan.Steps, func(p Planned) bool { return p.ID == "cool" })
	if i < 0 || *plan.Steps[i].Wait != 900-30 {
		t.Errorf("%+v", plan)
	}
}

// TestProblems: what cannot be used is refused, where it stands.
func TestProblems(t *testing.T) {
	first := func(s *machine.Sheet) *machine.Step { return &s.Procedures[0].Steps[0] }
	for name, c := range map[string]struct {
		change func(*machine.Sheet)
		at     string
		rule   text.Rule
	}{
		"a fact it has not":          {func(s *machine.Sheet) { first(s).Makes = machine.Facts{"cutter": "off"} }, "/procedures/0/steps/0/makes/cutter", machine.RuleUnknown},
		"a value there is not":       {func(s *machine.Sheet) { first(s).Needs = machine.Needs{"key": {"lost"}} }, "/procedures/0/steps/0/needs/key", machine.RuleUnknown},
		"a need of nothing":          {func(s *machine.Sheet) { first(s).Needs = machine.Needs{"key": {}} }, "/procedures/0/steps/0/needs/key", ruleFactValues},
		"passing the walk":           {func(s *machine.Sheet) { first(s).Makes = machine.Facts{"walk": "passed"} }, "/procedures/0/steps/0/makes/walk", ruleReadOnly},
		"a world that passes it":     {func(s *machine.Sheet) { s.Events[0].World = machine.Facts{"released": "passed"} }, "/events/0/world/released", ruleReadOnly},
		"a question without no":      {func(s *machine.Sheet) { first(s).Answer = "yes_no" }, "/procedures/0/steps/0", ruleNeedsNo},
		"no without a question":      {func(s *machine.Sheet) { first(s).No = &machine.No{Then: "stay"} }, "/procedures/0/steps/0/no", ruleWithoutNo},
		"waiting without a wait":     {func(s *machine.Sheet) { first(s).Answer = "wait" }, "/procedures/0/steps/0/answer", ruleNeedsWait},
		"a wait of two times":        {func(s *machine.Sheet) { s.Procedures[0].Steps[2].Wait.Seconds = 3 }, "/procedures/0/steps/2/wait", ruleWaitTime},
		"an unknown parameter":       {func(s *machine.Sheet) { s.Procedures[0].Steps[2].Wait.Parameter = "nap" }, "/procedures/0/steps/2/wait/parameter", machine.RuleUnknown},
		"a parameter in metres":      {func(s *machine.Sheet) { s.Numbers[0].Unit = "m" }, "/procedures/0/steps/2/wait/parameter", ruleNotTime},
		"a parameter of 0":           {func(s *machine.Sheet) { s.Numbers[0].Value = 0 }, "/procedures/0/steps/2/wait/parameter", ruleNotTime},
		"back to a later step":       {func(s *machine.Sheet) { s.Procedures[0].Steps[1].No.Then = "back:open" }, "/procedures/0/steps/1/no/then", machine.RuleUnknown},
		"to an unknown event":        {func(s *machine.Sheet) { s.Procedures[0].Steps[1].No.Then = "event:flood" }, "/procedures/0/steps/1/no/then", machine.RuleUnknown},
		"accepting another hazard":   {func(s *machine.Sheet) { s.Events[0].Accepts = []string{"cap_hot"} }, "/events/0/accepts/0", machine.RuleUnknown},
		"a step twice":               {func(s *machine.Sheet) { s.Procedures[0].Steps[1].ID = "key" }, "/procedures/0/steps/1/id", machine.RuleDuplicate},
		"an event twice":             {func(s *machine.Sheet) { s.Events = append(s.Events, s.Events[0]) }, "/events/1/id", machine.RuleDuplicate},
		"a house rule there is not":  {func(s *machine.Sheet) { first(s).School = &machine.School{Question: "tea"} }, "/procedures/0/steps/0/school", machine.RuleUnknown},
		"a choice there is not":      {func(s *machine.Sheet) { first(s).School = &machine.School{Question: "clearing", Choice: "tea"} }, "/procedures/0/steps/0/school", machine.RuleUnknown},
		"an option there is not":     {func(s *machine.Sheet) { first(s).If = machine.If{"roof": {"on"}} }, "/procedures/0/steps/0/if", machine.RuleUnknown},
		"a way there is not":         {func(s *machine.Sheet) { first(s).If = machine.If{"lock": {"on"}} }, "/procedures/0/steps/0/if", machine.RuleUnknown},
		"an expression":              {func(s *machine.Sheet) { s.Hazards[0].When = "key == " }, "/hazards/0/when", ruleExpression},
		"an expression of nothing":   {func(s *machine.Sheet) { s.Hazards[0].When = "cutter == on" }, "/hazards/0/when", machine.RuleUnknown},
		"an answer there is not":     {func(s *machine.Sheet) { s.Hazards[0].When = "answer == maybe" }, "/hazards/0/when", machine.RuleUnknown},
		"at a fact it has not":       {func(s *machine.Sheet) { s.Hazards[0].At = "cutter" }, "/hazards/0/at", machine.RuleUnknown},
		"a hazard of the table":      {func(s *machine.Sheet) { s.Hazards[0].ID = "cap_hot" }, "/hazards/0/id", machine.RuleDuplicate},
		"a shared fact as its own":   {func(s *machine.Sheet) { s.Own = map[string][]string{"key": {"a", "b"}} }, "/facts/key", machine.RuleDuplicate},
		"a fact of one value":        {func(s *machine.Sheet) { s.Own = map[string][]string{"hood": {"shut"}} }, "/facts/hood", ruleFactValues},
		"a value twice":              {func(s *machine.Sheet) { s.Own = map[string][]string{"hood": {"shut", "shut"}} }, "/facts/hood/1", machine.RuleDuplicate},
		"a value that is no word":    {func(s *machine.Sheet) { s.Own = map[string][]string{"hood": {"shut", "?"}} }, "/facts/hood/1", ruleFactValues},
		"more facts than can be had": {func(s *machine.Sheet) { s.Own = many() }, "/facts", ruleFactsMost},
		"a finding of no point": {func(s *machine.Sheet) {
			s.Checks = []machine.Check{{ID: "cap"}}
			s.Procedures[0].Steps[1].No.Finding = &machine.StepFinding{Check: "tank"}
		}, "/procedures/0/steps/1/no/finding/check", machine.RuleUnknown},
	} {
		t.Run(name, func(t *testing.T) {
			s := can()
			s.Events = []machine.Event{{ID: "fire", Steps: []machine.Step{doing("off", makes("engine", "off"))}}}
			s.Hazards = []machine.SheetHazard{{ID: "own", When: "key == in && engine == off"}}
			if found := Problems(s); len(found) > 0 {
				t.Fatalf("%+v", found)
			}
			c.change(s)
			if found := Problems(s); len(found) != 1 || found[0].Pointer != c.at || found[0].Reason.Rule != c.rule {
				t.Errorf("%+v", found)
			}
		})
	}
}

func many() map[string][]string {
	out := map[string][]string{}
	for _, c := range strings.Split("abcdefghijklmnopqrstuvwxyz", "") {
		out["own_"+c] = []string{"one", "two", "three"}
	}
	return out
}

// TestWhatFollows: what an answer makes brings other facts with it, unless the same
// answer says otherwise.
func TestWhatFollows(t *testing.T) {
	s := &machine.Sheet{Power: "petrol", Fitted: []string{"cutter", "travel", "proved", "feeding"}}
	m := newModel(s, Way{})
	for name, c := range map[string]struct{ given, makes, want machine.Facts }{
		"moving: nobody knows where":      {machine.Facts{"level": "yes", "place": "outdoors"}, machine.Facts{"travel": "moving"}, machine.Facts{"level": "unknown", "place": "unknown"}},
		"moving to a place that is known": {machine.Facts{"level": "yes"}, machine.Facts{"travel": "moving", "place": "bed"}, machine.Facts{"level": "unknown", "place": "bed"}},
		"standing still changes nothing":  {machine.Facts{"level": "yes", "travel": "moving"}, machine.Facts{"travel": "neutral"}, machine.Facts{"level": "yes"}},
		"engine off: proofs and feed end": {machine.Facts{"engine": "running", "proved_forward": "yes", "proved_reverse": "yes", "feeding": "yes"}, machine.Facts{"engine": "off"}, machine.Facts{"proved_forward": "no", "proved_reverse": "no", "feeding": "no"}},
		"cutter off: the feed ends":       {machine.Facts{"engine": "running", "cutter": "on", "feeding": "yes", "proved_forward": "yes"}, machine.Facts{"cutter": "off"}, machine.Facts{"feeding": "no", "proved_forward": "yes"}},
		"cutter on while it runs":         {machine.Facts{"engine": "running", "motion": "still"}, machine.Facts{"cutter": "on"}, machine.Facts{"motion": "turning"}},
		"started with the cutter on":      {machine.Facts{"cutter": "on", "motion": "still"}, machine.Facts{"engine": "running"}, machine.Facts{"motion": "turning"}},
		"cutter on with the engine off":   {machine.Facts{"motion": "still"}, machine.Facts{"cutter": "on"}, machine.Facts{"motion": "still"}},
		"started with the cutter off":     {machine.Facts{"motion": "still"}, machine.Facts{"engine": "running"}, machine.Facts{"motion": "still"}},
	} {
		after, _ := m.apply(world(m.effect(c.given).to), m.effect(c.makes))
		for fact, is := range c.want {
			if got := m.layout.value(after, m.layout.index[fact]); got != is {
				t.Errorf("%s: %s is %s", name, fact, got)
			}
		}
	}
}

// TestExpressions: && before ||, and what cannot be read is told.
func TestExpressions(t *testing.T) {
	l, _ := newLayout(factsOf("petrol", []string{"cutter"}, nil))
	at := func(facts ...string) moment {
		m := moment{answer: yes, waited: &value{l.index["engine"], isOff}}
		for i := 0; i < len(facts); i += 2 {
			v, ok := l.lookup(facts[i], facts[i+1])
			if !ok {
				t.Fatal(facts)
			}
			m.after = l.put(m.after, v.fact, v.is)
		}
		return m
	}
	for s, want := range map[string]bool{
		"key == out || cap == open && engine == running":             true,
		"(key == out || cap == open) && engine == running":           false,
		"!(key == in) && key != in":                                  true,
		"place in (bed, outdoors)":                                   true,
		"answer == yes && waited(engine=off) && !waited(cutter=off)": true,
		"answer in (done, no)":                                       false,
	} {
		e, err := parse(s)
		if err != nil {
			t.Errorf("%s: %v", s, err)
			continue
		}
		fitted, unknown := l.fit(e)
		m := at("key", "out", "place", "bed")
		if unknown != "" || fitted.holds(l, &m) != want {
			t.Errorf("%s: %q, not %v", s, unknown, want)
		}
	}
	for _, s := range []string{"", "key", "key ==", "== in", "key == in &&", "(key == in", "key == in)", "key in in", "key in (in", "key in ()", "waited(key)", "waited(key=in", "wait(key=in)", "key = in", "key == in key == out", "key == €"} {
		if _, err := parse(s); err == nil {
			t.Errorf("%q was read", s)
		}
	}
}

// TestHazardsCanBeRead: every hazard of the table fits a machine that has
// everything, in both languages, with its source.
func TestHazardsCanBeRead(t *testing.T) {
	var fitted []string
	for _, f := range Facts() {
		fitted = append(fitted, f.Fitted...)
	}
	l, ok := newLayout(factsOf("petrol", append(fitted, "battery"), nil))
	if !ok {
		t.Fatal("all facts together do not fit")
	}
	seen := map[string]bool{}
	for _, h := range Hazards() {
		e, err := parse(h.When)
		if err != nil {
			t.Errorf("%s: %v", h.ID, err)
			continue
		}
		if _, unknown := l.fit(e); unknown != "" || h.Text.Empty() || h.Harm.Empty() || h.Source == "" || seen[h.ID] {
			t.Errorf("%s: %q", h.ID, unknown)
		}
		if fact, _, _ := strings.Cut(h.At, "="); h.At != "" && !l.has(fact) {
			t.Errorf("%s: at %s", h.ID, h.At)
		}
		seen[h.ID] = true
	}
	for _, q := range Questions() {
		if len(q.Choices) < 2 || House(nil).Choice(q.ID) != q.Choices[0] || (House{q.ID: q.Choices[1]}).Choice(q.ID) != q.Choices[1] {
			t.Errorf("%+v", q)
		}
	}
}
