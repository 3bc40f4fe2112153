package inspect_test

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"vespers/core/defect"
	"vespers/core/inspect"
	"vespers/core/machine"
	"vespers/core/record"
	"vespers/core/text"
	"vespers/core/walk"
)

var morning = time.Date(2026, 11, 24, 6, 0, 0, 0, time.UTC)

func words(s string) text.Text  { return text.Text{EN: s, ES: s} }
func number(v float64) *float64 { return &v }

// small is a machine with one of everything that a look has to do with.
func small() *machine.Sheet {
	act := words("Fill it up")
	return &machine.Sheet{
		ID: "small", Edition: "1",
		Loop:          machine.Loop{Length: 6, Stations: []machine.Station{{ID: "rear", At: 0}, {ID: "front", At: 3}}},
		OperatorPlace: "rear",
		Settings:      []machine.Setting{{ID: "deck", At: "front", Start: "down", End: "down", Ways: []machine.Way{{ID: "down", Do: words("Lower it")}, {ID: "raised", Do: words("Raise it")}}}},
		Conditions:    []machine.Condition{{ID: "soil", Name: words("Soil"), Choices: []machine.ConditionChoice{{ID: "dry"}, {ID: "wet", Value: 1}}}},
		Checks: []machine.Check{
			{ID: "meter", Class: machine.ClassH, Phase: machine.Cold, At: "rear", Readings: []machine.Reading{{ID: "hours", Kind: "hours", Unit: "h", Range: [2]float64{0, 99999}}},
				Faults: []machine.Fault{{ID: "dead", Extent: machine.Lost, NoReading: true}, {ID: "cracked", Extent: machine.Early}}},
			{ID: "tyre", Class: machine.ClassF, Phase: machine.Cold, At: "rear", Readings: []machine.Reading{{ID: "left", Unit: "kPa", Range: [2]float64{0, 400}, Uncertainty: 2, Limits: &machine.Limits{Low: number(80)}, PutRight: &act}, {ID: "right", Unit: "kPa", Range: [2]float64{0, 400}}},
				Faults: []machine.Fault{{ID: "cut", Extent: machine.Lost}, {ID: "cap", Extent: machine.Early, PutRight: &act}}},
			{ID: "oil", Class: machine.ClassE, Phase: machine.Cold, At: "rear", Cool: 20, Faults: []machine.Fault{{ID: "low", Extent: machine.Early, PutRight: &act}}},
			{ID: "blade", Class: machine.ClassB, Phase: machine.Cold, At: "front", Needs: map[string]string{"deck": "raised"}, After: []string{"oil"}, Faults: []machine.Fault{{ID: "bent", Extent: machine.Lost}}},
			{ID: "track", Class: machine.ClassG, Phase: machine.Cold, At: "front", Readings: []machine.Reading{{ID: "sag", Unit: "mm", Range: [2]float64{0, 90}, Limits: &machine.Limits{By: "soil", Bands: []machine.Band{{At: 0, Low: number(10), High: number(30)}, {At: 1, Low: number(20), High: number(40)}}}}},
				Faults: []machine.Fault{{ID: "off", Extent: machine.Lost}}},
		},
	}
}

// look is a look at the small machine, and what was recorded in it.
type look struct {
	t *testing.T
	inspect.State
	n int
}

func begin(t *testing.T) *look {
	sheet := small()
	var route []walk.Stop
	for _, c := range sheet.Checks {
		route = append(route, walk.Stop{Do: walk.Check, ID: c.ID, At: c.At, Phase: machine.Cold})
	}
	return &look{t: t, State: inspect.Begin(inspect.State{Machine: "m", Sheet: sheet, Route: route, House: defect.House{MendDays: 7, Edition: defect.Edition}, Hours: 100})}
}

