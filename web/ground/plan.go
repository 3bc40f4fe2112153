package ground

// The site drawn to scale: metres as they are, north up.

import (
	"fmt"
	"math"
	"strings"

	"vespers/core/ground"
	"vespers/core/plane"
)

// plan is a site as it is drawn.
type plan struct {
	Box    string
	Size   float64 // of a mark, in metres on the plan
	Zones  []zoneShape
	Lines  []lineShape
	Spots  []spotShape
	Kinds  []string // what of edges and things is in sight
	Circle []string // the way around what is left, as wide as the circle
	Wide   float64  // how wide that is
	Scale  scaleBar
	low    plane.Point
	high   plane.Point
	doubt  float64 // metres
}

// zoneShape is a zone: all of it, and what is left of it for a machine.
type zoneShape struct {
	ID, D, Left string
	State       string // may, watch, not; "" without a machine
	Number      int
	X, Y, Size  float64
	Here        bool
}

type lineShape struct{ Kind, D string }

// spotShape is what stands at a place, as a mark that is no bigger or smaller than others.
type spotShape struct{ Kind, D string }

type scaleBar struct {
	X, Y, Long, Tick, Text float64
	Metres                 float64
}

// margin is what is left free around a plan, as a share of it.
const margin = 0.05

// drawn is a site, or a part of it around a zone; unit is how many metres the unit of its
// scale has.
func drawn(site *ground.Site, around *ground.Zone, unit float64) *plan {
	p := &plan{doubt: site.Doubt, low: plane.Point{X: math.Inf(1), Y: math.Inf(1)}, high: plane.Point{X: math.Inf(-1), Y: math.Inf(-1)}}
	take := func(s plane.Shape) {
		for _, line := range s.Lines {
			for _, at := range line {
				p.low = plane.Point{X: min(p.low.X, at.X), Y: min(p.low.Y, at.Y)}
				p.high = plane.Point{X: max(p.high.X, at.X), Y: max(p.high.Y, at.Y)}
			}
		}
	}
	if around != nil {
		take(around.Shape)
	} else {
		for _, z := range site.Zones {
			take(z.Shape)
		}
		for _, e := range site.Edges {
			take(e.Shape)
		}
		for _, t := range site.Things {
			take(t.Shape)
		}
	}
	if math.IsInf(p.low.X, 0) {
		p.low, p.high = plane.Point{}, plane.Point{X: 100, Y: 70}
	}
	wide, tall := max(p.high.X-p.low.X, 10), max(p.high.Y-p.low.Y, 10)
	free := max(wide, tall) * margin
	if around != nil {
		free = max(free, 12)
	}
	p.Size = (max(wide, tall) + 2*free) / 34
	p.low = plane.Point{X: p.low.X - free, Y: p.low.Y - max(free, 4*p.Size)} // room for the scale
	p.high = plane.Point{X: p.high.X + free, Y: p.high.Y + free}
	wide, tall = p.high.X-p.low.X, p.high.Y-p.low.Y
	p.Box = fmt.Sprintf("0 0 %.2f %.2f", wide, tall)
	numbers := len(site.Zones)
	if around != nil {
		numbers = 1
	}
	for i := range site.Zones {
		z := &site.Zones[i]
		if around != nil && around != z {
			continue
		}
		at := p.at(z.Shape.Middle())
		p.Zones = append(p.Zones, zoneShape{ID: z.ID, D: p.outline(z.Shape), Number: i + 1, X: at.X, Y: at.Y, Size: p.Size * crowded(numbers, zonesWell), Here: around == z})
	}
	for _, e := range site.Edges {
		p.Lines = append(p.Lines, lineShape{Kind: e.Kind, D: p.outline(e.Shape)})
		p.sees(e.Kind, e.Shape)
	}
	places := 0
	for _, t := range site.Things {
		if p.sees(t.Kind, t.Shape) && isPlace(t) {
			places++
		}
	}
	for _, t := range site.Things {
		if isPlace(t) {
			p.Spots = append(p.Spots, spotShape{t.Kind, mark(t.Kind, p.at(t.Shape.Lines[0][0]), p.Size*.6*crowded(places, spotsWell))})
			continue
		}
		p.Lines = append(p.Lines, lineShape{Kind: t.Kind, D: p.outline(t.Shape)})
	}
	p.scale(wide, tall, unit)
	return p
}

