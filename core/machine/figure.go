package machine

// The numbers of a sheet that stand in a machine's manual, one by one.

import (
	"encoding/json"
	"maps"
	"slices"
	"strconv"
	"strings"

	"vespers/core/text"
)

// Figure is one number of a sheet that a machine's manual gives: a limit of a
// reading, a slope, a time. Its path names its place by ids and stays the same from
// one edition of a sheet to the next.
type Figure struct {
	Path string
	Kind FigureKind
	// ID is that of the number or the use; Check, Reading and Permit are what it is
	// of.
	ID      string
	Check   *Check
	Reading *Reading
	Permit  *Permit
	// By and At are the condition of the day and its value that a limit is for.
	By   string
	At   float64
	Unit string
	// If says with which ways of options it is there.
	If     If
	Source Source // "" for one whose sheet says none

	place  string // the path without ways of options
	value  func() float64
	put    func(float64)
	source *Source
}

// Under is the path that the figure has once options are settled so: what belongs to
// a way of an option names it in its path until then.
func (f *Figure) Under(fixed Chosen) string {
	var ways []string
	for _, option := range slices.Sorted(maps.Keys(f.If)) {
		if _, settled := fixed[option]; !settled {
			ways = append(ways, option+"="+strings.Join(f.If[option], "+"))
		}
	}
	if len(ways) == 0 {
		return f.place
	}
	return f.place + "?" + strings.Join(ways, "&")
}

// There reports whether the figure is still there once options are settled so.
func (f *Figure) There(fixed Chosen) bool {
	for option, way := range fixed {
		if ways, asks := f.If[option]; asks && !slices.Contains(ways, way) {
			return false
		}
	}
	return true
}

// FigureKind is what a figure says.
type FigureKind string

// The kinds of figure.
const (
	FigureNumber FigureKind = "number"
	FigureSlope  FigureKind = "slope"
	FigureUp     FigureKind = "up"
	FigureNever  FigureKind = "never_above"
	FigureOff    FigureKind = "off"
	FigureLow    FigureKind = "low"
	FigureHigh   FigureKind = "high"
	FigureUneven FigureKind = "uneven"
	FigureHours  FigureKind = "hours"
	FigureMonths FigureKind = "months"
	FigureStop   FigureKind = "stop"
)

// Value is the figure, in its unit.
func (f *Figure) Value() float64 { return f.value() }

// Measure is the figure as a quantity; one of months has none.
func (f *Figure) Measure() text.Measure { return measure(f.value(), f.Unit) }

// Set gives the figure another value, in its unit, and the source it has it from.
func (f *Figure) Set(value float64, from Source) {
	f.put(value)
	if f.Source = from; f.source != nil {
		*f.source = from
	}
}

// figures collects them.
type figures struct {
	out  []Figure
	seen map[string]int
}

// add puts one to the others, at a place of its own.
func (l *figures) add(f Figure, path string, source *Source, value func() float64, put func(float64)) {
	f.place = path
	path = f.Under(nil)
	if l.seen[path]++; l.seen[path] > 1 {
		f.place += "#" + strconv.Itoa(l.seen[path])
		path = f.Under(nil)
	}
	f.Path, f.source, f.value, f.put = path, source, value, put
	if source != nil {
		f.Source = *source
	}
	l.out = append(l.out, f)
}

// at is add for a number that stands where v points.
func (l *figures) at(f Figure, path string, source *Source, v *float64) {
	l.add(f, path, source, func() float64 { return *v }, func(n float64) { *v = n })
}

