package machine

// Combinations: what pulls a machine, and what rides on a trailer. Both keep their own
// walk, round and procedures; what one does to the other is said here, over the facts
// of the sheet it stands in.

import (
	"slices"

	"vespers/core/text"
)

// Towed is how a machine hangs behind what pulls it.
type Towed struct {
	// By are the families that may pull it.
	By []Puller `json:"by" jsonschema:"minItems=1"`
	// Coupled is how its facts stand while it hangs on what pulls it.
	Coupled Facts `json:"coupled" jsonschema:"minProperties=1"`
	// Way is what has to stand so before what pulls it moves off.
	Way Needs `json:"way" jsonschema:"minProperties=1"`
	// Ready says the same of the way in words.
	Ready text.Text `json:"ready"`
}

// Puller is a family that may pull a machine, with the ways of options that it may do so
// with: what has no shaft turns none.
type Puller struct {
	Family string `json:"family"`
	If     If     `json:"if,omitempty"`
}

// PulledBy reports whether a machine of a family may pull this one as it is built.
func (s *Sheet) PulledBy(family string) bool {
	if s.Towed == nil {
		return false
	}
	return slices.ContainsFunc(s.Towed.By, func(p Puller) bool { return p.Family == family })
}

// Carries is how a trailer takes another machine on its bed.
type Carries struct {
	// Open is what has to stand so while a machine is driven on or off, Shut while it is
	// fastened.
	Open Needs `json:"open" jsonschema:"minProperties=1"`
	Shut Needs `json:"shut" jsonschema:"minProperties=1"`
	// ToDrive and ToFasten say the same in words.
	ToDrive  text.Text `json:"to_drive"`
	ToFasten text.Text `json:"to_fasten"`
	// Aboard, Fastened and Empty are what the trailer is told by the machine's own
	// steps: it stands on the bed, it is fastened there, it is off again.
	Aboard   Facts `json:"aboard" jsonschema:"minProperties=1"`
	Fastened Facts `json:"fastened" jsonschema:"minProperties=1"`
	Empty    Facts `json:"empty" jsonschema:"minProperties=1"`
}

// Met reports whether facts stand as they have to.
func (n Needs) Met(stands Facts) bool {
	for fact, wants := range n {
		if !slices.Contains(wants, stands[fact]) {
			return false
		}
	}
	return true
}

// Hold reports whether other facts stand all as these do.
func (f Facts) Hold(stands Facts) bool {
	for fact, is := range f {
		if stands[fact] != is {
			return false
		}
	}
	return true
}

// Rides reports whether a machine may stand on a trailer: a procedure loads it.
func (s *Sheet) Rides() bool {
	for _, p := range s.Procedures {
		for _, step := range p.Steps {
			if step.Makes["transport"] == "trailer" {
				return true
			}
		}
	}
	return false
}
