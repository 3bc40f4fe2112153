package review_test

import (
	"fmt"
	"testing"
	"time"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/record"
	"vespers/core/review"
	"vespers/core/round"
)

func TestHalfTheWalkingIsHurried(t *testing.T) {
	for seconds, want := range map[float64]bool{0: true, 9.9: true, 10: false, 10.1: false, 20: false} {
		t.Run(fmt.Sprint(seconds), func(t *testing.T) {
			if got := (review.Walked{Seconds: seconds, Least: 20}).Hurried(); got != want {
				t.Errorf("%v s of 20 is hurried: %v", seconds, got)
			}
		})
	}
}

// crew is two who may answer in turn.
func crew(o *outing.Outing) outingtest.Crew {
	return outingtest.Crew{}.Add(outingtest.Schooled("ida", operator.Operator, o.Sheets()...), outingtest.Schooled("otto", operator.Operator, o.Sheets()...), outingtest.Schooled(outingtest.Company, operator.Lead))
}

// play says so many good things, one every ten seconds; from the point named on
// somebody else has taken the outing over.
func play(t *testing.T, o *outing.Outing, most int, other int) (*outing.Outing, int) {
	t.Helper()
	people, answers, by := crew(o), 0, "ida"
	at := morning
	say := func(c outing.Command) {
		at = outingtest.Wait(o, at.Add(10*time.Second))
		meta := record.Meta{ID: fmt.Sprint("p", at.Unix()), By: by, At: at}
		events, err := outing.Decide(o, c, meta, people)
		if err != nil {
			t.Fatal(err)
		}
		for _, e := range events {
			o = o.Apply(meta, e)
		}
	}
	for answers < most {
		c := outingtest.Next(o, at)
		if c == nil {
			break
		}
		if answers == other && by == "ida" {
			by = "otto"
			say(outing.TakeOver{})
			continue
		}
		if _, ok := c.(outing.Answer); ok {
			answers++
		}
		say(c)
	}
	return o, answers
}

func mower(t *testing.T) *outing.Outing {
	return outingtest.Begin(t, "ida", outingtest.Machine("m", machinetest.Of(t, "zero_turn")), nil)
}

// TestFewAnswersTellNothing, nor a walk of two.
func TestFewAnswersTellNothing(t *testing.T) {
	for answers, want := range map[int]int{1: 0, 7: 0, 8: 1, 9: 1} {
		t.Run(fmt.Sprint(answers), func(t *testing.T) {
			o, _ := play(t, mower(t), answers, -1)
			walks := review.Walks(o)
			if len(walks) != want {
				t.Errorf("%d answers: %+v", answers, walks)
			}
			if want == 1 && (walks[0].Seconds < float64(answers-1)*10 || walks[0].By != "ida" || walks[0].At.IsZero() || walks[0].Least <= 0) {
				t.Errorf("%+v", walks[0])
			}
		})
	}
	if o, _ := play(t, mower(t), 12, 5); len(review.Walks(o)) != 0 {
		t.Error("a walk of two people tells something")
	}
}

// TestOnlyGauges can be taken too often alike.
func TestOnlyGauges(t *testing.T) {
	o, _ := play(t, mower(t), 1000, -1)
	u := o.Units[0]
	read, gauges := map[string]bool{}, 0
	for _, r := range u.Readings() {
		read[r.Check+"/"+r.Item] = true
	}
	for _, r := range review.Gauged(u) {
		reading, _ := u.Check(r.Check).Reading(r.Item)
		if reading.Kind != "" && reading.Kind != "gauge" || !read[r.Check+"/"+r.Item] {
			t.Errorf("%s of %s is a %s", r.Item, r.Check, reading.Kind)
		}
		gauges++
	}
	want := 0
	for _, r := range u.Readings() {
		if reading, _ := u.Check(r.Check).Reading(r.Item); reading.Kind == "" || reading.Kind == "gauge" {
			want++
		}
	}
	if gauges != want || gauges == 0 || gauges == len(read) {
		t.Errorf("%d of %d readings are gauges, want %d", gauges, len(read), want)
	}
}

