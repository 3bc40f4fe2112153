package procedure

// The house rules that procedures hang on: where good practitioners differ, a yard
// chooses, and the machine's manual wins.

import (
	"slices"

	"vespers/core/machine"
)

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

// Asks lists the house rules that steps or hazards of a sheet hang on.
func Asks(s *machine.Sheet) (out []string) {
	hangs := map[string]bool{}
	eachStep(s, func(s *machine.Step, _ ...any) {
		if s.School != nil {
			hangs[s.School.Question] = true
		}
	})
	for _, q := range questions {
		if hangs[q.ID] {
			out = append(out, q.ID)
		}
	}
	return out
}

func question(id string) *Question {
	if i := slices.IndexFunc(questions, func(q Question) bool { return q.ID == id }); i >= 0 {
		return &questions[i]
	}
	return nil
}

// House is the choice of each house rule, by its question.
type House map[string]string

// Choice is what is in force: what was chosen, or the first.
func (h House) Choice(id string) string {
	q := question(id)
	if q == nil {
		return ""
	}
	if slices.Contains(q.Choices, h[id]) {
		return h[id]
	}
	return q.Choices[0]
}