// take takes an event in under an id of its own.
func (l *look) take(e record.Event) string {
	l.n++
	m := record.Meta{ID: fmt.Sprintf("r%d", l.n), By: "ida", At: morning.Add(time.Duration(l.n) * time.Minute)}
	after, ok := l.Apply(m, e)
	if !ok {
		l.t.Fatalf("%T is not of a look", e)
	}
	l.State = after
	return m.ID
}

func say(check, item, answer, fault, typed string) inspect.Answer {
	return inspect.Answer{Machine: "m", Check: check, Item: item, Answer: answer, Fault: fault, Typed: typed}
}

// answer says something and gives the rule that refuses it, or "".
func (l *look) answer(a inspect.Answer, supersedes ...string) string {
	m := record.Meta{At: morning.Add(time.Hour)}
	if len(supersedes) > 0 {
		m.Supersedes = supersedes[0]
	}
	e, err := l.Answer(m, a)
	if err == nil {
		l.take(e)
	}
	return rule(err)
}

func rule(err error) string {
	var refused *record.Refused
	if errors.As(err, &refused) {
		return string(refused.Reason.Rule)
	}
	return ""
}

func (l *look) want(a inspect.Answer, want string, supersedes ...string) {
	l.t.Helper()
	if got := l.answer(a, supersedes...); got != want {
		l.t.Errorf("%+v: %q, want %q", a, got, want)
	}
}

// TestWhatAPointTakes: words where it has words, numbers where it has readings.
func TestWhatAPointTakes(t *testing.T) {
	for name, c := range map[string]struct {
		a    inspect.Answer
		want string
	}{
		"sound":                        {say("oil", "", "sound", "", ""), ""},
		"a fault":                      {say("oil", "", "fault", "low", ""), ""},
		"not reachable":                {say("oil", "", "not_reachable", "", ""), ""},
		"a word that is none":          {say("oil", "", "fine", "", ""), "outing.unknown_fault"},
		"no word":                      {say("oil", "", "", "", ""), "outing.unknown_fault"},
		"a fault it has not":           {say("oil", "", "fault", "cut", ""), "outing.unknown_fault"},
		"a reading it has not":         {say("oil", "", "reading", "", "5"), "reading.empty"},
		"an item it has not":           {say("oil", "left", "sound", "", ""), "outing.unknown_point"},
		"a point that is none":         {say("horn", "", "sound", "", ""), "outing.unknown_point"},
		"a reading, ticked":            {say("tyre", "left", "sound", "", ""), "reading.empty"},
		"a point of readings, ticked":  {say("tyre", "", "sound", "", ""), "reading.empty"},
		"a reading":                    {say("tyre", "left", "reading", "", "95"), ""},
		"as low as may be":             {say("tyre", "left", "reading", "", "0"), ""},
		"as high as may be":            {say("tyre", "left", "reading", "", "400"), ""},
		"below what can be":            {say("tyre", "left", "reading", "", "-1"), "reading.out_of_range"},
		"beyond what can be":           {say("tyre", "left", "reading", "", "401"), "reading.out_of_range"},
		"a fault of one reading":       {say("tyre", "left", "fault", "cut", ""), "outing.unknown_fault"},
		"a fault beside the readings":  {say("tyre", "", "fault", "cut", ""), ""},
		"the meter, back":              {say("meter", "hours", "reading", "", "99.9"), "reading.hours_back"},
		"the meter, as it was":         {say("meter", "hours", "reading", "", "100"), ""},
		"the meter, a hair back":       {say("meter", "hours", "reading", "", "99.96"), ""},
		"the meter, far":               {say("meter", "hours", "reading", "", "300"), ""},
		"the meter, too far":           {say("meter", "hours", "reading", "", "300.1"), "reading.hours_jump"},
		"too long a note":              {inspect.Answer{Check: "oil", Answer: "sound", Note: strings.Repeat("ñ", 501)}, "typed.too_long"},
		"as long a note as may be":     {inspect.Answer{Check: "oil", Answer: "sound", Note: strings.Repeat("ñ", 500)}, ""},
		"a setting first":              {say("blade", "", "sound", "", ""), "outing.setting_needed"},
		"a condition of the day first": {say("track", "sag", "reading", "", "25"), "outing.condition_first"},
		"once more of nothing":         {inspect.Answer{Check: "tyre", Item: "left", Answer: "reading", Typed: "9", Again: true}, ""},
	} {
		t.Run(name, func(t *testing.T) { begin(t).want(c.a, c.want) })
	}
}

