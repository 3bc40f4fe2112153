package demo

// The demo yard: its crew, its machines, its past weeks.

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"
	_ "time/tzdata"

	"vespers/catalogue"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/round"
	"vespers/core/text"
	"vespers/core/unit"
	"vespers/core/yard"
	"vespers/store"
)

// Person is one of the demo's crew.
type Person struct {
	operator.Person
	pin  string
	read []string // sheet ids whose manual they have read
}

// The crew. There are two leads, because nobody vouches for themselves.
var crew = []Person{
	person("maren", "Maren Oduvale", operator.Lead, text.English, unit.Metric, "4071", "brackwing", "hollin_tractor", "hollin_boom"),
	person("ines", "Inés Carvanal", operator.Operator, text.Spanish, unit.Metric, "2608", "brackwing", "hollin_tractor", "hollin_boom", "lychgate_sweeper", "tarnwood_chipper", "fernhollow_saw", "fernhollow_battery", "rimewood_thrower", "sallow_brush", "larkfield_reel", "lychgate_tow", "lychgate_tow_engine", "pilgrim_cart", "thornway_aerator", "precinct_rider", "combe_rider", "transept_rotary", "chantry_triplex", "quire_fairway", "garth_cutter"),
	person("tobias", "Tobias Fennimar", operator.Operator, text.English, unit.US, "3195", "brackwing", "hollin_tractor", "hollin_boom", "mossgate_trencher", "tarnwood_chipper", "fernhollow_saw", "lychgate_sweeper", "mossgate_wheeled", "sallow_brush", "stile_trailer", "fernhollow_battery", "rimewood_thrower", "larkfield_reel", "lychgate_tow", "lychgate_tow_engine", "pilgrim_cart", "thornway_aerator", "precinct_rider", "combe_rider", "transept_rotary", "chantry_triplex", "quire_fairway", "garth_cutter"),
	person("ruth", "Ruth Akindale", operator.Technician, text.English, unit.Metric, "5824", "brackwing", "hollin_tractor", "hollin_boom", "mossgate_trencher", "tarnwood_chipper", "fernhollow_saw", "lychgate_sweeper", "mossgate_wheeled", "sallow_brush", "stile_trailer", "fernhollow_battery", "rimewood_thrower", "larkfield_reel", "lychgate_tow", "lychgate_tow_engine", "pilgrim_cart", "thornway_aerator", "precinct_rider", "combe_rider", "transept_rotary", "chantry_triplex", "quire_fairway", "garth_cutter"),
	person("jonah", "Jonah Pellimore", operator.Trainee, text.English, unit.Metric, "6417", "brackwing"),
	person("lucia", "Lucía Brandaluz", operator.Operator, text.Spanish, unit.Metric, "7302", "brackwing"),
	person("edda", "Edda Quillfane", operator.Lead, text.English, unit.Metric, "9362"),
	person("osk", "Oskar Lindqvale", operator.Visitor, text.English, unit.Metric, "8150"),
}

func person(id, name string, role operator.Role, l text.Language, u unit.System, pin string, read ...string) Person {
	return Person{Person: operator.Person{ID: id, Name: name, Role: role, Language: l, Units: u}, pin: pin, read: strings.Fields(strings.Join(read, " "))}
}

// People lists the demo's crew.
func People() []Person { return crew }

// PINs are the demo's, by person id: they are no secret.
func PINs() map[string]string {
	out := map[string]string{}
	for _, p := range crew {
		out[p.ID] = p.pin
	}
	return out
}

// Timezone is where Wrenfield lies.
const Timezone = "Europe/Dublin"

// The riders have one of two decks.
const (
	narrow = "brackwing?bar=folding&deck=narrow"
	wide   = "brackwing?bar=folding&deck=wide"
)

