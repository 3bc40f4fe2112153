package ground

// What a machine may do in a zone, and who may do it.

import (
	"cmp"
	"slices"
	"time"

	"vespers/core/machine"
	"vespers/core/plane"
	"vespers/core/record"
	"vespers/core/text"
)

var ruleAt = text.NewRule("ground.no_time", text.Slot{Name: "zone", Kind: text.Name})

// The ways of turning on a slope (house rule).
const (
	NoTurning  = "none"
	TurnUphill = "uphill"
)

// House is what is ruled for all machines; distances in metres. A setback is so many
// cutting widths, or so many widths of the machine.
type House struct {
	Needed             int
	CuttingWidths      float64
	MachineWidths      float64
	Turning            string
	Overhead, Roadside float64
}

// Ruled is what stands where the house says nothing (trade practice).
func Ruled() House {
	return House{Needed: Needs, CuttingWidths: 2, Turning: NoTurning, Overhead: 3, Roadside: 4.5}
}

// HandDig is how far around a marked service is dug by hand, in metres, where the sheet
// says nothing (trade practice; the local code comes first).
const HandDig = 0.6

// Pace is how fast a machine works: km/h, metres, a share of the time, minutes, litres an
// hour; nil is what nobody knows.
type Pace struct{ Speed, Overlap, Efficiency, SetUp, Burn *float64 }

// Machine is what a zone asks of a machine. Metres; nil is what nobody knows.
type Machine struct {
	ID            string
	Released      bool
	Does, Uses    []string
	Restrictions  []string
	Options       map[string]string
	Conditions    []string
	Slope         Slope
	Width         float64
	Cut, Setback  *float64
	Exclusion     float64
	Reach, Height *Measured
	HandDig       float64
	// Turning is how it turns on a slope where its family is ruled otherwise than the
	// house, "" for the house's.
	Turning string
	Pace    Pace
}

// Person is who may take which machines, and which of them on slopes.
type Person struct {
	ID                  string
	Machines, Practised []string
}

// Out is how much of a zone is out for one cause, in square metres.
type Out struct {
	Because string
	Area    float64
}

// The causes, as they are named.
const (
	BySetback  = "setback"
	ByOverhead = "overhead"
	ByHandDig  = "hand_dig"
)

// NearBy is something within the circle around a machine at work, in metres from it.
type NearBy struct {
	ID, Kind string
	Metres   float64
}

// least is how much has to be left of a zone, in square metres, for it to be anything.
const least = 1.0

// Room is what a machine has of a zone.
type Room struct {
	Zone       *Zone
	Machine    *Machine
	Region     plane.Region
	Left       float64 // square metres, 0 if too little
	Out        []Out
	Near       []NearBy
	NearPublic bool
	// Crossing says that a path goes through it or beside it; Roadside that it comes so
	// near to a road that something has to warn who drives there.
	Crossing, Roadside bool
	Minutes, Litres    *float64
}

// setback is how far a machine keeps from drops, walls and water.
func (h House) setback(m *Machine) float64 {
	switch {
	case m.Setback != nil:
		return *m.Setback
	case h.MachineWidths > 0:
		return h.MachineWidths * m.Width
	case m.Cut != nil:
		return h.CuttingWidths * *m.Cut
	}
	return h.CuttingWidths * m.Width
}

// reaches reports whether the raised machine may come too near to a line.
func (m *Machine) reaches(t *Thing, clearance float64) bool {
	return m.Reach == nil || t.Height == nil || within(t.Height.least()-clearance, m.Reach.most())
}

// away is what a machine keeps away from in a zone, by its cause.
func (h House) away(s *Site, z *Zone, m *Machine) map[string][]plane.Near {
	out := map[string][]plane.Near{}
	keep := func(because string, shape plane.Shape, metres float64) {
		out[because] = append(out[because], plane.Near{Shape: shape, Within: metres + s.Doubt})
	}
	for _, e := range s.Edges {
		if slices.Contains([]string{Drop, Water, Wall}, e.Kind) {
			keep(BySetback, e.Shape, h.setback(m))
		}
	}
	for _, t := range s.Things {
		switch {
		case t.Kind == OverheadLine:
			clearance := h.Overhead
			if t.Clearance != nil {
				clearance = *t.Clearance
			}
			if m.reaches(&t, clearance) {
				keep(ByOverhead, t.Shape, clearance)
			}
		case t.Kind == MarkedService && z.Work == Trench:
			keep(ByHandDig, t.Shape, m.HandDig)
		}
	}
	return out
}

