package ground

// Reading what is measured from files.

import (
	"math"

	"vespers/core/strict"
	"vespers/core/text"
)

var (
	whereSlot = text.Slot{Name: "where", Kind: text.Name}

	ruleBoth    = text.NewRule("ground.limit_and_slope")
	ruleLess    = text.NewRule("ground.never_above_less", whereSlot)
	ruleReading = text.NewRule("ground.reading_says_nothing", whereSlot)
	ruleAlone   = text.NewRule("ground.only_with_slope", whereSlot)
	ruleDoubt   = text.NewRule("ground.doubt_of_all", whereSlot)
	ruleAngle   = text.NewRule("ground.strap_angle", whereSlot)
	ruleTongue  = text.NewRule("ground.tongue_percent", whereSlot)
)

type reader struct{ *strict.Reader }

// doubts is the object of the doubts of an object, which has one for each of its numbers.
func (r reader) doubts(o *strict.Object, numbers ...string) *strict.Object {
	u := r.Object(o, "u", numbers...)
	for _, number := range numbers {
		r.Needed(u, number)
	}
	return u
}

// measured is a number of an object with its doubt.
func (r reader) measured(o, doubts *strict.Object, word string) Measured {
	return Measured{r.Needed(o, word), r.Number(doubts, word)}
}

// length is a measured number that is not none.
func (r reader) length(o, doubts *strict.Object, word string) Measured {
	return Measured{r.Positive(o, word), r.Number(doubts, word)}
}

// BankFile is a bank as it stands in a file: its readings, and for what it is judged.
// Limits is nil where nobody gave any.
type BankFile struct {
	Bank
	Limits    *Limits
	Direction string
}

// ReadBank reads a bank; the error is a *record.Refused.
func ReadBank(data []byte) (BankFile, error) {
	file, top := strict.Read(data)
	r := reader{file}
	r.Known(top, "readings", "needed", "reverse_test", "limit", "never_above", "slope", "options", "conditions", "restrictions", "practised")
	b := BankFile{Bank: Bank{Needed: Needs}}
	for _, o := range r.Objects(top, "readings", r.Some(top, "readings")) {
		b.Readings = append(b.Readings, r.reading(o))
	}
	if top.Has("needed") {
		b.Needed = r.whole(top, "needed")
	}
	if top.Has("reverse_test") {
		b.ReverseFailed = r.OneOf(top, "reverse_test", "failed", "passed") == "failed"
	}
	b.Limits, b.Direction = r.limits(top)
	return b, r.Err
}

// whole is a count that has to be there.
func (r reader) whole(o *strict.Object, word string) int {
	n := r.Needed(o, word)
	if n != math.Trunc(n) || n > 100 {
		r.NoNumber(o, word)
	}
	return int(n)
}

func (r reader) reading(o *strict.Object) Reading {
	out := Reading{Kind: r.OneOf(o, "kind", ByAngle, ByDrop, ByRiseRun, ByPercent)}
	words := map[string][]string{ByAngle: {"angle"}, ByDrop: {"drop", "length"}, ByRiseRun: {"rise", "run"}, ByPercent: {"percent"}}[out.Kind]
	if words == nil {
		return out
	}
	r.Known(o, append([]string{"kind", "u"}, words...)...)
	u := r.doubts(o, words...)
	if out.Up = r.measured(o, u, words[0]); len(words) > 1 {
		out.Along = r.length(o, u, words[1])
	}
	if _, ok := out.Worst(); !ok {
		r.Refuse(ruleReading.Says(o.Where))
	}
	return out
}

// limits are those of a file, given as such or as a sheet has them.
func (r reader) limits(top *strict.Object) (l *Limits, direction string) {
	if top.Has("slope") {
		if top.Has("limit") || top.Has("never_above") {
			r.Refuse(ruleBoth.Says())
		}
		slope := r.slope(r.Object(top, "slope", "tiers", "wet", "off", "direction"))
		limits := slope.Limits(r.under(top))
		return &limits, slope.Direction
	}
	for _, word := range []string{"options", "conditions", "restrictions", "practised"} {
		if top.Has(word) {
			r.Refuse(ruleAlone.Says(word)) // a number given as such knows nothing of them
		}
	}
	if !top.Has("limit") {
		if top.Has("never_above") {
			r.Missing(top, "limit")
		}
		return nil, ""
	}
	limits := r.tier(top)
	return &limits, ""
}

// tier reads a limit and the one never gone above, which is the same if left out.
func (r reader) tier(o *strict.Object) Limits {
	l := Limits{Limit: r.Needed(o, "limit")}
	l.NeverAbove = l.Limit
	if o.Has("never_above") {
		if l.NeverAbove = r.Needed(o, "never_above"); l.NeverAbove < l.Limit-equal {
			r.Refuse(ruleLess.Says(o.Where))
		}
	}
	return l
}

func (r reader) slope(o *strict.Object) Slope {
	s := Slope{Tiers: r.tiers(o, "tiers"), Wet: r.tiers(o, "wet"), Off: map[string]float64{}}
	if o.Has("direction") {
		s.Direction = r.OneOf(o, "direction", UpDown, Across, AnyWays)
	}
	if !o.Has("off") {
		return s
	}
	off := r.Object(o, "off", Conditions()[1:]...)
	for _, c := range off.Words {
		if off.Value(c) == "flat" {
			s.OffFlat = append(s.OffFlat, c)
			continue
		}
		s.Off[c] = r.Needed(off, c)
	}
	return s
}