// TestTheOrderOfPoints: the setting, what comes before, what has to cool.
func TestTheOrderOfPoints(t *testing.T) {
	l := begin(t)
	worked := morning.Add(50 * time.Minute)
	l.Worked = &worked // answers are taken an hour after morning: ten minutes after work
	l.want(say("oil", "", "sound", "", ""), "outing.still_warm")
	if at := l.CoolAt(l.Check("oil")); !at.Equal(worked.Add(20 * time.Minute)) {
		t.Errorf("cool at %v", at)
	}
	if at := l.CoolAt(l.Check("blade")); !at.IsZero() {
		t.Errorf("what need not be cool is so at %v", at)
	}
	l.take(inspect.Set{Machine: "m", Setting: "deck", To: "raised"})
	l.want(say("blade", "", "sound", "", ""), "outing.point_first")
	l.Worked = nil
	l.want(say("oil", "", "sound", "", ""), "")
	l.want(say("blade", "", "sound", "", ""), "")
	l.want(say("blade", "", "sound", "", ""), "outing.already_answered")
}

func TestSettings(t *testing.T) {
	l := begin(t)
	for to, want := range map[string]string{"raised": "", "down": "outing.stands_so_already", "sideways": "outing.unknown_setting"} {
		t.Run(to, func(t *testing.T) {
			if _, err := l.Change(inspect.Set{Machine: "m", Setting: "deck", To: to}); rule(err) != want {
				t.Errorf("%s: %q", to, rule(err))
			}
		})
	}
	if _, err := l.Change(inspect.Set{Machine: "m", Setting: "mast", To: "down"}); rule(err) != "outing.unknown_setting" {
		t.Error(err)
	}
	l.take(inspect.Set{Machine: "m", Setting: "deck", To: "raised"})
	if l.Stands("deck") != "raised" {
		t.Error("the deck did not move")
	}
	// Everything looked at, the deck is still to be lowered.
	for _, a := range []inspect.Answer{say("meter", "hours", "reading", "", "101"), say("tyre", "left", "reading", "", "95"), say("tyre", "right", "reading", "", "95"), say("oil", "", "sound", "", ""), say("blade", "", "sound", "", "")} {
		l.want(a, "")
	}
	l.take(inspect.Conditioned{Machine: "m", Condition: "soil", Choice: "dry"})
	l.want(say("track", "sag", "reading", "", "20"), "")
	left := l.Left(machine.Cold)
	if len(left) != 1 || left[0].Do != walk.Set || left[0].To != "down" || !l.AnyLeft(machine.Cold) {
		t.Errorf("left: %+v", left)
	}
	l.take(inspect.Set{Machine: "m", Setting: "deck", To: "down"})
	if l.AnyLeft(machine.Cold) || len(l.Left(machine.Cold)) > 0 {
		t.Error("something is left of a walk that is done")
	}
	if l.AnyLeft(machine.Running) {
		t.Error("something is left of what has nothing")
	}
}