// Room is what a machine has of a zone, whoever drives it.
func (h House) Room(s *Site, z *Zone, m *Machine) Room {
	r := Room{Zone: z, Machine: m, Out: []Out{}, Near: []NearBy{}}
	whole := z.Shape.Area()
	var all []plane.Near
	away := h.away(s, z, m)
	for _, because := range []string{BySetback, ByOverhead, ByHandDig} {
		all = append(all, away[because]...)
	}
	r.Region = z.Shape.Without(all)
	r.Left = r.Region.Area()
	for _, because := range []string{BySetback, ByOverhead, ByHandDig} {
		near := away[because]
		if len(near) == 0 {
			continue
		}
		out := whole - r.Left
		if len(near) < len(all) {
			out = whole - z.Shape.Without(near).Area()
		}
		if out > 1e-6 {
			r.Out = append(r.Out, Out{because, out})
		}
	}
	if r.Left < least {
		r.Left = 0
		return r
	}
	r.about(h, s)
	r.Minutes, r.Litres = m.takes(r.Left)
	return r
}

// about finds what is near to what is left.
func (r *Room) about(h House, s *Site) {
	add := func(id, kind string, shape plane.Shape) {
		metres := r.Region.Distance(shape)
		if within(metres, r.Machine.Exclusion+s.Doubt) {
			r.Near = append(r.Near, NearBy{id, kind, metres})
			r.NearPublic = r.NearPublic || kind == Public || kind == Path
		}
		r.Crossing = r.Crossing || kind == Path && within(metres, s.Doubt)
		r.Roadside = r.Roadside || kind == Road && below(metres, h.Roadside+s.Doubt)
	}
	for _, e := range s.Edges {
		if e.Kind == Road {
			add(e.ID, Road, e.Shape)
		}
	}
	for _, t := range s.Things {
		if t.Kind == Public || t.Kind == Path || t.Kind == Glass {
			add(t.ID, t.Kind, t.Shape)
		}
	}
	slices.SortFunc(r.Near, func(a, b NearBy) int { return cmp.Compare(a.ID, b.ID) })
}

func (r *Room) near(kind string) bool {
	return slices.ContainsFunc(r.Near, func(n NearBy) bool { return n.Kind == kind })
}

// takes is how long a machine takes for an area in square metres, and how much it burns;
// nil where a number for it is missing.
func (m *Machine) takes(area float64) (minutes, litres *float64) {
	p := m.Pace
	if m.Cut == nil || p.Speed == nil || p.Overlap == nil || p.Efficiency == nil || p.SetUp == nil {
		return nil, nil
	}
	metresAMinute := *p.Speed * 1000 / 60
	takes := area/(metresAMinute*(*m.Cut-*p.Overlap)) / *p.Efficiency + *p.SetUp
	if p.Burn != nil {
		burns := *p.Burn * takes / 60
		litres = &burns
	}
	return &takes, litres
}

// Answer is whether somebody may take a machine into a zone. Limit is in degrees; LessBy is
// what makes it less than it could be, where the bank is too steep for it.
type Answer struct {
	Operator       string
	Allowed, Watch bool
	Because, Keep  []string
	Limit          float64
	LessBy         []string
}

// Answer judges for one person, at a time.
func (h House) Answer(r Room, who Person, at time.Time) Answer {
	z, m := r.Zone, r.Machine
	under := r.under(who)
	limits := m.Slope.Limits(under)
	bank := Bank{z.Readings, h.Needed, z.ReverseFailed}
	judged := bank.Judge(&limits, m.Slope.Direction)
	a := Answer{Operator: who.ID, Because: []string{}, Keep: []string{}, Limit: limits.Limit}
	refuse := func(bad bool, because string) {
		if bad {
			a.Because = append(a.Because, because)
		}
	}
	unknown := len(z.Readings) == 0
	refuse(!m.Released, "not_released")
	refuse(!slices.Contains(who.Machines, m.ID), "not_qualified")
	refuse(!slices.Contains(m.Does, z.Work), "work")
	refuse(unknown, "slope_unknown")
	if !unknown && slices.Contains(judged.Because, "slope") {
		refuse(true, "slope")
		a.LessBy = m.Slope.LessBy(under)
	}
	refuse(z.ReverseFailed, "reverse_test")
	for _, use := range r.uses() {
		refuse(!m.may(use) || use == "dusk" && z.Light == Dark, "use:"+use)
	}
	refuse(z.Work == Trench && (z.TicketUntil.IsZero() || at.After(z.TicketUntil)), "ticket")
	refuse(r.Left == 0, "nothing_left")
	if a.Allowed = len(a.Because) == 0; a.Allowed {
		a.Watch = judged.Watch
		a.Keep = h.keep(r, judged)
	}
	return a
}

