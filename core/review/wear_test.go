package review_test

import (
	"math"
	"testing"
	"time"

	"vespers/core/review"
)

// weekly makes stopping times a week apart, the last one at morning.
func weekly(within float64, seconds ...float64) []review.Stopped {
	var out []review.Stopped
	for i, s := range seconds {
		out = append(out, review.Stopped{At: morning.Add(time.Duration(i+1-len(seconds)) * 7 * 24 * time.Hour), Seconds: s, Within: within})
	}
	return out
}

func TestWear(t *testing.T) {
	long := weekly(7, 6.5, 6.5, 6.5, 6.5)
	for i := range long {
		long[i].At = long[i].At.Add(-200 * 24 * time.Hour) // before the brake was renewed
	}
	for name, test := range map[string]struct {
		times   []review.Stopped
		few     bool
		week    float64
		reaches float64 // days from morning; 0 for never
		soon    bool
	}{
		"none":              {nil, true, 0, 0, false},
		"too few":           {weekly(7, 3, 4, 5), true, 0, 0, false},
		"steady":            {weekly(7, 3, 3, 3.01, 3, 3.01), false, 0, 0, false},
		"getting better":    {weekly(7, 5, 4.5, 4, 3.5), false, 0, 0, false},
		"wearing out":       {weekly(7, 3, 3.5, 4, 4.5, 5), false, 0.5, 28, true},
		"one late tap":      {weekly(7, 3, 3.5, 6.9, 4.5, 5), false, 0.5, 28, true},
		"over already":      {weekly(4, 3, 3.5, 4, 4.5, 5), false, 0.5, -14, true},
		"slowly":            {weekly(7, 3, 3.1, 3.2, 3.3), false, 0.1, 37 * 7, false},
		"beyond a year":     {weekly(7, 3, 3.03, 3.06, 3.09), false, 0.03, 0, false},
		"old ones left out": {append(long, weekly(7, 3, 3.5, 4, 4.5)...), false, 0.5, 35, true},
	} {
		t.Run(name, func(t *testing.T) {
			w := review.WearOf(test.times)
			reaches := 0.0
			if !w.Reaches.IsZero() {
				reaches = w.Reaches.Sub(morning).Hours() / 24
			}
			if w.Few != test.few || math.Abs(w.Week-test.week) > 1e-9 || math.Abs(reaches-test.reaches) > 1e-3 || w.Soon(morning) != test.soon {
				t.Errorf("%s: %+v, in %v days, soon %v", name, w, reaches, w.Soon(morning))
			}
		})
	}
}

func TestWanted(t *testing.T) {
	worn := review.Wear{Reaches: morning.Add(20 * 24 * time.Hour)}
	ago := func(days int) time.Time { return morning.AddDate(0, 0, -days) }
	for name, test := range map[string]struct {
		interlocks bool
		proved     time.Time
		wear       review.Wear
		want       review.Want
	}{
		"today":               {true, morning, review.Wear{}, review.NothingStandsOut},
		"a week ago":          {true, ago(7), review.Wear{}, review.NothingStandsOut},
		"eight days ago":      {true, ago(8), review.Wear{}, review.LongAgo},
		"never":               {true, time.Time{}, review.Wear{}, review.NeverProved},
		"nothing to prove":    {false, time.Time{}, review.Wear{}, review.NothingStandsOut},
		"a brake comes first": {true, time.Time{}, worn, review.WearsOut},
		"worn, but far off":   {true, morning, review.Wear{Reaches: morning.AddDate(0, 0, 200)}, review.NothingStandsOut},
	} {
		t.Run(name, func(t *testing.T) {
			if got := review.Wanted(test.interlocks, test.proved, test.wear, morning); got != test.want {
				t.Errorf("%s: %d, want %d", name, got, test.want)
			}
		})
	}
}
