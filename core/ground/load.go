package ground

// Getting a machine there: up a ramp, under a bridge, on a trailer, held by straps.

import "math"

// Ramp is one piece that a machine is driven up, in metres; Limit is how steep it may be,
// in degrees, Margin how much wider than the machine it is.
type Ramp struct {
	Height, Length, Width Measured
	Limit                 float64
	MachineWidth, Margin  float64
}

// RampMargin is how much wider a ramp is than its machine, in metres (trade practice).
const RampMargin = 0.3

// Ramped is what a ramp comes to. NeededLength is the least length in whole tenths that
// is not too steep, nil where none is.
type Ramped struct {
	Worst, Margin float64
	NeededLength  *float64
	NeededWidth   float64
	Because       []string
}

// steep is how steep the ramp is if it is so long, in degrees.
func (r Ramp) steep(length float64) float64 {
	up, along := r.Height.most(), length-r.Length.Doubt
	if !below(up, along) {
		return 90
	}
	return degrees(math.Asin(up / along))
}

// tenths is the step of a needed length, in metres; longestRamp the longest that is looked
// for.
const (
	tenths      = 10
	longestRamp = 1e6
)

// Judge is what the ramp comes to.
func (r Ramp) Judge() Ramped {
	out := Ramped{Worst: r.steep(r.Length.Value), NeededWidth: r.MachineWidth + r.Margin + r.Width.Doubt, Because: []string{}}
	out.Margin = r.Limit - out.Worst
	if !below(out.Worst, r.Limit) {
		out.Because = append(out.Because, "angle")
	}
	if !within(out.NeededWidth, r.Width.Value) {
		out.Because = append(out.Because, "width")
	}
	out.NeededLength = r.needed()
	return out
}

// needed looks for the least length: it is nearly the height over the sine of the limit.
func (r Ramp) needed() *float64 {
	guess := r.Length.Doubt
	if r.Limit < 90 {
		if r.Limit <= 0 {
			return nil
		}
		guess += r.Height.most() / math.Sin(radians(r.Limit))
	}
	if guess > longestRamp {
		return nil
	}
	for n := max(1, math.Floor(guess*tenths)-2); n <= math.Floor(guess*tenths)+3; n++ {
		if length := n / tenths; below(r.steep(length), r.Limit) {
			return &length
		}
	}
	return nil
}

// Bridge is a load that goes under bridges, in metres; Legal is as high as it may be
// anyway (local code).
type Bridge struct {
	Height  Measured
	Margin  float64
	Bridges []float64
	Legal   float64
}

// BridgeMargin is how much is left over a load, in metres (trade practice).
const BridgeMargin = 0.1

// Bridged is what it comes to. Lowest is the lowest bridge, nil for none.
type Bridged struct {
	Needs, Margin float64
	Lowest        *float64
	Because       []string
}

// Judge is what the height of the load comes to.
func (b Bridge) Judge() Bridged {
	out := Bridged{Needs: b.Height.most() + b.Margin, Because: []string{}}
	room := b.Legal
	for _, bridge := range b.Bridges {
		if out.Lowest == nil || bridge < *out.Lowest {
			out.Lowest = &bridge
		}
	}
	if out.Lowest != nil {
		room = min(room, *out.Lowest)
		if !within(out.Needs, *out.Lowest) {
			out.Because = append(out.Because, "bridge")
		}
	}
	if !within(out.Needs, b.Legal) {
		out.Because = append(out.Because, "legal")
	}
	out.Margin = room - out.Needs
	return out
}

// Tow is a trailer with what stands on it, in kilograms. Gross is the most that it may
// weigh, Rating the most that the vehicle may pull. Tongue is how it presses on the
// vehicle, nil where it was not measured; its share of the mass is from Low to High.
type Tow struct {
	Trailer       Measured
	Machines      []Measured
	Gross, Rating float64
	Tongue        *Measured
	Low, High     float64 // shares of the mass, 0.1 is a tenth
}

// The share of its mass that a trailer presses with (trade practice; the manuals of
// trailer and vehicle come first).
const (
	TongueLow  = 0.10
	TongueHigh = 0.15
)

// Towed is what a trailer comes to. Shares are the least and the most of the tongue, nil
// where it was not measured.
type Towed struct {
	Mass, GrossMargin, RatingMargin float64
	Shares                          *[2]float64
	// Press is from what to what the tongue has to press, measured with the same doubt, in
	// kilograms; from more than to where no measurement would do.
	Press   [2]float64
	Because []string
}

// mass is what is pulled.
func (t Tow) mass() Measured {
	m := t.Trailer
	for _, one := range t.Machines {
		m.Value, m.Doubt = m.Value+one.Value, m.Doubt+one.Doubt
	}
	return m
}

// Judge is what the trailer comes to.
func (t Tow) Judge() Towed {
	mass := t.mass()
	doubt := 0.0
	if t.Tongue != nil {
		doubt = t.Tongue.Doubt
	}
	out := Towed{Mass: mass.Value, GrossMargin: t.Gross - mass.most(), RatingMargin: t.Rating - mass.most(), Because: []string{}}
	out.Press = [2]float64{t.Low*mass.most() + doubt, t.High*mass.least() - doubt}
	refuse := func(bad bool, because string) {
		if bad {
			out.Because = append(out.Because, because)
		}
	}
	refuse(!within(mass.most(), t.Gross), "gross")
	refuse(!within(mass.most(), t.Rating), "rating")
	if t.Tongue == nil {
		refuse(true, "tongue_unknown")
		return out
	}
	out.Shares = &[2]float64{t.Tongue.least() / mass.most(), t.Tongue.most() / mass.least()}
	refuse(!within(t.Low, out.Shares[0]), "tongue_low")
	refuse(!within(out.Shares[1], t.High), "tongue_high")
	return out
}

// Strap is one strap: its working load in kilograms, its angle to the deck in degrees, nil
// where nobody measured it, and the end that it holds.
type Strap struct {
	Load  float64
	Angle *Measured
	End   string // Front or Rear
	Cut   bool   // or frayed: it counts nothing
}

// The ends of a machine on a trailer.
const (
	Front = "front"
	Rear  = "rear"
)

// Straps hold a machine. Share is how much of its mass they hold together (local code).
type Straps struct {
	Mass   Measured
	Ridden bool
	Share  float64
	Straps []Strap
}

// StrapShare is the share of a machine's mass that its straps hold where no local code
// says otherwise.
const StrapShare = 0.5

// Strapped is what straps come to.
type Strapped struct {
	Counts, Needed float64
	Front, Rear    int // whole straps there
	Because        []string
}

// counts is what a strap holds down.
func (s Strap) counts() float64 {
	switch {
	case s.Cut:
		return 0
	case s.Angle == nil:
		return s.Load
	}
	return s.Load * math.Sin(radians(max(0, s.Angle.least())))
}

// Judge is what the straps come to.
func (s Straps) Judge() Strapped {
	out := Strapped{Needed: s.Share * s.Mass.most(), Because: []string{}}
	for _, strap := range s.Straps {
		out.Counts += strap.counts()
		switch {
		case strap.Cut:
		case strap.End == Front:
			out.Front++
		default:
			out.Rear++
		}
	}
	least := 1
	if s.Ridden {
		least = 2
	}
	if !within(out.Needed, out.Counts) {
		out.Because = append(out.Because, "load")
	}
	if out.Front < least {
		out.Because = append(out.Because, Front)
	}
	if out.Rear < least {
		out.Because = append(out.Because, Rear)
	}
	return out
}
