package procedure

// The house rules that procedures hang on: where good practitioners differ, a yard
// chooses, and the machine's manual wins.

import "slices"

// Question is a house rule and its choices; the first is in force where nobody
// chose.
type Question struct {
	ID      string
	Choices []string
}

var questions = []Question{
	{"clearing", []string{"lead_off", "still"}},
	{"refuel_when", []string{"before_work", "day_end"}},
	{"grease_when", []string{"after_wash", "warm", "before_work"}},
	{"brake_when", []string{"before_off", "after_off"}},
	{"washing", []string{"air_then_water", "water", "air_only"}},
}

// Questions lists the house rules of procedures, as they are published.
func Questions() []Question { return slices.Clone(questions) }

func question(id string) *Question {
	if i := slices.IndexFunc(questions, func(q Question) bool { return q.ID == id }); i >= 0 {
		return &questions[i]
	}
	return nil
}

// House is the choice of each house rule, by its question.
type House map[string]string

// choice is what is in force: what was chosen, or the first.
func (h House) choice(id string) string {
	q := question(id)
	if q == nil {
		return ""
	}
	if slices.Contains(q.Choices, h[id]) {
		return h[id]
	}
	return q.Choices[0]
}