func TestConditionsOfTheDay(t *testing.T) {
	l := begin(t)
	track := l.Check("track")
	if c := l.Wants(track); c == nil || c.ID != "soil" {
		t.Fatalf("%+v", c)
	}
	if l.Wants(l.Check("tyre")) != nil {
		t.Error("a tyre asks for the soil")
	}
	for name, e := range map[string]inspect.Conditioned{"no such choice": {Condition: "soil", Choice: "deep"}, "no such condition": {Condition: "wind", Choice: "dry"}} {
		t.Run(name, func(t *testing.T) {
			if _, err := l.Tell(e); rule(err) != "outing.unknown_condition" {
				t.Errorf("%s: %v", name, err)
			}
		})
	}
	before := *l
	l.take(inspect.Conditioned{Machine: "m", Condition: "soil", Choice: "wet"})
	if before.Wants(track) == nil {
		t.Error("what was told changed the look before")
	}
	if _, err := l.Tell(inspect.Conditioned{Condition: "soil", Choice: "wet"}); rule(err) != "outing.already_answered" {
		t.Error(err)
	}
	if limits := l.Under(&track.Readings[0]).Limits; *limits.Low != 20 || *limits.High != 40 {
		t.Errorf("limits on wet ground: %v to %v", *limits.Low, *limits.High)
	}
	// Told another way, what hung on it is judged again, and nothing else.
	l.want(say("track", "sag", "reading", "", "15"), "")
	if g, _ := l.Last("track", "sag"); g.Finding.Extent != machine.Lost {
		t.Errorf("15 mm on wet ground is %s", g.Finding.Extent)
	}
	for _, day := range []struct {
		choice string
		want   machine.Extent
	}{{"dry", machine.Sound}, {"wet", machine.Lost}} {
		told, err := l.Tell(inspect.Conditioned{Machine: "m", Condition: "soil", Choice: day.choice})
		if err != nil {
			t.Fatal(err)
		}
		l.take(told)
		if g, _ := l.Last("track", "sag"); g.Finding.Extent != day.want || l.Told("soil") != day.choice {
			t.Errorf("told %s, 15 mm is %s", day.choice, g.Finding.Extent)
		}
	}
	// The next look of the same day knows it too.
	if again := l.Again(nil); again.Wants(track) != nil || len(again.Given("oil", "")) > 0 {
		t.Error("what is known of the day did not go with it, or what was answered did")
	}
}

// TestReadingsOnceMore: one that was not sound, once.
func TestReadingsOnceMore(t *testing.T) {
	again := say("tyre", "left", "reading", "", "85")
	again.Again = true
	l := begin(t)
	if l.MayMeasureAgain("tyre", "left") {
		t.Error("nothing was measured yet")
	}
	l.want(say("tyre", "left", "reading", "", "100"), "")
	if l.MayMeasureAgain("tyre", "left") {
		t.Error("a sound one may be taken once more")
	}
	l = begin(t)
	l.want(say("tyre", "left", "reading", "", "60"), "")
	first := l.Given("tyre", "left")[0].Meta.ID
	if !l.MayMeasureAgain("tyre", "left") {
		t.Error("a low one may not be taken once more")
	}
	l.want(again, "outing.not_the_last_answer", "other")
	l.want(again, "", first)
	second := l.Given("tyre", "left")[1].Meta.ID
	l.want(again, "outing.measured_twice", second)
	l.want(say("tyre", "left", "reading", "", "100"), "outing.measured_twice", second) // by whatever name
	if r := l.Readings(); len(r) != 1 || r[0].Check != "tyre" || r[0].Item != "left" || r[0].Value.Typed != "85" {
		t.Errorf("%+v", r)
	}
}

