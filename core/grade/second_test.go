package grade

// The judge written a second time, from the text of the rules alone: in the units of
// the sheet, with maps of words, and with nothing of the first.

import (
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"vespers/core/machine"
	"vespers/core/unit"
)

// second is what the second judge says.
type second struct {
	grade       int // 0 sound … 3 halt
	hours       *float64
	date        *time.Time
	takes       map[string]bool
	refused     map[string]bool
	notReleased bool
	extents     []string
	grades      []int
}

var (
	scale = []string{"sound", "watch", "mend", "halt"}
	table = map[string]string{ // early, degraded, lost
		"A": "133", "B": "133", "C": "333", "D": "233", "E": "123", "F": "122", "G": "122", "H": "112",
	}
)

const hair = 1e-9

// inUnit is a number of a finding in the unit of the reading.
func inUnit(v float64, from, to string) float64 {
	if from == "" || from == to {
		return v
	}
	a, _ := unit.Find(from)
	b, _ := unit.Find(to)
	return b.In(a.Of(v))
}

// spanIn is a difference likewise.
func spanIn(v float64, from, to string) float64 {
	if from == "" || from == to {
		return v
	}
	a, _ := unit.Find(from)
	b, _ := unit.Find(to)
	return b.Steps(a.Span(v))
}

type judged struct {
	check   *machine.Check
	reading *machine.Reading
	fault   *machine.Fault
	value   float64
	unsure  float64
	extent  string
	class   string
}

func (c Case) bounds(r *machine.Reading) (low, high *float64) {
	l := r.Limits
	if l == nil {
		return nil, nil
	}
	if l.By == "" {
		return l.Low, l.High
	}
	x := c.Conditions[l.By]
	at := func(pick func(machine.Band) *float64) *float64 {
		first, last := l.Bands[0], l.Bands[len(l.Bands)-1]
		if x <= first.At {
			return pick(first)
		}
		if x >= last.At {
			return pick(last)
		}
		for i := 1; i < len(l.Bands); i++ {
			a, b := l.Bands[i-1], l.Bands[i]
			if x >= a.At && x <= b.At && b.At > a.At {
				p, q := pick(a), pick(b)
				if p == nil || q == nil {
					return nil
				}
				v := *p + (*q-*p)*(x-a.At)/(b.At-a.At)
				return &v
			}
		}
		return nil
	}
	return at(func(b machine.Band) *float64 { return b.Low }), at(func(b machine.Band) *float64 { return b.High })
}

// extentOf says how far gone a reading is.
func (c Case) extent2(j judged) string {
	low, high := c.bounds(j.reading)
	worst := 0
	for i, limit := range []*float64{low, high} {
		if limit == nil {
			continue
		}
		far := j.value - *limit
		if i == 1 {
			far = -far
		}
		l := j.reading.Limits
		if n := oneSide2(far, j.unsure, l, strings.Contains("ABCD", j.class) || l.Safety); n > worst {
			worst = n
		}
	}
	return []string{"sound", "early", "degraded", "lost"}[worst]
}

func oneSide2(far, u float64, l *machine.Limits, safety bool) int {
	less := func(margin float64) bool { // within a margin
		if margin <= 0 {
			return false
		}
		if l.Inclusive {
			return far < margin-hair
		}
		return far <= margin+hair
	}
	if far < -hair || far <= hair && !l.Inclusive {
		return 3
	}
	near, early := u, 2*u
	if l.Near != nil {
		near = *l.Near
	}
	if l.Early != nil {
		early = *l.Early
	}
	if safety {
		switch {
		case less(u):
			return 3
		case less(near):
			return 2
		case less(early):
			return 1
		}
		return 0
	}
	if near > u+hair && less(near) {
		return 2
	}
	if less(math.Max(u, early)) {
		return 1
	}
	return 0
}