// machines are those of Wrenfield; a sheet is named with how the machine is built.
var machines = []struct {
	id, name, bay, sheet string
	hours                float64
}{
	{"verger", "Verger", "1", narrow, 412.4},
	{"sexton", "Sexton", "2", narrow, 768.1},
	{"beadle", "Beadle", "3", wide, 1203.4},
	{"almoner", "Almoner", "4", wide, 96.2},
	{"cantor", "Cantor", "5", narrow, 640.8},
	{"precentor", "Precentor", "6", wide, 955.0},
	{"ostiary", "Ostiary", "7", narrow, 1510.7},
	{"thurifer", "Thurifer", "8", wide, 233.9},
	{"archdeacon", "Archdeacon", "9", "hollin_tractor", 2210.4},
	{"crozier", "Crozier", "10", "hollin_boom?head=flail", 0},
	{"chorister", "Chorister", "11", "lychgate_sweeper", 388.2},
	{"apparitor", "Apparitor", "12", "tarnwood_chipper", 541.7},
	{"gravedigger", "Gravedigger", "13", "mossgate_trencher?start=key", 167.3},
	{"lector", "Lector", "14", "fernhollow_saw", 0},
	{"psalter", "Psalter", "15", "fernhollow_battery", 0},
	{"bellringer", "Bellringer", "16", "mossgate_wheeled", 112.6},
	{"acolyte", "Acolyte", "17", "sallow_brush", 0},
	{"candlemas", "Candlemas", "18", "rimewood_thrower?start=cord", 0},
	{"wayfarer", "Wayfarer", "19", "stile_trailer", 0},
	{"organist", "Organist", "20", "larkfield_reel?bail=without", 0},
	{"pardoner", "Pardoner", "22", "lychgate_tow?turned_by=wheels", 0},
	{"almsman", "Almsman", "23", "pilgrim_cart", 0},
	{"subdeacon", "Subdeacon", "24", "thornway_aerator", 88.4},
	{"rector", "Rector", "25", "precinct_rider", 302.6},
	{"hermit", "Hermit", "26", "combe_rider", 129.5},
	{"provost", "Provost", "27", "transept_rotary", 641.2},
	{"succentor", "Succentor", "28", "chantry_triplex?reels=hybrid", 388.4},
	{"sacrist", "Sacrist", "29", "quire_fairway", 507.9},
	{"anchorite", "Anchorite", "30", "garth_cutter", 0},
	{"cellarer", "Cellarer", "31", "lychgate_tow_engine", 0},
}

// hired is what does not belong to Wrenfield, and whose it is.
var hired = map[string]string{"gravedigger": "Fellgate Plant"}

// Fill makes Wrenfield as it stands on a morning: its machines in their bays in
// different states. The store must hold the catalogue's sheets already.
func Fill(ctx context.Context, s *store.Store, now time.Time) error {
	return fill(ctx, s, now, (*filler).today)
}

// fill makes the weeks before a day, and the day.
func fill(ctx context.Context, s *store.Store, now time.Time, day func(*filler, time.Time)) error {
	f := &filler{ctx: ctx, at: now.AddDate(0, 0, -20), now: now}
	f.s = s.WithClock(func() time.Time { return f.at })
	sheets, err := catalogue.All()
	if err != nil {
		return err
	}
	if err := f.s.Seed(ctx, beginnings(f.at, now, sheets)); err != nil {
		return err
	}
	f.site()
	f.weeks(now)
	f.service(now)
	f.yesterday(now)
	f.closed()
	day(f, now)
	return f.err
}

type filler struct {
	ctx context.Context
	s   *store.Store
	at  time.Time
	now time.Time // when the demo begins
	n   int
	err error
	// stops, if set, is how long whatever is timed takes to stop, in seconds.
	stops float64
}

func (f *filler) do(err error) {
	if f.err == nil && err != nil {
		f.err = fmt.Errorf("step %d: %w", f.n, err)
	}
}

// say lets somebody of the crew say something.
func (f *filler) say(who string, c yard.Command) store.Done {
	if f.err != nil {
		return store.Done{}
	}
	done, err := f.s.Do(f.ctx, f.entry(who), c)
	f.do(err)
	return done
}

func (f *filler) entry(who string) store.Entry {
	f.n++
	return store.Entry{ID: fmt.Sprintf("demo-%06d", f.n), Person: who}
}

// weeks: five outings of Cantor, whose blade brake takes longer each time.
func (f *filler) weeks(now time.Time) {
	for i, took := range []float64{3.1, 3.3, 3.6, 3.8, 4.0} {
		f.at = now.AddDate(0, 0, -19+4*i)
		f.stops = took
		o := f.start("cantor", "ines")
		f.carryOn(o, "ines", nil)
		f.release(o, "ines")
		f.at = f.at.Add(70 * time.Minute)
		f.home(o, "ines")
	}
	f.stops = 0
}

// unserved is what Ruth has not come to: it stands on her list.
var unserved = []string{"ostiary", "crozier", "acolyte", "candlemas", "wayfarer", "organist", "pardoner", "almsman", "subdeacon", "rector", "hermit", "provost", "succentor", "sacrist", "anchorite", "cellarer"}