// TestTheHourMeter: as read, as it was known, or not at all where it is dead.
func TestTheHourMeter(t *testing.T) {
	l := begin(t)
	if h, read := l.HoursRead(); h != 100 || read || !l.IsMeter("meter") || l.IsMeter("tyre") || l.IsMeter("") {
		t.Errorf("%v %v", h, read)
	}
	l.want(say("meter", "hours", "reading", "", "104.5"), "")
	if h, read := l.HoursRead(); h != 104.5 || !read || l.HoursNow() != 104.5 {
		t.Errorf("%v %v", h, read)
	}
	read := l.Given("meter", "hours")[0].Meta.ID
	l.State = l.Metered(90, time.Time{})
	if l.HoursNow() != 90 {
		t.Error("what a lead says after the reading does not count")
	}
	l.want(say("tyre", "right", "reading", "", "95"), "")
	if l.HoursNow() != 90 {
		t.Error("a tyre was read, not the meter")
	}
	l.want(say("meter", "hours", "reading", "", "91"), "", read)
	if l.HoursNow() != 91 {
		t.Error("the meter was read again and does not count")
	}
	l = begin(t)
	l.want(say("meter", "", "fault", "cracked", ""), "")
	if !l.IsMeter("meter") || len(l.Open("meter")) != 1 {
		t.Error("a crack in the glass stops the meter")
	}
	l = begin(t)
	l.want(say("meter", "", "fault", "dead", ""), "")
	if l.IsMeter("meter") || len(l.Open("meter")) != 0 || l.HoursNow() != 100 {
		t.Error("a dead meter is still to be read")
	}
	l.Before = []inspect.Before{{Check: "tyre", Item: "right", Value: inspect.Value{Typed: "r"}}, {Check: "tyre", Item: "left", Value: inspect.Value{Typed: "l"}}, {Check: "oil", Item: "left"}}
	if b := l.ReadBefore("tyre", "left"); b == nil || b.Value.Typed != "l" {
		t.Errorf("%+v", b)
	}
	if l.ReadBefore("tyre", "") != nil || l.ReadBefore("meter", "hours") != nil {
		t.Error("something was read before that was not")
	}
}

// TestNotReachableComesLast, and keeps what must follow it.
func TestNotReachableComesLast(t *testing.T) {
	order := func(l *look) string {
		var ids []string
		for _, s := range l.Left(machine.Cold) {
			id := s.ID
			if s.Do == walk.Set {
				id += ">" + s.To
			}
			ids = append(ids, id)
		}
		return strings.Join(ids, " ")
	}
	l := begin(t)
	if got := order(l); got != "meter tyre oil deck>raised blade track deck>down" {
		t.Errorf("at the start: %s", got)
	}
	l.want(say("oil", "", "not_reachable", "", ""), "")
	if got := order(l); got != "meter tyre track oil deck>raised blade deck>down" {
		t.Errorf("the oil put off: %s", got)
	}
	l.want(say("tyre", "left", "not_reachable", "", ""), "")
	if got := order(l); !strings.HasPrefix(got, "meter tyre ") {
		t.Errorf("half a point is put off: %s", got)
	}
	l.want(say("tyre", "right", "not_reachable", "", ""), "")
	if got := order(l); got != "meter track tyre oil deck>raised blade deck>down" {
		t.Errorf("both put off: %s", got)
	}
	l.want(say("oil", "", "sound", "", ""), "")
	if got := order(l); got != "meter deck>raised blade track tyre deck>down" && got != "meter track deck>raised blade tyre deck>down" {
		t.Errorf("the oil done: %s", got)
	}
}

