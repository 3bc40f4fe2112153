package yard

// The rules of the house: what a yard chose where good practitioners differ, and who is
// called when somebody is hurt.

import (
	"maps"
	"slices"
	"strings"

	"vespers/core/procedure"
	"vespers/core/record"
	"vespers/core/text"
)

// Practice is what a yard chose, by question; a family may have a choice of its own, by
// family/question. Where nothing was chosen the first choice of a question holds.
type Practice map[string]string

// Emergency is who is called, and how the place is found.
type Emergency struct {
	Numbers string `json:"numbers,omitempty"`
	Address string `json:"address,omitempty"`
	Meeting string `json:"meeting,omitempty"` // where help is met
}

var (
	ruleQuestion = text.NewRule("house.no_such_question")
	ruleChoice   = text.NewRule("house.no_such_choice")
)

// emergencyMost is the longest wording, in characters: it is read aloud on a phone.
const emergencyMost = 200

// For is what holds for machines of a family.
func (p Practice) For(family string) procedure.House {
	house := procedure.House{}
	for _, q := range Questions() {
		if q.At != "" && !q.Concerns(family) {
			continue
		}
		house[q.ID] = p.Now(q, family)
	}
	return house
}

// Now is the choice of a question that is in force for a family, or, where that is "",
// for the yard. What was chosen for the family comes first; then, where the family is
// another thing, what is usual for it; then what was chosen for the yard.
func (p Practice) Now(q Question, family string) string {
	if choice, ok := p[family+"/"+q.ID]; ok && family != "" {
		return choice
	}
	if usual := q.Usual(family); usual != "" {
		return usual
	}
	if choice, ok := p[q.ID]; ok {
		return choice
	}
	return q.Choices[0]
}

// chosen are choices without those that nobody chose: a form that sends all of them has
// those too that hold anyhow, and that nobody has touched.
func (p Practice) chosen(before Practice) Practice {
	out := Practice{}
	for key, choice := range p {
		i := slices.IndexFunc(Questions(), func(q Question) bool { return q.ID == key })
		_, was := before[key]
		if i < 0 || was || choice != Questions()[i].Choices[0] {
			out[key] = choice
		}
	}
	return out
}

// check finds what is wrong with choices.
func (p Practice) check() error {
	for _, key := range slices.Sorted(maps.Keys(p)) {
		id := key[strings.LastIndex(key, "/")+1:]
		all := Questions()
		i := slices.IndexFunc(all, func(q Question) bool { return q.ID == id })
		if i < 0 {
			return record.Refuse(ruleQuestion.Says())
		}
		if !slices.Contains(all[i].Choices, p[key]) {
			return record.Refuse(ruleChoice.Says())
		}
	}
	return nil
}

// check finds what is wrong with a wording.
func (e Emergency) check() error {
	for _, words := range []string{e.Numbers, e.Address, e.Meeting} {
		if reason, wrong := text.Wrong(words, emergencyMost); wrong {
			return record.Refuse(reason)
		}
	}
	return nil
}