// look reads one answer; ok is false for what the sheet does not have.
func (c Case) look(sheet *machine.Sheet, f Finding) (j judged, ok bool) {
	for i := range sheet.Checks {
		if sheet.Checks[i].ID == f.Check {
			j.check = &sheet.Checks[i]
		}
	}
	if j.check == nil {
		return j, false
	}
	j.class, j.extent = string(j.check.Class), "sound"
	if f.Fault != "" {
		for i := range j.check.Faults {
			if j.check.Faults[i].ID == f.Fault {
				j.fault = &j.check.Faults[i]
			}
		}
		if j.fault == nil {
			return j, false
		}
		if j.fault.Class != "" {
			j.class = string(j.fault.Class)
		}
		j.extent = string(j.fault.Extent)
		return j, true
	}
	if f.Reading == nil {
		return j, true
	}
	all := slices.Clone(j.check.Readings)
	if j.check.Spot != nil {
		all = append(all, *j.check.Spot)
	}
	for i := range all {
		if all[i].ID == f.Of || f.Of == "" && len(all) == 1 {
			j.reading = &all[i]
		}
	}
	if j.reading == nil {
		return j, false
	}
	to := j.reading.Unit
	j.value, j.unsure = inUnit(*f.Reading, f.Unit, to), j.reading.Uncertainty
	if f.Uncertainty != nil {
		j.unsure = spanIn(*f.Uncertainty, f.Unit, to)
	}
	if f.Again != nil {
		other := inUnit(*f.Again, f.Unit, to)
		low, high := c.bounds(j.reading)
		depth := func(v float64) float64 {
			d := math.Inf(1)
			if low != nil {
				d = math.Min(d, v-*low)
			}
			if high != nil {
				d = math.Min(d, *high-v)
			}
			return d
		}
		strict := strings.Contains("ABCD", j.class) || j.reading.Limits != nil && j.reading.Limits.Safety
		heard := f.Slip != nil && f.Slip.Who != "" && c.Who != "" && f.Slip.Who != c.Who
		switch {
		case !strict:
			j.value = other
		case heard:
			if f.Slip.Which == "first" {
				j.value = other
			}
		case depth(other) < depth(j.value):
			j.value = other
		}
	}
	j.extent = c.extent2(j)
	return j, true
}

func (c Case) nothing(f Finding, j judged) bool { // a fault taken back
	t := f.TakenBack
	if j.fault == nil || t == nil || strings.TrimSpace(t.Who) == "" || strings.TrimSpace(t.Why) == "" {
		return false
	}
	if !strings.Contains("ABCD", j.class) {
		return true
	}
	return t.Second != "" && t.Second != t.Who && t.Second != c.Who
}

