package review

// How long drives take to stop, and where that leads.

import (
	"time"

	"vespers/core/outing"
	"vespers/core/round"
	"vespers/core/trend"
)

// Stopped is how long a drive took to stop in an outing, and how long it may, in
// seconds.
type Stopped struct {
	Outing  string    `json:"outing"`
	At      time.Time `json:"at"`
	Seconds float64   `json:"seconds"`
	Within  float64   `json:"within"`
}

// StopTime is a drive that was timed.
type StopTime struct {
	Machine, Permit string
	Stopped
}

// StopTimes lists the drives timed in the outing, each as it was timed last: a
// stop near its limit is timed twice.
func StopTimes(o *outing.Outing) []StopTime {
	var out []StopTime
	for _, u := range o.Units {
		last := map[string]int{}
		for i, r := range u.Round.Results {
			if r.Seconds == nil || r.Limit == 0 || r.Outcome == round.Void {
				continue
			}
			drives := u.Round.Stops(i)
			if len(drives) != 1 {
				continue // whose time it is cannot be told
			}
			permit := drives[0]
			t := StopTime{o.OwnerOf(u, permit).Machine, permit, Stopped{o.ID, r.Meta.At.UTC(), *r.Seconds, r.Limit}}
			if at, ok := last[permit]; ok {
				// The slower of two stops of one drive tells of wear.
				if t.Seconds > out[at].Seconds {
					out[at] = t
				}
				continue
			}
			last[permit] = len(out)
			out = append(out, t)
		}
	}
	return out
}

// Wear is where the stopping times of a drive lead.
type Wear struct {
	Few     bool      // too few times for a line
	Week    float64   // how much longer the drive takes each week, in seconds; 0 if steady
	Reaches time.Time // when it comes to its limit, if it goes on so; zero if not within a year
}

const (
	// wearDays is how far back from the last stopping time the others count.
	wearDays = 120
	// steadyBelow is how much a week cannot be told by tapping, in seconds.
	steadyBelow = 0.02
	// season is how far ahead a brake that wears out is worth a word (house rule).
	season = 120 * day
	// farthest is how many days ahead a limit is reckoned at all.
	farthest = 365
	day      = 24 * time.Hour
)

// Soon reports whether the drive comes to its limit within a season from now.
func (w Wear) Soon(now time.Time) bool {
	return !w.Reaches.IsZero() && w.Reaches.Before(now.Add(season))
}

// Over reports whether the line has passed the limit already.
func (w Wear) Over(now time.Time) bool { return !w.Reaches.IsZero() && w.Reaches.Before(now) }

// WearOf looks at the times of one drive, oldest first.
func WearOf(times []Stopped) Wear {
	if len(times) == 0 {
		return Wear{Few: true}
	}
	last := times[len(times)-1]
	line, ok := trend.Fit(StopPoints(times))
	if !ok {
		return Wear{Few: true}
	}
	if line.Slope*7 < steadyBelow {
		return Wear{}
	}
	w := Wear{Week: line.Slope * 7}
	today := last.At.Sub(recent(times)[0].At).Hours() / 24
	left := (last.Within - line.Value(today)) / line.Slope
	if left < farthest {
		w.Reaches = last.At.Add(time.Duration(left * float64(day)))
	}
	return w
}

// StopPoints are the times that count for a drive's wear, by days from the first
// of them.
func StopPoints(times []Stopped) []trend.Point {
	var points []trend.Point
	times = recent(times)
	for _, t := range times {
		points = append(points, trend.Point{At: t.At.Sub(times[0].At).Hours() / 24, Value: t.Seconds})
	}
	return points
}

// recent leaves out what is too long before the last time.
func recent(times []Stopped) []Stopped {
	for i, t := range times {
		if times[len(times)-1].At.Sub(t.At) <= wearDays*day {
			return times[i:]
		}
	}
	return nil
}