func TestAProof(t *testing.T) {
	o, _ := play(t, mower(t), 1000, -1)
	last := time.Time{}
	for _, r := range o.Units[0].Round.Results {
		if r.Meta.At.After(last) {
			last = r.Meta.At
		}
	}
	proofs := review.Proofs(o)
	if len(proofs) != 1 || proofs[0].By != "ida" || !proofs[0].At.Equal(last) || proofs[0].Tests != len(o.Units[0].Round.Results) || proofs[0].Machine != "m" {
		t.Errorf("%+v, last test at %v", proofs, last)
	}
	if half, _ := play(t, mower(t), 20, -1); len(review.Proofs(half)) != 0 {
		t.Error("half a round proves something")
	}
}

// stops are stopping times, one a week, of a drive that has five seconds.
func stops(values ...float64) []review.Stopped {
	var out []review.Stopped
	for i, v := range values {
		out = append(out, review.Stopped{At: morning.AddDate(0, 0, 7*i), Seconds: v, Within: 5})
	}
	return out
}

func TestWhereWearLeads(t *testing.T) {
	day := 24 * time.Hour
	for name, c := range map[string]struct {
		times   []review.Stopped
		week    float64
		reaches int // days after the last, 0 for never, -1 for too few
	}{
		"none":                           {nil, 0, -1},
		"three":                          {stops(2, 2.1, 2.2), 0, -1},
		"a tenth of a second a week":     {stops(2, 2.1, 2.2, 2.3), 0.1, 189}, // 2.7 s at a tenth a week
		"so little that taps hide it":    {stops(2, 2.019, 2.038, 2.057), 0, 0},
		"getting better":                 {stops(3, 2.8, 2.6, 2.4), 0, 0},
		"not within a year":              {stops(2, 2.05, 2.1, 2.15), 0.05, 0},
		"within a year":                  {stops(2.4, 2.45, 2.5, 2.55), 0.05, 343},
		"at the limit":                   {stops(4.7, 4.8, 4.9, 5), 0.1, 0},
		"an old bad time counts no more": {append([]review.Stopped{{At: morning.AddDate(0, 0, -200), Seconds: 9, Within: 5}}, stops(2, 2.1, 2.2, 2.3)...), 0.1, 189},
	} {
		t.Run(name, func(t *testing.T) {
			w := review.WearOf(c.times)
			if w.Few != (c.reaches < 0) || w.Week < c.week-1e-9 || w.Week > c.week+1e-9 {
				t.Fatalf("%+v", w)
			}
			if c.reaches > 0 {
				want := c.times[len(c.times)-1].At.Add(time.Duration(c.reaches) * day)
				if w.Reaches.Sub(want).Abs() > time.Minute {
					t.Errorf("reaches it %v, want %v", w.Reaches, want)
				}
			} else if !w.Reaches.IsZero() && name != "at the limit" {
				t.Errorf("reaches it %v", w.Reaches)
			}
		})
	}
	for days, want := range map[int]bool{-1: true, 119: true, 120: false, 121: false} {
		t.Run(fmt.Sprint(days), func(t *testing.T) {
			if got := (review.Wear{Reaches: morning.Add(time.Duration(days) * day)}).Soon(morning); got != want {
				t.Errorf("in %d days is soon: %v", days, got)
			}
		})
	}
	for after, want := range map[time.Duration]bool{-time.Nanosecond: true, 0: false, day: false} {
		t.Run(fmt.Sprint("over ", after), func(t *testing.T) {
			if got := (review.Wear{Reaches: morning.Add(after)}).Over(morning); got != want {
				t.Errorf("over: %v", got)
			}
		})
	}
	if (review.Wear{}).Over(morning) {
		t.Error("never is over")
	}
	if (review.Wear{}).Soon(morning) {
		t.Error("never is soon")
	}
	if n := len(review.StopPoints(stops(1, 2, 3))); n != 3 {
		t.Errorf("%d points", n)
	}
	edge := []review.Stopped{{At: morning.Add(-120*day - time.Hour)}, {At: morning.Add(-120 * day)}, {At: morning}}
	if p := review.StopPoints(edge); len(p) != 2 || p[0].At != 0 || p[1].At != 120 {
		t.Errorf("%+v", p)
	}
}

