package yard

// The load sheet of an outing: getting its machines there on a trailer. What was measured
// is kept; what it comes to is core/ground's, the same whenever it is looked at.

import (
	"slices"
	"strings"
	"time"

	"vespers/core/ground"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/record"
	"vespers/core/text"
)

// Amount is a number that was measured, and how far off it may be: metres, kilograms,
// degrees.
type Amount struct {
	Value float64 `json:"value"`
	Doubt float64 `json:"u,omitempty"`
}

func (a Amount) measured() ground.Measured { return ground.Measured{Value: a.Value, Doubt: a.Doubt} }

// LoadRamp is a ramp, in metres, and what the machines ask of it.
type LoadRamp struct {
	Height  Amount  `json:"height"`
	Length  Amount  `json:"length"`
	Width   Amount  `json:"width"`
	Limit   float64 `json:"limit"`
	Machine float64 `json:"machine_width"`
	Margin  float64 `json:"margin"`
}

// LoadBridge is the height of the load and what it goes under, in metres.
type LoadBridge struct {
	Height  Amount    `json:"height"`
	Bridges []float64 `json:"bridges"`
	Legal   float64   `json:"legal"`
	Margin  float64   `json:"margin"`
}

// LoadTow is the trailer with what stands on it, in kilograms; Tongue is nil where nobody
// measured it.
type LoadTow struct {
	Trailer  Amount   `json:"trailer"`
	Machines []Amount `json:"machines"`
	Gross    float64  `json:"gross"`
	Rating   float64  `json:"rating"`
	Tongue   *Amount  `json:"tongue,omitempty"`
}

// LoadStraps are the straps on the machines.
type LoadStraps struct {
	Mass   Amount      `json:"mass"`
	Ridden bool        `json:"ridden"`
	Share  float64     `json:"share"`
	Straps []LoadStrap `json:"straps"`
}

// LoadStrap is one strap, in kilograms and degrees.
type LoadStrap struct {
	Load  float64 `json:"load"`
	Angle *Amount `json:"angle,omitempty"`
	End   string  `json:"end"`
	Cut   bool    `json:"cut,omitempty"`
}

// LoadChecked is a load sheet as it was filled in; a part that is nil was not asked.
type LoadChecked struct {
	Outing string      `json:"outing"`
	Ramp   *LoadRamp   `json:"ramp,omitempty"`
	Bridge *LoadBridge `json:"bridge,omitempty"`
	Tow    *LoadTow    `json:"tow,omitempty"`
	Straps *LoadStraps `json:"straps,omitempty"`
}

// Kind implements record.Event.
func (LoadChecked) Kind() string { return "load_checked" }

var _ = record.Register(LoadChecked{})

// Load is the last load sheet of an outing.
type Load struct {
	LoadChecked
	By string
	At time.Time
}

// LoadJudged is what a load sheet comes to, part by part.
type LoadJudged struct {
	Ramp   *ground.Ramped
	Bridge *ground.Bridged
	Tow    *ground.Towed
	Straps *ground.Strapped
}

// Judge is what the load sheet comes to.
func (e LoadChecked) Judge() (out LoadJudged) {
	if r := e.Ramp; r != nil {
		judged := ground.Ramp{Height: r.Height.measured(), Length: r.Length.measured(), Width: r.Width.measured(), Limit: r.Limit, MachineWidth: r.Machine, Margin: r.Margin}.Judge()
		out.Ramp = &judged
	}
	if b := e.Bridge; b != nil {
		judged := ground.Bridge{Height: b.Height.measured(), Margin: b.Margin, Bridges: b.Bridges, Legal: b.Legal}.Judge()
		out.Bridge = &judged
	}
	if t := e.Tow; t != nil {
		tow := ground.Tow{Trailer: t.Trailer.measured(), Gross: t.Gross, Rating: t.Rating, Low: ground.TongueLow, High: ground.TongueHigh}
		for _, m := range t.Machines {
			tow.Machines = append(tow.Machines, m.measured())
		}
		if t.Tongue != nil {
			tongue := t.Tongue.measured()
			tow.Tongue = &tongue
		}
		judged := tow.Judge()
		out.Tow = &judged
	}
	if s := e.Straps; s != nil {
		straps := ground.Straps{Mass: s.Mass.measured(), Ridden: s.Ridden, Share: s.Share}
		for _, one := range s.Straps {
			strap := ground.Strap{Load: one.Load, End: one.End, Cut: one.Cut}
			if one.Angle != nil {
				angle := one.Angle.measured()
				strap.Angle = &angle
			}
			straps.Straps = append(straps.Straps, strap)
		}
		judged := straps.Judge()
		out.Straps = &judged
	}
	return out
}