func (r reader) tiers(o *strict.Object, word string) (out []Tier) {
	for _, one := range r.Objects(o, word, r.List(o, word), "when", "limit", "never_above") {
		l := r.tier(one)
		t := Tier{Limit: l.Limit, NeverAbove: l.NeverAbove}
		if one.Has("when") {
			t.When = map[string][]string{}
			for option, way := range r.ways(one, "when") {
				t.When[option] = []string{way}
			}
		}
		out = append(out, t)
	}
	return out
}

// ways is how options stand.
func (r reader) ways(o *strict.Object, word string) map[string]string {
	out := map[string]string{}
	ways := r.Object(o, word)
	for _, option := range ways.Words {
		out[option] = r.Word(ways, option)
	}
	return out
}

func (r reader) under(top *strict.Object) Under {
	u := Under{Conditions: r.words(top, "conditions", Conditions()), Restrictions: r.Words(top, "restrictions", r.List(top, "restrictions")), Practised: r.Yes(top, "practised")}
	if top.Has("options") {
		u.Options = r.ways(top, "options")
	}
	return u
}

// ReadRamp reads a ramp; the error is a *record.Refused.
func ReadRamp(data []byte) (Ramp, error) {
	file, o := strict.Read(data)
	r := reader{file}
	r.Known(o, "height", "length", "width", "u", "limit", "machine_width", "margin")
	u := r.doubts(o, "height", "length", "width")
	out := Ramp{Height: r.measured(o, u, "height"), Length: r.length(o, u, "length"), Width: r.length(o, u, "width"),
		Limit: r.Needed(o, "limit"), MachineWidth: r.Positive(o, "machine_width"), Margin: r.margin(o, RampMargin)}
	return out, r.Err
}

// margin is one that has a usual value.
func (r reader) margin(o *strict.Object, usual float64) float64 {
	if !o.Has("margin") {
		return usual
	}
	return r.Needed(o, "margin")
}

// ReadBridge reads a load and the bridges on its way; the error is a *record.Refused.
func ReadBridge(data []byte) (Bridge, error) {
	file, o := strict.Read(data)
	r := reader{file}
	r.Known(o, "height", "u", "margin", "bridges", "legal")
	out := Bridge{Height: r.length(o, r.doubts(o, "height"), "height"), Margin: r.margin(o, BridgeMargin), Legal: r.Positive(o, "legal")}
	if !o.Has("bridges") {
		r.Missing(o, "bridges") // none is said, and not left out
	}
	out.Bridges = r.Numbers(o, "bridges", r.List(o, "bridges"))
	return out, r.Err
}

// ReadTow reads a trailer; the error is a *record.Refused.
func ReadTow(data []byte) (Tow, error) {
	file, o := strict.Read(data)
	r := reader{file}
	r.Known(o, "trailer", "vehicle", "machines", "tongue", "tongue_percent")
	trailer := r.Object(o, "trailer", "mass", "u", "gross")
	out := Tow{Trailer: r.length(trailer, r.doubts(trailer, "mass"), "mass"), Gross: r.Positive(trailer, "gross"),
		Rating: r.Positive(r.Object(o, "vehicle", "rating"), "rating"), Low: TongueLow, High: TongueHigh}
	if !o.Has("machines") {
		r.Missing(o, "machines")
	}
	for _, m := range r.Objects(o, "machines", r.List(o, "machines"), "mass", "u") {
		out.Machines = append(out.Machines, r.length(m, r.doubts(m, "mass"), "mass"))
	}
	if o.Has("tongue") {
		if tongue := r.Object(o, "tongue", "load", "u"); tongue.Has("load") {
			load := r.measured(tongue, r.doubts(tongue, "load"), "load")
			out.Tongue = &load
		}
	}
	if o.Has("tongue_percent") {
		shares := r.Numbers(o, "tongue_percent", r.List(o, "tongue_percent"))
		if len(shares) != 2 || shares[0] > shares[1] || shares[1] > 100 {
			r.Refuse(ruleTongue.Says("tongue_percent"))
			return out, r.Err
		}
		out.Low, out.High = shares[0]/100, shares[1]/100
	}
	if r.Err == nil && !below(0, out.mass().least()) {
		r.Refuse(ruleDoubt.Says("trailer.u"))
	}
	return out, r.Err
}

// ReadStraps reads how a machine is strapped; the error is a *record.Refused.
func ReadStraps(data []byte) (Straps, error) {
	file, o := strict.Read(data)
	r := reader{file}
	r.Known(o, "mass", "u", "ridden", "share", "straps")
	out := Straps{Mass: r.length(o, r.doubts(o, "mass"), "mass"), Share: StrapShare}
	if !o.Has("ridden") {
		r.Missing(o, "ridden")
	}
	out.Ridden = r.Yes(o, "ridden")
	if o.Has("share") {
		out.Share = r.Positive(o, "share")
	}
	if !o.Has("straps") {
		r.Missing(o, "straps")
	}
	for _, s := range r.Objects(o, "straps", r.List(o, "straps"), "load", "angle", "u", "end", "cut") {
		strap := Strap{Load: r.Positive(s, "load"), End: r.OneOf(s, "end", Front, Rear), Cut: r.Yes(s, "cut")}
		if s.Has("angle") {
			angle := r.measured(s, r.doubts(s, "angle"), "angle")
			if strap.Angle = &angle; angle.Value > 90 {
				r.Refuse(ruleAngle.Says(s.Where))
			}
		}
		out.Straps = append(out.Straps, strap)
	}
	return out, r.Err
}