// service: two evenings ago Ruth looked at whatever comes due, machine by
// machine, and nothing went out.
func (f *filler) service(now time.Time) {
	f.at = now.AddDate(0, 0, -2)
	for _, m := range machines {
		if slices.Contains(unserved, m.id) {
			continue
		}
		o := f.start(m.id, "ruth")
		f.carryOn(o, "ruth", nil)
		f.answer(o, "ruth", outing.End{})
	}
}

// yesterday: a bypassed seat switch on Beadle, a weep on Precentor, a dirty
// filter on Sexton, and a chute mended on Ostiary and proved by its round.
func (f *filler) yesterday(now time.Time) {
	f.at = now.AddDate(0, 0, -1).Add(-3 * time.Hour)
	o := f.start("beadle", "tobias")
	f.carryOn(o, "tobias", func(o *outing.Outing) bool {
		_, _, starting := outingtest.Step(o.Units[0], f.at)
		return o.Units[0].Round.Runs && !starting
	})
	u := f.fold(o)
	f.at = outingtest.Wait(u, f.at)
	f.answer(o, "tobias", outing.Test{Test: round.Test{Machine: "beadle", Attempt: 1, Test: u.Units[0].Round.Next(), Result: round.Bad}})
	f.answer(o, "tobias", outing.End{})

	f.whole("precentor", "lucia", "hydraulic_leaks", "weep")
	f.whole("sexton", "ines", "air_filter", "dirty")

	o = f.start("ostiary", "ines")
	f.carryOn(o, "ines", at("chute"))
	spring := outingtest.Fault("ostiary", "chute", "spring")
	spring.Note = "Hinge full of clay from the terrace work"
	f.answer(o, "ines", spring)
	f.at = f.at.Add(40 * time.Minute)
	if d, err := f.s.Defects(f.ctx, "ostiary", true); err != nil || len(d) != 1 {
		f.do(fmt.Errorf("ostiary has %d defects: %w", len(d), err))
	} else {
		f.inTheDay()
		done := f.say("ruth", yard.BeginRepair{Defects: []string{d[0].ID}, Cause: "Spring broken at the eye", Work: "New spring, hinge cleaned and greased; closes by itself ten times out of ten", Parts: "Chute spring", Replaced: []string{"chute"}})
		if f.err == nil {
			f.carryOn(done.Outing.ID, "ruth", nil)
			f.answer(done.Outing.ID, "ruth", outing.Sign{})
		}
	}
}

// closed: that evening everybody says that they go home, and Maren seals the day, and the
// one before it that was left open.
func (f *filler) closed() {
	for range 3 {
		f.at = f.at.Add(10 * time.Minute)
		view, check := f.s.View(f.ctx)
		day := yard.Close(view, f.at)
		if f.do(check()); f.err != nil || len(day.Machines) == 0 {
			return
		}
		for _, p := range day.People {
			switch {
			case p.Settled():
			case day.Past:
				f.say("maren", yard.SayWhere{Person: p.ID})
			default:
				f.say(p.ID, yard.GoHome{})
			}
		}
		f.say("maren", yard.SealDay{Day: day.Day})
	}
}

// today: Cantor is out, Almoner half walked, Thurifer before its round.
func (f *filler) today(now time.Time) {
	f.at = now.Add(-95 * time.Minute)
	o := f.start("cantor", "tobias")
	f.stops = 4.2
	f.carryOn(o, "tobias", nil)
	f.stops = 0
	f.release(o, "tobias")
	f.at = today(now, -35*time.Minute)
	o = f.start("thurifer", "lucia")
	f.carryOn(o, "lucia", f.untilNow(func(o *outing.Outing) bool { return o.Stage() == outing.StageRound }))
	f.at = today(now, -14*time.Minute)
	o = f.start("almoner", "ines")
	f.carryOn(o, "ines", f.untilNow(at("wheel_right_rear")))
}

// zone is Timezone; it ships with the program.
var zone = sync.OnceValue(func() *time.Location {
	zone, err := time.LoadLocation(Timezone)
	if err != nil {
		panic(err)
	}
	return zone
})

// morning is how long after its day began the demo's morning can lie at the earliest.
const morning = 45 * time.Minute

// Ahead is how far a demo's clock has to be ahead of a moment, so that what happened
// this morning lies in its day: nothing, but shortly after the day began.
func Ahead(now time.Time) time.Duration {
	if now.Sub(yard.DayStart(now, zone())) < morning {
		return morning
	}
	return 0
}

// today is so long before now, and not in the day before: what is still open then
// would be void.
func today(now time.Time, before time.Duration) time.Time {
	if start := yard.DayStart(now, zone()); now.Add(before).Before(start) {
		return start
	}
	return now.Add(before)
}