// Figures lists the numbers of a sheet that a machine's manual gives, in the order
// of the sheet: slopes, times and the like, what stops, what is read. To set one
// sets it in the sheet.
func (s *Sheet) Figures() []Figure {
	l := &figures{seen: map[string]int{}}
	for i := range s.Uses {
		u := &s.Uses[i]
		if u.Limit != nil {
			l.at(Figure{Kind: FigureSlope, ID: u.ID, Unit: u.Unit, If: u.If}, "uses/"+u.ID+"/limit", &u.Source, u.Limit)
		}
		if u.Up != nil {
			l.at(Figure{Kind: FigureUp, ID: u.ID, Unit: u.Unit, If: u.If}, "uses/"+u.ID+"/up", &u.Source, u.Up)
		}
		if u.NeverAbove != nil {
			l.at(Figure{Kind: FigureNever, ID: u.ID, Unit: u.Unit, If: u.If}, "uses/"+u.ID+"/never_above", &u.Source, u.NeverAbove)
		}
	}
	if s.Slopes != nil {
		for i := range s.Slopes.Off {
			off := &s.Slopes.Off[i]
			l.at(Figure{Kind: FigureOff, ID: off.Condition, Unit: "°"}, "slopes/off/"+off.Condition, &s.Slopes.Source, &off.Degrees)
		}
	}
	for i := range s.Numbers {
		n := &s.Numbers[i]
		l.at(Figure{Kind: FigureNumber, ID: n.ID, Unit: n.Unit, If: n.If}, "numbers/"+n.ID, &n.Source, &n.Value)
	}
	for i := range s.Interlock.Permits {
		p := &s.Interlock.Permits[i]
		if p.StopWithin > 0 {
			l.at(Figure{Kind: FigureStop, ID: p.ID, Permit: p, Unit: "s", If: p.If}, "permits/"+p.ID+"/stop_within", nil, &p.StopWithin)
		}
	}
	for i := range s.Checks {
		l.ofCheck(&s.Checks[i])
	}
	return l.out
}

func (l *figures) ofCheck(c *Check) {
	at := "checks/" + c.ID
	// An interval that a model kept is the house's, and still one of its figures.
	if every := c.Every; every != nil && (every.Source == Manual || every.Source == HouseRule) {
		if every.Hours > 0 {
			l.at(Figure{Kind: FigureHours, ID: c.ID, Check: c, Unit: "h", If: c.If}, at+"/every/hours", &every.Source, &every.Hours)
		}
		if every.Months > 0 {
			l.add(Figure{Kind: FigureMonths, ID: c.ID, Check: c, If: c.If}, at+"/every/months", &every.Source,
				func() float64 { return float64(every.Months) }, func(n float64) { every.Months = int(n) })
		}
	}
	for i := range c.Readings {
		l.ofReading(c, &c.Readings[i], at+"/"+c.Readings[i].ID)
	}
	if c.Spot != nil {
		l.ofReading(c, c.Spot, at+"/"+c.Spot.ID)
	}
	if c.Even != nil {
		l.at(Figure{Kind: FigureUneven, ID: c.ID, Check: c, Unit: c.Even.Unit, If: c.If}, at+"/even/max", &c.Even.Source, &c.Even.Max)
	}
}

func (l *figures) ofReading(c *Check, r *Reading, at string) {
	limits := r.Limits
	if limits == nil || r.Kind == "marks" { // a level between marks is read off the machine itself
		return
	}
	ends := func(low, high *float64, by string, value float64, at string) {
		of := Figure{ID: r.ID, Check: c, Reading: r, Unit: r.Unit, If: together(c.If, r.If), By: by, At: value}
		if low != nil {
			of.Kind = FigureLow
			l.at(of, at+"/low", &limits.Source, low)
		}
		if high != nil {
			of.Kind = FigureHigh
			l.at(of, at+"/high", &limits.Source, high)
		}
	}
	if limits.By == "" {
		ends(limits.Low, limits.High, "", 0, at)
		return
	}
	for i := range limits.Bands {
		b := &limits.Bands[i]
		ends(b.Low, b.High, limits.By, b.At, at+"/"+strconv.FormatFloat(b.At, 'g', -1, 64))
	}
}

// together is what holds where two conditions hold.
func together(a, b If) If {
	if len(b) == 0 {
		return a
	}
	out := If{}
	for option, ways := range a {
		out[option] = ways
	}
	for option, ways := range b {
		out[option] = ways
	}
	return out
}

// Copy is a sheet of its own, with nothing shared.
func (s *Sheet) Copy() *Sheet {
	if s.whole != nil {
		s = s.whole
	}
	body, err := json.Marshal(s)
	if err != nil {
		panic("machine: a sheet that cannot be written: " + err.Error())
	}
	out := &Sheet{}
	if err := json.Unmarshal(body, out); err != nil {
		panic("machine: a sheet that cannot be read: " + err.Error())
	}
	return out
}
