package main

// Measures of the ground: a zone's verdict, and who takes what where.

import (
	"fmt"
	"math"
	"math/rand/v2"
	"time"

	"vespers/core/assign"
	"vespers/core/ground"
	"vespers/core/plane"
)

// aTerrace is a zone of so many points with water along a third of it, a path and a line
// overhead.
func aTerrace(r *rand.Rand, points int) *ground.Site {
	var ring []plane.Point
	for i := range points {
		angle, far := 2*math.Pi*float64(i)/float64(points), 50+8*r.Float64()
		ring = append(ring, plane.Point{X: far * math.Cos(angle), Y: far * math.Sin(angle)})
	}
	line := func(points ...plane.Point) plane.Shape { return plane.Shape{Lines: [][]plane.Point{points}} }
	return &ground.Site{Doubt: .5,
		Zones: []ground.Zone{{ID: "terrace", Shape: plane.Shape{Filled: true, Lines: [][]plane.Point{append(ring, ring[0])}}, Surface: ground.Rough, Light: ground.Day, Work: "mow",
			Readings: []ground.Reading{{Kind: ground.ByAngle, Up: ground.Measured{Value: 8, Doubt: 1}}, {Kind: ground.ByPercent, Up: ground.Measured{Value: 14, Doubt: 1}}}}},
		Edges:  []ground.Edge{{ID: "pond", Kind: ground.Water, Shape: line(ring[:points/3]...)}},
		Things: []ground.Thing{{ID: "path", Kind: ground.Path, Shape: line(plane.Point{X: -70, Y: -5}, plane.Point{X: 70, Y: 12})}, {ID: "line", Kind: ground.OverheadLine, Shape: line(plane.Point{X: -70, Y: 30}, plane.Point{X: 70, Y: 25})}}}
}

// aMorning is so many zones of half an hour, people and machines, each of which two in
// three may take.
func aMorning(r *rand.Rand, zones, people, machines int) *assign.Problem {
	place := func() plane.Point { return plane.Point{X: 600 * r.Float64(), Y: 600 * r.Float64()} }
	p := &assign.Problem{To: 480}
	for i := range zones {
		p.Zones = append(p.Zones, assign.Zone{ID: fmt.Sprint("zone ", i), At: place(), Priority: float64(1 + r.IntN(3)), Deadline: math.Inf(1)})
	}
	for i := range people {
		p.Operators = append(p.Operators, assign.Operator{ID: fmt.Sprint("person ", i), From: float64(i)})
	}
	for i := range machines {
		p.Machines = append(p.Machines, assign.Machine{ID: fmt.Sprint("machine ", i), At: place(), Speed: 6 + 8*r.Float64()})
	}
	for o := range people {
		p.Minutes = append(p.Minutes, nil)
		for range machines {
			minutes := make([]float64, zones)
			for z := range minutes {
				if r.IntN(3) > 0 {
					minutes[z] = float64(20 + r.IntN(40))
				}
			}
			p.Minutes[o] = append(p.Minutes[o], minutes)
		}
	}
	return p
}

// grounds times them, and how much sooner a plan is done than each zone given to the first
// who may.
func grounds(t *table) error {
	random := rand.New(rand.NewPCG(14, 14))
	cut := 1.2
	m := &ground.Machine{ID: "mower", Released: true, Does: []string{"mow"}, Width: 1.4, Cut: &cut, Exclusion: 15}
	var took times
	for range 50 {
		site := aTerrace(random, 200)
		took = append(took, best(3, func() {
			ground.Ruled().Answer(ground.Ruled().Room(site, &site.Zones[0], m), ground.Person{ID: "operator"}, time.Now())
		}))
	}
	t.row("verdict of a zone of 200 points, p95 of 50", "5 ms", ms(took.p95()), took.p95() <= 5*time.Millisecond)
	took = nil
	sooner := 0.0
	const count = 20
	for range count {
		p := aMorning(random, 8, 5, 6)
		var plan assign.Plan
		took = append(took, best(1, func() { plan = p.Solve() }))
		sooner += (1 - plan.Last/inOrder(p)) / count
	}
	t.row("assignment of 8 zones, 5 people, 6 machines, exact, slowest of 20", "2 s", fmt.Sprintf("%s, median %s, done %.0f %% sooner than zone by zone to the first who may", ms(took.at(1)), ms(took.median()), sooner*100), took.at(1) <= 2*time.Second)
	return nil
}

// inOrder is when all is done that way.
func inOrder(p *assign.Problem) (last float64) {
	free := make([]float64, len(p.Operators))
	at := make([]plane.Point, len(p.Operators))
	for o := range free { // each keeps a machine
		free[o], at[o] = p.Operators[o].From, p.Machines[o].At
	}
	for z, zone := range p.Zones {
		for o := range free {
			if takes := p.Minutes[o][o][z]; takes > 0 {
				free[o] += at[o].Distance(zone.At)*1.4/(p.Machines[o].Speed*1000/60) + takes
				at[o], last = zone.At, max(last, free[o])
				break
			}
		}
	}
	return last
}