// TestAfterADayAndAHalf a fault tells nothing about the look before.
func TestAfterADayAndAHalf(t *testing.T) {
	first := walkedIn(t, 15*time.Second, nil, morning, false)
	for after, want := range map[time.Duration]int{36*time.Hour - time.Second: 1, 36 * time.Hour: 0} {
		t.Run(fmt.Sprint(after), func(t *testing.T) {
			second := walkedIn(t, 15*time.Second, map[string]string{"castors": "grease"}, morning.Add(after), false)
			if missed := review.MissedBy(second, "m", first); len(missed) != want && len(missed) != 0 {
				t.Errorf("%v later: %+v", after, missed)
			}
			if missed := review.MissedBy(second, "other", first); len(missed) != 0 {
				t.Errorf("of another machine: %+v", missed)
			}
		})
	}
}

// Example tells a brake that wears out.
func Example() {
	w := review.WearOf(stops(4.0, 4.1, 4.2, 4.3))
	fmt.Printf("%.1f s a week, soon: %v\n", w.Week, w.Soon(morning.AddDate(0, 0, 21)))
	// Output: 0.1 s a week, soon: true
}

// TestTheSlowestStopTells: each drive once, by the slower of its stops; not what
// was never timed, nor what was not moving.
func TestTheSlowestStopTells(t *testing.T) {
	for name, times := range map[string][]string{"slower first": {"3.1", "2.2", "1.3"}, "slower last": {"1.3", "2.2", "3.1"}, "alike": {"2.2", "2.2", "2.2"}} {
		t.Run(name, func(t *testing.T) {
			o, n := mower(t), 0
			people := crew(o)
			at := morning
			say := func(c outing.Command) {
				at = at.Add(10 * time.Second)
				meta := record.Meta{ID: fmt.Sprint("s", at.Unix()), By: "ida", At: at}
				events, err := outing.Decide(o, c, meta, people)
				if err != nil {
					t.Fatal(err)
				}
				for _, e := range events {
					o = o.Apply(meta, e)
				}
			}
			for c := outingtest.Next(o, at); c != nil; c = outingtest.Next(o, at) {
				if test, ok := c.(outing.Test); ok && test.Seconds != "" {
					void := test
					void.Result, void.Seconds = round.NotBefore, "4.5"
					say(void)
					if len(review.StopTimes(o)) > n {
						t.Error("what was not moving was timed")
					}
					test.Seconds = times[n%len(times)]
					n++
					c = test
				}
				say(c)
			}
			want := map[string]float64{}
			for i, r := range o.Units[0].Round.Results {
				permit := ""
				if drives := o.Units[0].Round.Stops(i); len(drives) == 1 {
					permit = drives[0]
				}
				if r.Seconds != nil && r.Limit > 0 && *r.Seconds > want[permit] {
					want[permit] = *r.Seconds
				}
			}
			got := review.StopTimes(o)
			if len(got) != len(want) || len(got) == 0 {
				t.Fatalf("%+v, want %v", got, want)
			}
			for _, s := range got {
				if s.Seconds != want[s.Permit] || s.Within != 5 || s.Machine != "m" || s.Outing != "o" || s.At.IsZero() {
					t.Errorf("%+v, want %v", s, want)
				}
			}
		})
	}
}

// TestAPointIsMissedOnce, however many faults it has now.
func TestAPointIsMissedOnce(t *testing.T) {
	first := walkedIn(t, 15*time.Second, nil, morning, false)
	c, _ := machinetest.Of(t, "zero_turn").Sheet.Check("castors")
	for _, f := range c.Faults {
		second := walkedIn(t, 15*time.Second, map[string]string{"castors": f.ID, "roll_bar": "cracked"}, morning.Add(20*time.Hour), false)
		seen := map[string]int{}
		for _, m := range review.MissedBy(second, "m", first) {
			seen[m.Check]++
			if m.Machine != "m" || !m.Found.After(m.At) {
				t.Errorf("%+v", m)
			}
		}
		watch := f.Extent == machine.Early
		if want := 1; seen["roll_bar"] != want || seen["castors"] > 1 || watch && seen["castors"] != 0 || f.Extent == machine.Lost && seen["castors"] != 1 {
			t.Errorf("%s: %v", f.ID, seen)
		}
	}
	third := outingtest.Begin(t, "ida", outingtest.Machine("m", machinetest.Of(t, "zero_turn"), outing.Carried{ID: "d", Check: "roll_bar", Finding: defect.Finding{Grade: defect.Mend}}), nil)
	if missed := review.MissedBy(third, "m", first); len(missed) != 0 {
		t.Errorf("what was known before was missed: %+v", missed)
	}
}