// judgeAgain judges a case that can be judged.
func (c Case) judgeAgain(sheet *machine.Sheet) second {
	days, within, leak := 7, 5, false
	if c.House != nil {
		if c.House.MendDays != nil {
			days = *c.House.MendDays
		}
		if c.House.AgainWithin != nil {
			within = *c.House.AgainWithin
		}
		leak = c.House.LeakIsHalt != nil && *c.House.LeakIsHalt
	}
	out := second{takes: map[string]bool{}, refused: map[string]bool{}}

	// What stands on Watch by the table, by system.
	watches := map[string]map[string]bool{}
	note := func(id string) {
		for _, k := range sheet.Checks {
			if k.ID == id && k.System != "" {
				if watches[k.System] == nil {
					watches[k.System] = map[string]bool{}
				}
				watches[k.System][id] = true
			}
		}
	}
	byTable := func(j judged) int {
		if j.extent == "sound" {
			return 0
		}
		column := map[string]int{"early": 0, "degraded": 1, "lost": 2}[j.extent]
		g := int(table[j.class][column] - '0')
		if j.fault != nil && j.fault.HoseBody {
			g = 3
		} else if j.class == "D" && column == 0 && leak {
			g = 3
		}
		if j.class == "G" && column == 2 && j.check.Critical {
			g = 3
		}
		return g
	}
	for _, f := range c.Findings {
		j, _ := c.look(sheet, f)
		if byTable(j) == 1 && !(f.PutRight && j.fault != nil && j.fault.PutRight != nil) && !c.nothing(f, j) {
			note(f.Check)
		}
	}
	for _, k := range c.Carried {
		if k.Grade == "watch" {
			note(k.Check)
		}
	}

	type due struct {
		hours *float64
		date  *time.Time
	}
	var dues []due
	earlier := func(a *float64, b float64) *float64 {
		if a == nil || b < *a {
			return &b
		}
		return a
	}
	sooner := func(a *time.Time, b time.Time) *time.Time {
		if a == nil || b.Before(*a) {
			return &b
		}
		return a
	}
	add := func(t time.Time, hours float64) time.Time { return t.Add(time.Duration(hours * float64(time.Hour))) }

	for _, f := range c.Findings {
		j, _ := c.look(sheet, f)
		g := byTable(j)
		out.extents = append(out.extents, j.extent)
		if f.PutRight && j.fault != nil && j.fault.PutRight != nil || c.nothing(f, j) {
			out.grades = append(out.grades, 0)
			continue
		}
		when := *c.At
		if f.At != nil {
			when = *f.At
		}
		var d due
		in := func(hours float64) {
			if c.Hours != nil {
				d.hours = earlier(d.hours, *c.Hours+hours)
			} else {
				d.date = sooner(d.date, add(when, hours))
			}
		}
		if j.class == "D" && j.extent == "early" && g == 2 {
			in(2)
		}
		if j.extent != "sound" {
			c.restrict(out.takes, j)
		}
		if g > 0 && g < 3 && (c.again(sheet, f, j, within) || c.notHeld(f, j, within) || len(watches[j.check.System]) >= 2) {
			if !strings.Contains("FGH", j.class) || g < 2 {
				g++
			}
		}
		if j.reading != nil && j.extent != "lost" && g < 3 {
			if left, ok := c.crossing(f, j); ok && left <= 10+hair {
				g = max(g, 2)
				if table[j.class][2] == '3' || j.class == "G" && j.check.Critical {
					in(left)
				}
			}
		}
		if g == 2 {
			d.date = sooner(d.date, when.Add(time.Duration(days)*24*time.Hour))
			if d.date.Before(*c.At) || d.hours != nil && *c.Hours > *d.hours {
				g = 3 // its deadline is over
			} else {
				dues = append(dues, d)
			}
		}
		out.grades = append(out.grades, g)
		out.grade = max(out.grade, g)
	}
	for _, k := range c.Carried {
		g := slices.Index(scale, string(k.Grade))
		for _, r := range k.Restrictions {
			out.takes[string(r)] = true
		}
		if g == 2 {
			d := due{k.Deadline.Hours, k.Deadline.At}
			if d.date == nil && k.At != nil {
				d.date = sooner(nil, k.At.Add(time.Duration(days)*24*time.Hour))
			}
			if d.hours != nil && c.Hours == nil {
				d.date, d.hours = sooner(d.date, add(*k.At, *d.hours-*k.Hours)), nil
			}
			if d.hours != nil && *c.Hours > *d.hours || d.date != nil && c.At.After(*d.date) {
				g = 3
			} else {
				dues = append(dues, d)
			}
		}
		out.grade = max(out.grade, g)
	}
	out.grade = max(out.grade, c.uneven2(sheet, out.takes, &dues2{days: days, at: *c.At, add: func(t time.Time) { dues = append(dues, due{nil, &t}) }}))
	for _, d := range dues {
		if d.hours != nil {
			out.hours = earlier(out.hours, *d.hours)
		}
		if d.date != nil {
			out.date = sooner(out.date, *d.date)
		}
	}
	// Every use taken away.
	left := false
	for _, use := range sheet.Uses {
		left = left || !taken2(out.takes, use.ID, nil)
	}
	if !left {
		out.grade = 3
	}
	for i, test := range c.Tests {
		switch test.Outcome {
		case "failed":
			out.grade = 3
		case "void":
			again := false
			for _, later := range c.Tests[i+1:] {
				again = again || later.ID == test.ID && later.Outcome == "passed"
			}
			out.notReleased = out.notReleased || !again
		}
	}
	if c.Begun != nil {
		end := time.Date(c.Begun.Year(), c.Begun.Month(), c.Begun.Day(), 4, 0, 0, 0, c.Begun.Location())
		for !end.After(*c.Begun) {
			end = end.Add(24 * time.Hour)
		}
		out.notReleased = out.notReleased || !c.At.Before(end)
	}
	out.notReleased = out.notReleased || out.grade == 3
	for _, use := range c.Uses {
		if c.refuses(sheet, out.takes, use) {
			out.refused[use] = true
		}
	}
	if c.PlannedHours != nil {
		past := out.hours != nil && c.Hours != nil && *c.Hours+*c.PlannedHours > *out.hours+hair
		past = past || out.date != nil && add(*c.At, *c.PlannedHours).After(*out.date)
		if past {
			out.refused["hours"] = true
		}
	}
	return out
}

