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
	for _, q := range procedure.Questions() {
		house[q.ID] = q.Choices[0]
		for _, key := range []string{q.ID, family + "/" + q.ID} {
			if choice, ok := p[key]; ok {
				house[q.ID] = choice
			}
		}
	}
	return house
}

// check finds what is wrong with choices.
func (p Practice) check() error {
	for _, key := range slices.Sorted(maps.Keys(p)) {
		id := key[strings.LastIndex(key, "/")+1:]
		i := slices.IndexFunc(procedure.Questions(), func(q procedure.Question) bool { return q.ID == id })
		if i < 0 {
			return record.Refuse(ruleQuestion.Says())
		}
		if !slices.Contains(procedure.Questions()[i].Choices, p[key]) {
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
