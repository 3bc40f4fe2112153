package yard

// Who would take a machine, and which other machine may where one may not: what a crew asks
// at a zone before anybody has planned the morning.

import (
	"cmp"
	"slices"
	"time"

	"vespers/core/ground"
	"vespers/core/operator"
)

// Takers are the yard's machines that do something in a zone, those that are out first, then
// those that could be, with the people who could take them. It is read by many at once.
type Takers struct {
	ground.With
	morning Mustered
	stands  map[string]Standing // machines, by id
	alone   map[string]bool     // whether a machine goes without another
	people  map[string]operator.Person
	shown   map[string][]int // who was shown a machine, and who has practised slopes with
	slopes  map[string][]int // it, by their places among the people
	here    map[string]bool  // people who came today
	hasOut  map[string]bool  // people who have one of the machines out
	asking  string
}

// TakersOf are those of a yard now.
func TakersOf(v View, now time.Time) *Takers {
	t := &Takers{With: Ground(v, now), morning: Muster(v, now), stands: map[string]Standing{}, alone: map[string]bool{}, people: map[string]operator.Person{}, shown: map[string][]int{}, slopes: map[string][]int{}, here: map[string]bool{}, hasOut: map[string]bool{}}
	t.Machines = slices.DeleteFunc(t.Machines, func(m ground.Machine) bool { return len(m.Does) == 0 })
	for _, one := range t.morning.Machines {
		t.stands[one.ID], t.alone[one.ID] = one, one.Outing != "" || !goesWith(v, one.Machine)
	}
	for _, m := range t.Machines {
		if who := t.stands[m.ID].Who; who != "" {
			t.hasOut[who] = true
		}
	}
	for i, p := range t.People {
		for _, machine := range p.Machines {
			t.shown[machine] = append(t.shown[machine], i)
		}
		for _, machine := range p.Practised {
			t.slopes[machine] = append(t.slopes[machine], i)
		}
	}
	for _, one := range t.morning.People {
		t.people[one.ID], t.here[one.ID] = one.Person, one.Came != nil
	}
	slices.SortStableFunc(t.Machines, func(a, b ground.Machine) int { return cmp.Compare(t.rank(a), t.rank(b)) })
	return t
}

// For are the same, as somebody asks now.
func (t *Takers) For(asking string, now time.Time) *Takers {
	own := *t
	own.asking, own.At = asking, now
	return &own
}

// rank sorts machines: those that are out, those that could be, those on Halt.
func (t *Takers) rank(m ground.Machine) int {
	switch {
	case m.Released:
		return 0
	case t.Halted(m.ID):
		return 2
	}
	return 1
}

// Halted reports whether a machine is on Halt.
func (t *Takers) Halted(machine string) bool { return t.stands[machine].State == OnHalt }

// Holder is who has a machine out, or "".
func (t *Takers) Holder(machine string) string { return t.stands[machine].Who }

// Who is one of the people.
func (t *Takers) Who(person int) operator.Person { return t.people[t.People[person].ID] }

// What is one of the machines as it stands.
func (t *Takers) What(machine int) Standing { return t.stands[t.Machines[machine].ID] }

// Taker is who would take a machine, by their place among the people; -1 where there is
// nobody. Where nobody may, it is somebody still: their verdict says why.
func (t *Takers) Taker(machine int) int {
	best, most := -1, 0
	for i := range t.People {
		if points := t.suits(i, t.Machines[machine].ID); best < 0 || points > most {
			best, most = i, points
		}
	}
	return best
}

// suits is how well a machine suits somebody (house rule): they have it out, above all; they
// were shown it, and it is theirs today; it is they who ask; they have practised slopes with
// it; they are here; they release it alone. Who is tied to another comes after all who are
// not; who was never shown it comes last.
func (t *Takers) suits(person int, machine string) (points int) {
	stands, id := t.stands[machine], t.People[person].ID
	for _, one := range []struct {
		is     bool
		points int
	}{
		{stands.Who == id, 1000},
		{!slices.Contains(t.shown[machine], person), -500},
		{t.tie(id, machine) != "", -200},
		{stands.To != nil && stands.To.Person == id, 100},
		{id == t.asking, 20},
		{slices.Contains(t.slopes[machine], person), 5},
		{t.here[id], 3},
		{t.people[id].Role != operator.Trainee, 1},
	} {
		if one.is {
			points += one.points
		}
	}
	return points
}

// tie is why somebody may not be given a machine that they may take, for the morning: it is
// somebody else's today, or they have another out; "" where they may.
func (t *Takers) tie(person, machine string) string {
	m := t.stands[machine]
	if m.Who != "" && m.Who != person || m.To != nil && m.To.Person != person {
		return Theirs
	}
	if m.Who == "" && t.hasOut[person] {
		return HasOther
	}
	return ""
}

// could reports whether a machine can be taken out this morning, or is out: not what is kept
// in, nor what goes only with another that it is not with.
func (t *Takers) could(machine string) bool {
	state := t.stands[machine].State
	return state != OnHalt && state != KeptDue && t.alone[machine]
}

// Would is a machine as it would be once it is released, where it may be.
func (t *Takers) Would(machine int) ground.Machine {
	m := t.Machines[machine]
	m.Released = m.Released || !t.Halted(m.ID)
	return m
}

// Instead is another machine that may do a zone: its place, who would take it, what it has
// of the zone, and whether it is out already.
type Instead struct {
	Machine, Person int
	Room            ground.Room
	Out             bool
}

// insteadMost is how many other machines are looked at for one that may not.
const insteadMost = 24

// Instead is the first other machine that may do a zone, those that are out first, with
// whoever has it, or would take it and is tied to no other. Sure is false where there are
// more than were looked at.
func (t *Takers) Instead(site *ground.Site, zone, but int) (in Instead, ok, sure bool) {
	z := &site.Zones[zone]
	tried := 0
	for i := range t.Machines {
		m := t.Machines[i]
		if i == but || !t.could(m.ID) || !slices.Contains(m.Does, z.Work) {
			continue
		}
		if tried++; tried > insteadMost {
			return in, false, false
		}
		out := m.Released
		m.Released = true
		room := t.House.Room(site, z, &m)
		for _, who := range t.bySuit(m.ID) {
			if t.House.Answer(room, t.People[who], t.At).Allowed {
				return Instead{i, who, room, out}, true, true
			}
		}
	}
	return in, false, true
}

// bySuit are the people who could take a machine now, the best first.
func (t *Takers) bySuit(machine string) (out []int) {
	points := map[int]int{}
	for _, i := range t.shown[machine] {
		if t.tie(t.People[i].ID, machine) == "" {
			out, points[i] = append(out, i), t.suits(i, machine)
		}
	}
	slices.SortStableFunc(out, func(a, b int) int { return cmp.Compare(points[b], points[a]) })
	return out
}