// CheckLoad fills in a load sheet, as typed: numbers by their names, with "_u" for their
// doubts. A part of which nothing was typed is not asked.
type CheckLoad struct {
	Outing string
	Typed  map[string]string
	Straps []TypedStrap
}

// TypedStrap is a strap as typed; all "" is none.
type TypedStrap struct {
	Load, Angle, Doubt, End string
	Cut                     bool
}

// Act implements Command.
func (CheckLoad) Act() operator.Act { return operator.Work }

var (
	ruleLoadNumber  = text.NewRule("load.number", text.Slot{Name: "what", Kind: text.Term}, numberSlot)
	ruleLoadNothing = text.NewRule("load.nothing")
	ruleLoadBridges = text.NewRule("load.bridges")
	ruleLoadEnd     = text.NewRule("load.end")
	ruleLoadMany    = text.NewRule("load.many", text.Slot{Name: "most", Kind: text.Count})
	ruleLoadOver    = text.NewRule("load.ended")
)

// loadMost is the most bridges, or straps, of a load sheet.
const loadMost = 24

// typedLoad reads the numbers of a load sheet; err is the first that is none.
type typedLoad struct {
	typed map[string]string
	err   error
}

func (t *typedLoad) any(names ...string) bool {
	return slices.ContainsFunc(names, func(name string) bool { return strings.TrimSpace(t.typed[name]) != "" })
}

// number is a number above 0, or from 0 where it may be.
func (t *typedLoad) number(name, symbol string, zero bool) float64 {
	typed := strings.TrimSpace(t.typed[name])
	n, err := numberIn(typed, symbol)
	if t.err == nil && (err != nil || n < 0 || n == 0 && !zero) {
		t.err = record.Refuse(ruleLoadNumber.Says(text.Key("load.field."+strings.TrimSuffix(name, "_u")), typed))
	}
	return n
}

// amount is a number with its doubt, which has to be said.
func (t *typedLoad) amount(name, symbol string) Amount {
	a := Amount{Value: t.number(name, symbol, false), Doubt: t.number(name+"_u", symbol, true)}
	if t.err == nil && a.Doubt >= a.Value {
		t.err = record.Refuse(ruleLoadNumber.Says(text.Key("load.field."+name), t.typed[name+"_u"]))
	}
	return a
}

// Carried is what the machines of an outing ask of a load, by their sheets.
type Carried struct {
	Limit, Width float64  // of a ramp, degrees; of the widest machine, metres
	Masses       []Amount // kilograms
	Unknown      []string // machines whose sheets have no mass
	Ridden       bool
}

// CarriedBy is what the machines of an outing ask.
func CarriedBy(o *outing.Outing) Carried {
	c := Carried{Limit: 90}
	for _, u := range o.Units {
		n := numbersOf{u.Sheet}
		limit := slopeOf(u.Sheet).Limits(ground.Under{Practised: true}).Limit
		if ramp := n.least("ramp_slope", "°"); ramp != nil {
			limit = *ramp
		}
		c.Limit, c.Width = min(c.Limit, limit), max(c.Width, u.Sheet.Drawing.Width)
		if mass := n.most("mass", "kg"); mass != nil {
			c.Masses = append(c.Masses, Amount{Value: *mass})
		} else {
			c.Unknown = append(c.Unknown, u.Machine)
		}
		c.Ridden = c.Ridden || slices.ContainsFunc(u.Sheet.Drawing.Parts, func(p machine.Part) bool { return p.Kind == "seat" || p.Kind == "footplate" })
	}
	return c
}