// dues2 collects the dates of pairs that differ.
type dues2 struct {
	days int
	at   time.Time
	add  func(time.Time)
}

// uneven2 is the worst grade of pairs that differ, with what they take away.
func (c Case) uneven2(sheet *machine.Sheet, takes map[string]bool, d *dues2) int {
	worst := 0
	for i := range sheet.Checks {
		k := &sheet.Checks[i]
		if k.Even == nil {
			continue
		}
		var latest time.Time
		for _, pair := range k.Even.Pairs {
			for _, name := range pair {
				point, item := k.ID, name
				if a, b, cut := strings.Cut(name, "."); cut {
					point, item = a, b
				}
				for _, f := range c.Findings {
					j, _ := c.look(sheet, f)
					when := d.at
					if f.At != nil {
						when = *f.At
					}
					if f.Check == point && j.reading != nil && j.reading.ID == item && when.After(latest) {
						latest = when
					}
				}
			}
		}
		for _, pair := range k.Even.Pairs {
			var at []float64
			for _, name := range pair {
				point, item := k.ID, name
				if a, b, cut := strings.Cut(name, "."); cut {
					point, item = a, b
				}
				var last *float64
				for _, f := range c.Findings {
					j, _ := c.look(sheet, f)
					if f.Check == point && j.reading != nil && j.reading.ID == item {
						v := inUnit(j.value, j.reading.Unit, k.Even.Unit)
						last = &v
					}
				}
				if last != nil {
					at = append(at, *last)
				}
			}
			if len(at) == 2 && math.Abs(at[0]-at[1]) > k.Even.Max+hair {
				j := judged{check: k, class: string(k.Class), extent: "lost"}
				g := int(table[j.class][2] - '0')
				if j.class == "G" && k.Critical {
					g = 3
				}
				for _, r := range k.Restrict {
					takes[r] = r != "none" || takes[r]
				}
				delete(takes, "none")
				if j.class == "D" || j.class == "E" {
					takes["no_fine_turf"] = true
				}
				if until := latest.Add(time.Duration(d.days) * 24 * time.Hour); g == 2 && until.Before(d.at) {
					g = 3
				} else if g == 2 {
					d.add(until)
				}
				worst = max(worst, g)
			}
		}
	}
	return worst
}

func (c Case) restrict(takes map[string]bool, j judged) {
	var names []string
	switch {
	case j.fault != nil:
		names = append(names, j.fault.Restrict...)
	case j.extent == "lost", j.class == "F" && j.extent == "degraded":
		names = append(names, j.check.Restrict...)
	}
	if j.class == "D" || j.class == "E" {
		names = append(names, "no_fine_turf")
	}
	if j.class == "D" && j.extent == "early" && !(j.fault != nil && j.fault.HoseBody) {
		names = append(names, "recheck_two_hours")
	}
	for _, n := range names {
		if n != "none" {
			takes[n] = true
		}
	}
}

func (c Case) again(sheet *machine.Sheet, f Finding, j judged, within int) bool {
	for i, p := range c.History {
		if p.Check != f.Check || p.Ago == nil || *p.Ago > within || p.Repaired || p.Replaced {
			continue
		}
		k, ok := c.look(sheet, p)
		if !ok || k.extent == "sound" || c.nothing(p, k) {
			continue
		}
		if k.reading != nil && j.reading != nil && k.reading.ID != j.reading.ID {
			continue
		}
		over := p.PutRight
		for _, q := range c.History[i+1:] {
			if q.Check != p.Check {
				continue
			}
			if q.Repaired || q.Replaced {
				over = over || q.Of == "" || k.reading != nil && q.Of == k.reading.ID
			} else if q.Sound && k.fault != nil {
				over = true
			}
		}
		if over {
			return true
		}
	}
	return false
}