// under is what a machine goes under in the zone.
func (r Room) under(who Person) Under {
	u := Under{Options: r.Machine.Options, Conditions: slices.Clone(r.Machine.Conditions), Restrictions: r.Machine.Restrictions,
		Practised: slices.Contains(who.Practised, r.Machine.ID)}
	for c, there := range map[string]bool{Wet: r.Zone.Wet, Soft: r.Zone.Soft} {
		if there && !slices.Contains(u.Conditions, c) {
			u.Conditions = append(u.Conditions, c)
		}
	}
	return u
}

// uses are what the zone asks the machine to be put to.
func (r Room) uses() (out []string) {
	z, m := r.Zone, r.Machine
	under := z.Branches != nil && (m.Height == nil || within(z.Branches.least(), m.Height.most()))
	for _, asked := range []struct {
		use string
		is  bool
	}{
		{"fine_turf", z.Surface == FineTurf},
		{"dry_dust", z.Surface == Dust && !z.Wet},
		{"dusk", z.Light == Dusk || z.Light == Dark},
		{"under_trees", under},
		{"near_public", r.NearPublic},
	} {
		if asked.is {
			out = append(out, asked.use)
		}
	}
	return out
}

// may reports whether the sheet names a use, and no restriction takes it away.
func (m *Machine) may(use string) bool {
	return slices.Contains(m.Uses, use) && !slices.ContainsFunc(m.Restrictions, func(r string) bool {
		return machine.Restriction(r).Forbids() == use
	})
}

// keep is what an operator keeps to, in the order in which it is told.
func (h House) keep(r Room, judged Verdict) []string {
	out := []string{}
	add := func(is bool, what string) {
		if is {
			out = append(out, what)
		}
	}
	sloping := !below(judged.Worst, Flat)
	direction := r.Machine.Slope.Direction
	add(sloping && direction == UpDown || judged.Watch, UpDown)
	add(sloping && direction == Across, Across)
	turning := cmp.Or(r.Machine.Turning, h.Turning)
	add(sloping && turning == NoTurning, "no_turning")
	add(sloping && turning == TurnUphill, "turn_uphill")
	add(judged.Watch, "slowly")
	add(judged.Watch, "lead_word")
	add(r.Zone.Light == Lit, "lead_note")
	add(slices.Contains(r.Machine.Restrictions, string(machine.WithBanksman)), "banksman")
	add(r.NearPublic, "public_clear")
	add(r.Crossing, "crossings_off")
	add(r.near(Road), "flagger")
	add(r.Roadside, "warning_devices")
	add(r.near(Glass), "glass_away")
	return out
}

// Degrees is how steep the zone is by the worst of its readings; ok is false without any.
func (z *Zone) Degrees() (worst float64, ok bool) {
	return Bank{Readings: z.Readings}.Worst(), len(z.Readings) > 0
}

// Judged is what a zone comes to: each machine with each person, machines first, in the
// order in which they were given.
type Judged struct {
	*Zone
	Area  float64 // square metres
	Few   bool
	Rooms []Judgement
}

// Judgement is what a machine has of a zone, and who may take it there.
type Judgement struct {
	Room
	Answers []Answer
}

// Judge asks a site for all machines and people; the error is a *record.Refused: a ticket
// that nobody can judge because nobody says what time it is.
func (w With) Judge(s *Site) (out []Judged, err error) {
	for i := range s.Zones {
		z := &s.Zones[i]
		if z.Work == Trench && w.At.IsZero() {
			return nil, record.Refuse(ruleAt.Says(z.ID))
		}
		judged := Judged{Zone: z, Area: z.Shape.Area(), Few: len(z.Readings) < w.House.Needed}
		for k := range w.Machines {
			j := Judgement{Room: w.House.Room(s, z, &w.Machines[k])}
			for _, who := range w.People {
				j.Answers = append(j.Answers, w.House.Answer(j.Room, who, w.At))
			}
			judged.Rooms = append(judged.Rooms, j)
		}
		out = append(out, judged)
	}
	return out, nil
}
