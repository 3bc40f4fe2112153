package demo

// The demo's evening: five machines out, two of them back and hot, one late, one of which
// nobody said when it comes.

import (
	"context"
	"maps"
	"time"

	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/yard"
	"vespers/store"
)

// Dusk is when the demo's evening begins, where no other time is asked for.
const Dusk = "16:30"

// turns are who has what in it: when it is expected, from the evening's beginning on, and
// since when it is shut down; 0 is not said, and not shut down.
var turns = []struct {
	who, machine string
	expects      time.Duration
	parked       time.Duration
}{
	{"ines", "verger", -15 * time.Minute, -9 * time.Minute},
	{"lucia", "precentor", -10 * time.Minute, -4 * time.Minute},
	{"tobias", "cantor", 12 * time.Minute, 0},
	{"ruth", "provost", 21 * time.Minute, 0},
	{"tobias", "succentor", 0, 0},
	{"maren", "thurifer", -6 * time.Minute, 0},
}

// FillEvening makes Wrenfield as it stands in an evening. The store must hold the
// catalogue's sheets already.
func FillEvening(ctx context.Context, s *store.Store, now time.Time) error {
	return fill(ctx, s, now, (*filler).evening)
}

// evening: the house fuels at night; what is out was taken out after noon.
func (f *filler) evening(now time.Time) {
	f.at = now.Add(-200 * time.Minute)
	f.fuelsAtNight()
	out := map[string]string{}
	for _, t := range turns {
		o := f.start(t.machine, t.who)
		f.carryOn(o, t.who, nil)
		f.release(o, t.who)
		out[t.machine] = o
		if t.expects != 0 {
			f.answer(o, t.who, outing.Expect{Home: now.Add(t.expects).In(zone()).Format("15:04")})
		}
	}
	for _, t := range turns {
		if t.parked == 0 {
			continue
		}
		f.at = later(f.at, now.Add(t.parked-time.Minute))
		f.parks(out[t.machine], t.who)
	}
}

// fuelsAtNight is a house rule of the evening's.
func (f *filler) fuelsAtNight() {
	settings, err := f.s.Yard(f.ctx)
	if f.do(err); f.err != nil {
		return
	}
	practice := yard.Practice{"refuel_when": "day_end"}
	maps.Copy(practice, settings.Practice)
	f.say("maren", yard.NameYard{Name: settings.Name, Timezone: settings.Timezone, House: settings.House, Practice: practice, Emergency: settings.Emergency})
}

// parks shuts down what is out.
func (f *filler) parks(id, who string) {
	machine := ""
	if o := f.fold(id); o != nil {
		machine = o.Units[0].Machine
	}
	f.answer(id, who, outing.BeginProcedure{Machine: machine, Procedure: "shutdown"})
	for f.err == nil {
		c, at, open := outingtest.Step(f.fold(id).Units[0], f.at.Add(3*time.Second))
		if !open {
			return
		}
		f.at = at
		f.say(who, yard.InOuting{Outing: id, Command: c})
	}
}

func later(a, b time.Time) time.Time {
	if a.After(b) {
		return a
	}
	return b
}