func (c CheckLoad) decide(s speech) ([]Decided, error) {
	o, ok := s.Outing(c.Outing)
	if !ok {
		return nil, record.Refuse(ruleNoOuting.Says())
	}
	if !o.May(s.who, operator.Work, s.At) {
		holder, _ := s.Person(o.Operator())
		return nil, record.Refuse(outing.RuleNotYours.Says(holder.Name))
	}
	if o.End != nil {
		return nil, record.Refuse(ruleLoadOver.Says())
	}
	t, carried := &typedLoad{typed: c.Typed}, CarriedBy(o)
	e := LoadChecked{Outing: c.Outing}
	if t.any("ramp_height", "ramp_length", "ramp_width") {
		e.Ramp = &LoadRamp{Height: t.amount("ramp_height", "m"), Length: t.amount("ramp_length", "m"), Width: t.amount("ramp_width", "m"), Limit: carried.Limit, Machine: carried.Width, Margin: ground.RampMargin}
	}
	if t.any("load_height", "bridges", "legal") {
		e.Bridge = t.bridge()
	}
	masses := carried.Masses
	if len(carried.Unknown) > 0 && (t.any("trailer", "gross", "rating", "tongue") || slices.ContainsFunc(c.Straps, TypedStrap.is)) {
		masses = append(slices.Clone(masses), t.amount("mass", "kg"))
	}
	if t.any("trailer", "gross", "rating", "tongue") {
		e.Tow = &LoadTow{Trailer: Amount{Value: t.number("trailer", "kg", false)}, Machines: masses, Gross: t.number("gross", "kg", false), Rating: t.number("rating", "kg", false)}
		if t.any("tongue") {
			tongue := t.amount("tongue", "kg")
			e.Tow.Tongue = &tongue
		}
	}
	if slices.ContainsFunc(c.Straps, TypedStrap.is) {
		e.Straps = t.straps(c.Straps, masses, carried.Ridden)
	}
	switch {
	case t.err != nil:
		return nil, t.err
	case e.Ramp == nil && e.Bridge == nil && e.Tow == nil && e.Straps == nil:
		return nil, record.Refuse(ruleLoadNothing.Says())
	}
	return just(e), nil
}

// bridge reads what the load goes under: the bridges of the route, or that there is none.
func (t *typedLoad) bridge() *LoadBridge {
	b := &LoadBridge{Height: t.amount("load_height", "m"), Legal: t.number("legal", "m", false), Margin: ground.BridgeMargin, Bridges: []float64{}}
	for _, one := range strings.FieldsFunc(t.typed["bridges"], func(r rune) bool { return r == ';' || r == '\n' }) {
		if strings.TrimSpace(one) == "" {
			continue
		}
		under := &typedLoad{typed: map[string]string{"bridges": one}, err: t.err}
		b.Bridges = append(b.Bridges, under.number("bridges", "m", false))
		t.err = under.err
	}
	none := t.typed["no_bridge"] == "yes"
	if t.err == nil && none == (len(b.Bridges) > 0) {
		t.err = record.Refuse(ruleLoadBridges.Says())
	}
	if t.err == nil && len(b.Bridges) > loadMost {
		t.err = record.Refuse(ruleLoadMany.Says(loadMost))
	}
	return b
}

func (s TypedStrap) is() bool { return strings.TrimSpace(s.Load+s.Angle) != "" }

// straps reads the straps on machines that weigh so much.
func (t *typedLoad) straps(typed []TypedStrap, masses []Amount, ridden bool) *LoadStraps {
	out := &LoadStraps{Ridden: ridden, Share: ground.StrapShare}
	for _, m := range masses {
		out.Mass.Value, out.Mass.Doubt = out.Mass.Value+m.Value, out.Mass.Doubt+m.Doubt
	}
	for _, one := range typed {
		if !one.is() {
			continue
		}
		own := &typedLoad{typed: map[string]string{"strap": one.Load, "angle": one.Angle, "angle_u": one.Doubt}, err: t.err}
		strap := LoadStrap{Load: own.number("strap", "kg", false), End: one.End, Cut: one.Cut}
		if own.any("angle") {
			angle := Amount{Value: own.number("angle", "°", true), Doubt: own.number("angle_u", "°", true)}
			if own.err == nil && angle.Value > 90 {
				own.err = record.Refuse(ruleLoadNumber.Says(text.Key("load.field.angle"), one.Angle))
			}
			strap.Angle = &angle
		}
		if t.err = own.err; t.err == nil && one.End != ground.Front && one.End != ground.Rear {
			t.err = record.Refuse(ruleLoadEnd.Says())
		}
		out.Straps = append(out.Straps, strap)
	}
	if t.err == nil && len(out.Straps) > loadMost {
		t.err = record.Refuse(ruleLoadMany.Says(loadMost))
	}
	return out
}
