package operator

// Who may do what: the one table.

import "slices"

// Act is something a person does in the yard. Every command and every page
// belongs to one; who may is decided here and nowhere else.
type Act string

// The acts.
const (
	Look      Act = "look"      // see the yard, its machines and days
	OwnThings Act = "own"       // one's own language, units, PIN
	TakeOut   Act = "take_out"  // begin an outing
	TakeOver  Act = "take_over" // go on with an outing that is another's
	HandOver  Act = "hand_over" // give an outing to somebody by name
	Work      Act = "work"      // answer in an outing: readiness, points, tests, breaks
	Release   Act = "release"   // let the machines of an outing go out
	Seek      Act = "seek"      // say who looks for an operator who was not heard of
	End       Act = "end"       // bring an outing home, or give it up
	Mend      Act = "mend"      // look for a fault, prove and sign a repair
	Desk      Act = "desk"      // see every open defect of the yard
	Ease      Act = "ease"      // set until when a Mend may stand, and what it forbids
	Review    Act = "review"    // see what stands out over many outings
	People    Act = "people"    // add people, change what is known of them, let them go
	Vouch     Act = "vouch"     // write down what somebody has read, practised or holds
	Machines  Act = "machines"  // add machines, give them sheets, say what a meter says
	Muster    Act = "muster"    // say who is here, give machines for the day, its quiet hours and weather
	Survey    Act = "survey"    // measure a bank, try it, walk a zone of the site
	Site      Act = "site"      // draw the site and import it
	Close     Act = "close"     // say where others are, and seal the day
	House     Act = "house"     // the yard itself: name, house rules, a wrong clock
)

// Whose is whose thing an act is done to.
type Whose int

// Own is one's own, or nobody's; Others is another person's.
const (
	Own Whose = iota
	Others
)

// may is who may do what: to their own, and to others'. An outing is its
// operator's; nobody vouches for themselves.
var may = map[Act][2][]Role{
	Look:      {Own: {Operator, Lead, Technician, Trainee, Visitor}, Others: {Operator, Lead, Technician, Trainee, Visitor}},
	OwnThings: {Own: {Operator, Lead, Technician, Trainee, Visitor}},
	TakeOut:   {Own: {Operator, Lead, Technician, Trainee}},
	TakeOver:  {Others: {Operator, Lead, Technician, Trainee}},
	HandOver:  {Own: {Operator, Lead, Technician, Trainee}, Others: {Lead}},
	Work:      {Own: {Operator, Lead, Technician, Trainee}},
	Release:   {Own: {Operator, Lead, Technician, Trainee}}, // a trainee with a second person
	Seek:      {Own: {Lead}, Others: {Lead}},
	End:       {Own: {Operator, Lead, Technician, Trainee}, Others: {Lead}},
	Mend:      {Own: {Technician}, Others: {Technician}},
	Desk:      {Own: {Lead, Technician}, Others: {Lead, Technician}},
	Ease:      {Own: {Lead}, Others: {Lead}},
	Review:    {Own: {Lead}, Others: {Lead}},
	People:    {Own: {Lead}, Others: {Lead}},
	Vouch:     {Others: {Lead}},
	Machines:  {Own: {Lead}, Others: {Lead}},
	Muster:    {Own: {Lead}, Others: {Lead}},
	Survey:    {Own: {Operator, Lead, Technician, Trainee}},
	Site:      {Own: {Lead}, Others: {Lead}},
	Close:     {Own: {Lead}, Others: {Lead}},
	House:     {Own: {Lead}, Others: {Lead}},
}

// duties are a lead's that may be handed to somebody for a time: what cannot wait for
// the lead. People and House stay: who sets roles, PINs and house rules could make a
// lead of themselves.
var duties = map[Act]bool{HandOver: true, Seek: true, End: true, Desk: true, Ease: true, Review: true, Vouch: true, Machines: true, Muster: true, Site: true, Close: true}

// May reports whether a role may do something.
func May(r Role, a Act, w Whose) bool { return slices.Contains(may[a][w], r) }

// Who lists the roles that may do something to anything at all, in the order
// roles are offered: who is let to its page.
func Who(a Act) []Role {
	var out []Role
	for _, r := range Roles() {
		if May(r, a, Own) || May(r, a, Others) {
			out = append(out, r)
		}
	}
	return out
}

// Acts lists every act.
func Acts() []Act {
	return []Act{Look, OwnThings, TakeOut, TakeOver, HandOver, Work, Release, Seek, End, Mend, Desk, Ease, Review, People, Vouch, Machines, Muster, Survey, Site, Close, House}
}