// So many zones, and so many places, stand well on one plan; more are drawn smaller.
const (
	zonesWell = 20
	spotsWell = 40
)

// isPlace reports whether something stands at one place.
func isPlace(t ground.Thing) bool { return len(t.Shape.Lines[0]) == 1 }

// crowded is how much smaller marks are where there are so many.
func crowded(many, well int) float64 { return min(1, math.Sqrt(float64(well)/float64(max(1, many)))) }

// at is a place on the drawing, whose y goes down.
func (p *plan) at(from plane.Point) plane.Point {
	return plane.Point{X: from.X - p.low.X, Y: p.high.Y - from.Y}
}

// outline is the way along a shape.
func (p *plan) outline(s plane.Shape) string {
	var d strings.Builder
	for _, line := range s.Lines {
		for i, at := range line {
			to := p.at(at)
			fmt.Fprintf(&d, "%c%.2f %.2f", "ML"[min(i, 1)], to.X, to.Y)
		}
		if s.Filled {
			d.WriteByte('Z')
		}
	}
	return d.String()
}

// border is the way around what is left of a zone, its round corners as they are.
func (p *plan) border(r plane.Region) string {
	var d strings.Builder
	for _, loop := range r.Loops() {
		for i, c := range loop {
			from, to := p.at(c.A), p.at(c.B)
			if i == 0 {
				fmt.Fprintf(&d, "M%.2f %.2f", from.X, from.Y)
			}
			if c.Radius == 0 {
				fmt.Fprintf(&d, "L%.2f %.2f", to.X, to.Y)
				continue
			}
			sweep := 0 // turning left on a plan whose y goes up
			if c.Turn < 0 {
				sweep = 1
			}
			if half := math.Abs(c.Turn) > 1.99*math.Pi; half { // all the way round, in two
				across := p.at(plane.Point{X: 2*c.Centre.X - c.A.X, Y: 2*c.Centre.Y - c.A.Y})
				fmt.Fprintf(&d, "A%.2f %.2f 0 0 %d %.2f %.2f", c.Radius, c.Radius, sweep, across.X, across.Y)
				fmt.Fprintf(&d, "A%.2f %.2f 0 0 %d %.2f %.2f", c.Radius, c.Radius, sweep, to.X, to.Y)
				continue
			}
			large := 0
			if math.Abs(c.Turn) > math.Pi {
				large = 1
			}
			fmt.Fprintf(&d, "A%.2f %.2f 0 %d %d %.2f %.2f", c.Radius, c.Radius, large, sweep, to.X, to.Y)
		}
		d.WriteByte('Z')
	}
	return d.String()
}

// scale draws a bar that is so many round metres long, or feet.
func (p *plan) scale(wide, tall, unit float64) {
	long := 5.0 * unit
	for _, n := range []float64{10, 20, 50, 100, 200, 500, 1000, 2000} {
		if n*unit < wide/4 {
			long = n * unit
		}
	}
	p.Scale = scaleBar{X: p.Size, Y: tall - p.Size*2.4, Long: p.Size + long, Tick: p.Size * .4, Text: p.Size * 1.3, Metres: long}
}

// judged shows what a machine may do in each zone.
func (p *plan) judged(rooms []ground.Judged, machine int, person int) {
	for i := range rooms {
		room := &rooms[i].Rooms[machine]
		p.shows(i, room, room.Answers[person])
	}
}

// shows draws what a machine may do in a zone, and as far as it throws: the doubt of the
// plan comes to that.
func (p *plan) shows(zone int, room *ground.Judgement, a ground.Answer) {
	z := &p.Zones[zone]
	if z.State = stateOf(a); !a.Allowed {
		return
	}
	if z.Left = p.border(room.Region); z.Left != "" {
		p.Circle = append(p.Circle, z.Left)
		if r := room.Machine.Exclusion; !math.IsInf(r, 0) {
			p.Wide = 2 * (r + p.doubt)
		}
	}
}

// stateOf is what an answer comes to, in a word.
func stateOf(a ground.Answer) string {
	switch {
	case !a.Allowed:
		return "not"
	case a.Watch:
		return "watch"
	}
	return "may"
}