// TestPutRightOnTheSpot: what the sheet allows, once, on the answer that counts.
func TestPutRightOnTheSpot(t *testing.T) {
	l := begin(t)
	right := func(finding string, now inspect.Answer) string {
		e, err := l.PutRight(finding, now, time.Time{})
		if err == nil {
			l.take(e)
		}
		return rule(err)
	}
	l.want(say("oil", "", "fault", "low", ""), "")
	l.want(say("tyre", "", "fault", "cut", ""), "")
	l.want(say("tyre", "left", "reading", "", "60"), "")
	l.want(say("tyre", "right", "reading", "", "200"), "")
	id := func(check, item string) string { return l.Given(check, item)[0].Meta.ID }
	for name, c := range map[string]struct {
		finding string
		now     inspect.Answer
		want    string
	}{
		"another finding":           {"r99", say("oil", "", "sound", "", ""), "outing.not_the_last_answer"},
		"no point":                  {"r1", say("horn", "", "sound", "", ""), "outing.unknown_point"},
		"nothing given yet":         {"r1", say("blade", "", "sound", "", ""), "outing.not_the_last_answer"},
		"a cut tyre":                {id("tyre", ""), say("tyre", "", "sound", "", ""), "outing.not_put_right_here"},
		"a sound reading":           {id("tyre", "right"), say("tyre", "right", "reading", "", "210"), "outing.not_put_right_here"},
		"a reading without reading": {id("tyre", "left"), say("tyre", "left", "reading", "", ""), "reading.empty"},
	} {
		t.Run(name, func(t *testing.T) {
			if got := right(c.finding, c.now); got != c.want {
				t.Errorf("%s: %q, want %q", name, got, c.want)
			}
		})
	}
	if g, _ := l.Last("tyre", "left"); !l.Mendable(g) {
		t.Error("a low tyre cannot be filled")
	}
	if got := right(id("tyre", "left"), say("tyre", "left", "reading", "", "95")); got != "" {
		t.Error(got)
	}
	if g, _ := l.Last("tyre", "left"); l.Mendable(g) || g.Now().Value.Typed != "95" || g.Value.Typed != "60" || l.MayMeasureAgain("tyre", "left") {
		t.Errorf("%+v", g)
	}
	if got := right(id("tyre", "left"), say("tyre", "left", "reading", "", "96")); got != "outing.already_answered" {
		t.Error(got)
	}
	if got := right(id("oil", ""), say("oil", "", "sound", "", "")); got != "" {
		t.Error(got)
	}
	var found []string
	for _, f := range l.Found() {
		found = append(found, f.Check)
	}
	if !slices.Equal(found, []string{"tyre"}) {
		t.Errorf("what stands: %v", found)
	}
	if every := l.EveryFound(); len(every) < 3 {
		t.Errorf("what was found: %d", len(every))
	}
}

// TestNotesAndAnswerers: notes stay with their finding, and who answered is told
// in the order they came.
func TestNotesAndAnswerers(t *testing.T) {
	l := begin(t)
	l.want(say("oil", "", "fault", "low", ""), "")
	id := l.Given("oil", "")[0].Meta.ID
	for name, c := range map[string]struct {
		e    inspect.Noted
		want string
	}{
		"nothing":         {inspect.Noted{Check: "oil", Finding: id}, "outing.empty_note"},
		"another finding": {inspect.Noted{Check: "oil", Finding: "r9", Note: "x"}, "outing.not_the_last_answer"},
		"no answer":       {inspect.Noted{Check: "blade", Finding: id, Note: "x"}, "outing.not_the_last_answer"},
		"too long":        {inspect.Noted{Check: "oil", Finding: id, Note: strings.Repeat("x", 501)}, "typed.too_long"},
		"a note":          {inspect.Noted{Check: "oil", Finding: id, Note: "By the tap"}, ""},
		"a picture":       {inspect.Noted{Check: "oil", Finding: id, Photo: "abc"}, ""},
	} {
		t.Run(name, func(t *testing.T) {
			if _, err := l.Note(c.e); rule(err) != c.want {
				t.Errorf("%s: %v", name, err)
			}
		})
	}
	before := l.State
	l.take(inspect.Noted{Machine: "m", Check: "oil", Finding: id, Note: "one"})
	l.take(inspect.Noted{Machine: "m", Check: "oil", Finding: id, Note: "two"})
	if n := l.Notes(id); len(n) != 2 || n[0].Note != "one" || n[1].Note != "two" {
		t.Errorf("%+v", n)
	}
	if len(before.Notes(id)) != 0 || len(l.Notes("r9")) != 0 {
		t.Error("notes of another look or finding")
	}
	put := inspect.PutRight{Machine: "m", Check: "oil", Finding: id, Now: inspect.Answered{Check: "oil", Answer: inspect.Sound}}
	l.State, _ = l.Apply(record.Meta{ID: "p", By: "otto", At: morning}, put)
	if who := l.Answerers(); !slices.Equal(who, []string{"otto", "ida"}) {
		t.Errorf("%v", who)
	}
	if _, ok := l.Apply(record.Meta{}, nothing{}); ok {
		t.Error("an event of something else was taken in")
	}
}