// untilNow stops there, or when it is now: nobody has answered later.
func (f *filler) untilNow(stop func(*outing.Outing) bool) func(*outing.Outing) bool {
	return func(o *outing.Outing) bool { return stop(o) || !f.at.Add(time.Minute).Before(f.now) }
}

// at stops when a point comes next.
func at(point string) func(*outing.Outing) bool {
	return func(o *outing.Outing) bool {
		left := o.Units[0].Left("cold")
		return o.Ready() != nil && len(left) > 0 && left[0].ID == point
	}
}

// home shuts down what is out, and ends the outing.
func (f *filler) home(id, who string) {
	for f.err == nil {
		o := f.fold(id)
		if o == nil || o.Status == outing.Closed {
			return
		}
		var c outing.Command
		c, f.at = outingtest.Home(o, f.at.Add(5*time.Second))
		f.answer(id, who, c)
	}
}

// whole runs an outing with one fault, releases it and brings it home.
func (f *filler) whole(name, who, point, fault string) {
	o := f.start(name, who)
	f.carryOn(o, who, at(point))
	f.answer(o, who, outingtest.Fault(name, point, fault))
	f.carryOn(o, who, nil)
	f.release(o, who)
	f.at = f.at.Add(50 * time.Minute)
	f.home(o, who)
}

func (f *filler) start(name, who string) string { return f.startWith(name, "", who) }

func (f *filler) startWith(name, carrier, who string) string {
	f.inTheDay()
	done := f.say(who, yard.TakeOut{Machine: name, Carrier: carrier, Both: true})
	if f.err != nil {
		return ""
	}
	return done.Outing.ID
}

// inTheDay waits for the next day where this one is nearly over: nobody begins what
// would be void before it is done.
func (f *filler) inTheDay() {
	if later := f.at.Add(45 * time.Minute); !yard.DayStart(later, zone()).Equal(yard.DayStart(f.at, zone())) && later.Before(f.now) {
		f.at = yard.DayStart(later, zone())
	}
}

func (f *filler) fold(id string) *outing.Outing {
	o, err := f.s.Outing(f.ctx, id)
	f.do(err)
	return o
}

// carryOn answers everything in order until stop says so, or the verdict.
func (f *filler) carryOn(id, who string, stop func(*outing.Outing) bool) {
	for f.err == nil {
		o := f.fold(id)
		if f.err != nil || stop != nil && stop(o) {
			return
		}
		c := outingtest.Next(o, f.at)
		if c == nil {
			return
		}
		if t, ok := c.(outing.Test); ok && t.Seconds != "" && f.stops > 0 {
			t.Seconds = strconv.FormatFloat(f.stops, 'f', 1, 64)
			c = t
		}
		if r, ok := c.(outing.Ready); ok {
			c = f.lookedFor(r)
		}
		f.at = outingtest.Wait(o, f.at)
		f.answer(id, who, f.asRead(o, c))
	}
}

// lookedFor asks to be looked for in four hours, where the day is as long.
func (f *filler) lookedFor(r outing.Ready) outing.Ready {
	at := f.at.Add(4 * time.Hour).In(zone()).Truncate(30 * time.Minute)
	if yard.DayStart(at, zone()).Equal(yard.DayStart(f.at, zone())) {
		r.CheckIn = at.Format("15:04")
	}
	return r
}

// stuck is the one gauge of the yard that always says the same.
const stuck = "wheel_left_rear"

// asRead is an answer as a person with a gauge would give it: no two readings
// are quite alike.
func (f *filler) asRead(o *outing.Outing, c outing.Command) outing.Command {
	a, ok := c.(outing.Answer)
	if !ok || a.Typed == "" || a.Check == stuck {
		return c
	}
	u := o.Unit(a.Machine)
	r, _ := u.Check(a.Check).Reading(a.Item)
	if r.Kind == "" || r.Kind == "gauge" {
		value, turn := outingtest.Good(u, r), float64(f.n*37%5)
		if l := u.Under(r).Limits; l != nil && l.Low != nil && l.High != nil {
			value += (*l.High - *l.Low) * 0.03 * (turn - 2)
		} else {
			value *= 1 + 0.004*turn
		}
		a.Answer = outingtest.Typed(a.Machine, a.Check, r, value)
	}
	return a
}

func (f *filler) answer(id, who string, c outing.Command) {
	f.at = f.at.Add(18 * time.Second)
	f.say(who, yard.InOuting{Outing: id, Command: c})
}

func (f *filler) release(id, who string) {
	f.say(who, yard.InOuting{Outing: id, Command: outing.Release{}})
}
