package outings

// A reading on the walk: its band, its keypad, what was read before.

import (
	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/text"
	"vespers/core/unit"
	"vespers/tell"
	"vespers/web/page"
)

// readingView is a reading in the person's own unit.
type readingView struct {
	Name, Tool, Kind string
	Unit             string
	New              string // the value of a new part, in words
	Band             *band
	Marks            []markChoice
}

// markChoice is one line of a dipstick.
type markChoice struct {
	Value string
	Words string
	Level string
}

// band shows where a typed value stands; every number is in the person's unit.
type band struct {
	Low, High   float64 // ends of the scale
	LowText     string
	HighText    string
	Source      string
	GoodX       float64
	GoodW       float64
	LowX, HighX float64
}

// newReading prepares a reading for the keypad, in the person's unit.
func newReading(v *page.Visit, c *machine.Check, r *machine.Reading) *readingView {
	u := v.Unit(r.Unit)
	view := &readingView{Name: v.Text(r.Name), Tool: v.Text(r.Tool), Kind: r.Kind, Unit: u.Symbol}
	if r.New != nil {
		view.New = tell.Reading(v.Voice, c, r, r.Measure(*r.New).Quantity)
	}
	if r.Kind == "marks" {
		for _, l := range tell.Levels() {
			view.Marks = append(view.Marks, markChoice{Value: l.Typed, Words: v.T(l.Key), Level: l.Typed})
		}
	}
	if r.Limits != nil && r.Kind != "marks" {
		view.Band = newBand(v, c, r, u)
	}
	return view
}

// limit is written in the person's unit, on its safe side.
func limit(v *page.Visit, r *machine.Reading, value float64, u unit.Unit, low bool) string {
	if u.Symbol == r.Unit {
		return v.Amount(r.Measure(value))
	}
	shown, places := defect.Inside(r, value, u, low)
	return v.AmountTo(text.Measure{Quantity: u.Of(shown), Unit: r.Unit}, places)
}

// newBand lays out the scale with the good band in its middle third or so.
func newBand(v *page.Visit, c *machine.Check, r *machine.Reading, u unit.Unit) *band {
	in := func(value float64) float64 { return u.In(r.Measure(value).Quantity) }
	low, high := in(r.Range[0]), in(r.Range[1])
	b := &band{Source: v.T("source." + string(r.Limits.Source))}
	good := [2]float64{low, high}
	if r.Limits.Low != nil {
		good[0] = in(*r.Limits.Low)
		b.LowText = limit(v, r, *r.Limits.Low, u, true)
	}
	if r.Limits.High != nil {
		good[1] = in(*r.Limits.High)
		b.HighText = limit(v, r, *r.Limits.High, u, false)
	}
	width := good[1] - good[0]
	switch {
	case r.Limits.Low == nil:
		width = good[1] - low
	case r.Limits.High == nil && r.New != nil:
		good[1] = in(*r.New)
		width = good[1] - good[0]
	case r.Limits.High == nil:
		width = good[0]
		good[1] = min(high, good[0]*1.4)
	}
	b.Low, b.High = max(low, good[0]-width*0.6), min(high, good[1]+width*0.6)
	scale := func(value float64) float64 { return 1000 * (value - b.Low) / (b.High - b.Low) }
	b.GoodX, b.GoodW = scale(good[0]), scale(good[1])-scale(good[0])
	b.LowX, b.HighX = scale(good[0]), scale(good[1])
	return b
}