type nothing struct{}

func (nothing) Kind() string { return "nothing" }

// TestALookIsAValue: what is taken in afterwards changes nothing that was there.
func TestALookIsAValue(t *testing.T) {
	l := begin(t)
	l.want(say("tyre", "left", "reading", "", "60"), "")
	before := l.State
	first := l.Given("tyre", "left")[0].Meta.ID
	l.want(say("tyre", "left", "reading", "", "95"), "", first)
	l.take(inspect.Set{Machine: "m", Setting: "deck", To: "raised"})
	l.take(inspect.PutRight{Machine: "m", Check: "tyre", Item: "left", Finding: first, Now: inspect.Answered{}})
	if g := before.Given("tyre", "left"); len(g) != 1 || g[0].Right != nil || before.Stands("deck") != "down" {
		t.Errorf("%+v %s", g, before.Stands("deck"))
	}
}

// TestAUnitThatFits: what was shown is taken unless another of its kind is typed.
func TestAUnitThatFits(t *testing.T) {
	r := &small().Checks[1].Readings[0]
	for name, c := range map[string]struct{ typed, shown, unit, want string }{
		"as shown":             {"14", "psi", "psi", ""},
		"as typed":             {"95 kPa", "psi", "kPa", ""},
		"shown in another one": {"95", "mm", "kPa", ""},
		"shown in none":        {"95", "", "kPa", ""},
		"typed in another":     {"95 mm", "kPa", "", "reading.wrong_unit"},
		"letters":              {"abc", "kPa", "", "reading.not_a_number"},
		"nothing":              {"  ", "kPa", "", "reading.empty"},
		"without end":          {strings.Repeat("1", 41), "kPa", "", "typed.too_long"},
	} {
		t.Run(name, func(t *testing.T) {
			v, err := inspect.ParseValue(r, c.typed, c.shown)
			if rule(err) != c.want || err == nil && v.Unit != c.unit {
				t.Errorf("%+v %v", v, err)
			}
		})
	}
}

// Example answers a point of a look, and asks what is left.
func Example() {
	sheet := small()
	look := inspect.Begin(inspect.State{Machine: "m", Sheet: sheet, Route: []walk.Stop{{Do: walk.Check, ID: "oil", Phase: machine.Cold}}})
	e, err := look.Answer(record.Meta{ID: "r1", By: "ida", At: morning}, inspect.Answer{Machine: "m", Check: "oil", Answer: inspect.Fault, Fault: "low"})
	look, _ = look.Apply(record.Meta{ID: "r1", By: "ida", At: morning}, e)
	fmt.Println(err, look.Found()[0].Finding.Grade, len(look.Left(machine.Cold)))
	// Output: <nil> watch 0
}

// TestRouteFromWhereOneStands: what is done stays done and first, what must cool
// last, and nothing is lost.
func TestRouteFromWhereOneStands(t *testing.T) {
	l := begin(t)
	l.want(say("meter", "hours", "reading", "", "101"), "")
	l.want(say("tyre", "left", "reading", "", "95"), "")
	worked := morning
	l.Worked = &worked
	ids := func(now time.Time) (out []string) {
		for _, s := range l.RouteFrom("front", now) {
			if s.Do == walk.Check {
				out = append(out, s.ID)
			}
		}
		return out
	}
	warm := ids(morning.Add(5 * time.Minute))
	if len(warm) != 5 || warm[0] != "meter" || warm[1] != "track" {
		t.Errorf("from the front, warm: %v", warm)
	}
	if oil := slices.Index(warm, "oil"); oil < slices.Index(warm, "tyre") {
		t.Errorf("the oil has to cool: %v", warm)
	}
	if cold := ids(morning.Add(5 * time.Hour)); len(cold) != 5 || slices.Index(cold, "blade") < slices.Index(cold, "oil") {
		t.Errorf("from the front, cold: %v", cold)
	}
	if waits := l.Cooling(morning.Add(19 * time.Minute)); len(waits) != 1 || waits[0].ID != "oil" {
		t.Errorf("waits for cold: %v", waits)
	}
	if waits := l.Cooling(morning.Add(20 * time.Minute)); len(waits) != 0 {
		t.Errorf("waits for cold when it is: %v", waits)
	}
	if r := l.Rerouted(nil); len(r.Route) != 0 || len(l.Route) == 0 {
		t.Error("another route changed this one")
	}
}