func (c Case) notHeld(f Finding, j judged, within int) bool {
	for _, p := range c.History {
		if p.Check == f.Check && (p.Repaired || p.Replaced) && p.Ago != nil && *p.Ago <= within && (p.Of == "" || j.reading != nil && p.Of == j.reading.ID) {
			return true
		}
	}
	return false
}

// crossing is in how many hours of work the reading comes to a limit.
func (c Case) crossing(f Finding, j judged) (float64, bool) {
	low, high := c.bounds(j.reading)
	var hours, values []float64
	for _, p := range c.History {
		if p.Check != f.Check {
			continue
		}
		if p.Replaced && (p.Of == "" || p.Of == j.reading.ID) {
			hours, values = nil, nil
		}
		if p.Repaired || p.Replaced || p.Reading == nil || p.Hours == nil {
			continue
		}
		if k, ok := c.look2(j, p); ok {
			hours, values = append(hours, *p.Hours), append(values, k)
		}
	}
	now := 0.0
	if c.Hours != nil {
		now = *c.Hours
	}
	hours, values = append(hours, now), append(values, j.value)
	var slope, base float64
	if c.Hours != nil && len(hours) >= 3 && slices.Max(hours)-slices.Min(hours) >= 5-hair {
		var slopes []float64
		for a := range hours {
			for b := a + 1; b < len(hours); b++ {
				if hours[a] != hours[b] {
					slopes = append(slopes, (values[b]-values[a])/(hours[b]-hours[a]))
				}
			}
		}
		slope = mid(slopes)
		var rest []float64
		for i := range hours {
			rest = append(rest, values[i]-slope*hours[i])
		}
		base = mid(rest)
	} else if j.reading.Wear != nil {
		slope = *j.reading.Wear
		base = j.value - slope*now
	} else {
		return 0, false
	}
	unsure := 0.0
	if j.reading.Limits != nil && (strings.Contains("ABCD", j.class) || j.reading.Limits.Safety) {
		unsure = j.unsure
	}
	best, found := 0.0, false
	try := func(target float64) {
		left := math.Max(0, (target-base)/slope-now)
		if !found || left < best {
			best, found = left, true
		}
	}
	if low != nil && slope < 0 {
		try(*low + unsure)
	}
	if high != nil && slope > 0 {
		try(*high - unsure)
	}
	return best, found
}

// look2 is the value of a reading of the past, if it is of the same reading.
func (c Case) look2(j judged, p Finding) (float64, bool) {
	id := p.Of
	if id == "" {
		id = j.reading.ID
	}
	if id != j.reading.ID {
		return 0, false
	}
	sheet := &machine.Sheet{Checks: []machine.Check{*j.check}}
	k, ok := c.look(sheet, p)
	return k.value, ok && k.reading != nil
}

func mid(list []float64) float64 {
	list = slices.Clone(list)
	slices.Sort(list)
	if n := len(list); n%2 == 0 {
		return (list[n/2-1] + list[n/2]) / 2
	}
	return list[len(list)/2]
}

func taken2(takes map[string]bool, use string, degrees *float64) bool {
	by := map[string][]string{"slope": {"no_slope"}, "wet_slope": {"no_slope", "no_wet_slope"}, "fine_turf": {"no_fine_turf"}, "near_public": {"no_near_public"},
		"road": {"no_road"}, "dusk": {"daylight_only"}, "dry_dust": {"damp_ground_only"}, "under_trees": {"no_under_trees"}}
	for _, r := range by[use] {
		if takes[r] && !(r == "no_slope" && degrees != nil && *degrees < 3-hair) {
			return true
		}
	}
	return false
}

func (c Case) refuses(sheet *machine.Sheet, takes map[string]bool, use string) bool {
	name, n, steep := strings.Cut(use, ":")
	var degrees *float64
	if steep {
		d, _ := strconv.ParseFloat(n, 64)
		degrees = &d
	}
	for _, u := range sheet.Uses {
		if u.ID != name {
			continue
		}
		if degrees != nil && u.Limit != nil {
			limit := inUnit(*u.Limit, u.Unit, "°")
			if u.Up != nil {
				limit = math.Min(limit, inUnit(*u.Up, u.Unit, "°"))
			}
			if *degrees >= limit-hair {
				return true
			}
		}
		return taken2(takes, name, degrees)
	}
	return true
}