// TestFoundOnTheSpotAgain: put right, and seen again as it was.
func TestFoundOnTheSpotAgain(t *testing.T) {
	l := begin(t)
	l.want(say("oil", "", "fault", "low", ""), "")
	e, err := l.PutRight(l.Given("oil", "")[0].Meta.ID, say("oil", "", "fault", "low", ""), time.Time{})
	if err != nil || e.Now.Answer != inspect.Fault {
		t.Fatalf("%+v %v", e, err)
	}
	l.take(e)
	if len(l.Found()) != 1 {
		t.Error("what is still so does not stand")
	}
}

// TestHoursOfADeadline count from the meter as it stands when something is found
// and are dated by the house; without a meter they run by the clock.
func TestHoursOfADeadline(t *testing.T) {
	sheet := small()
	sheet.Checks = append(sheet.Checks, machine.Check{ID: "hose", Class: machine.ClassD, Phase: machine.Cold, At: "rear", Faults: []machine.Fault{{ID: "weep", Extent: machine.Early}}})
	for name, c := range map[string]struct {
		edition int
		first   []inspect.Answer
		hours   float64
		dated   bool
	}{
		"as it was known":        {defect.Edition, nil, 102, true},
		"as it was read":         {defect.Edition, []inspect.Answer{say("meter", "hours", "reading", "", "110")}, 112, true},
		"with a dead meter":      {defect.Edition, []inspect.Answer{say("meter", "", "fault", "dead", "")}, 0, true},
		"in the first edition":   {0, []inspect.Answer{say("meter", "hours", "reading", "", "110")}, 102, false},
		"first, with no reading": {0, nil, 102, false},
	} {
		t.Run(name, func(t *testing.T) {
			l := begin(t)
			l.State = inspect.Begin(inspect.State{Machine: "m", Sheet: sheet, Route: l.Route, House: defect.House{MendDays: 7, Edition: c.edition}, Hours: 100})
			for _, a := range c.first {
				l.want(a, "")
			}
			l.want(say("hose", "", "fault", "weep", ""), "")
			var d defect.Deadline
			for _, f := range l.Found() {
				if f.Check == "hose" {
					d = f.Finding.Deadline
				}
			}
			switch {
			case c.hours == 0 && (d.Hours != nil || d.At == nil || d.At.Sub(morning) > 3*time.Hour):
				t.Errorf("by the clock: %v %v", d.Hours, d.At)
			case c.hours > 0 && (d.Hours == nil || *d.Hours != c.hours):
				t.Errorf("%v, want %v", d.Hours, c.hours)
			}
		})
	}
}

// TestTheMeterNeedNotComeFirst in the sheet.
func TestTheMeterNeedNotComeFirst(t *testing.T) {
	sheet := small()
	sheet.Checks[0], sheet.Checks[1] = sheet.Checks[1], sheet.Checks[0]
	s := inspect.Begin(inspect.State{Machine: "m", Sheet: sheet, Hours: 7})
	if !s.IsMeter("meter") || s.IsMeter("tyre") {
		t.Error("another reading is taken for the meter")
	}
}
