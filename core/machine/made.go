package machine

// A yard's own model: a sheet made from another one and from a machine's paper
// manual, and what of the other was left out.

import (
	"slices"
	"strings"

	"vespers/core/text"
)

// Made says of a sheet how a yard made it.
type Made struct {
	// Of is the sheet it was made from, with its edition and the hash of its content.
	Of      string `json:"of" jsonschema:"minLength=1"`
	Edition string `json:"edition" jsonschema:"minLength=1"`
	Hash    string `json:"hash" jsonschema:"minLength=1"`
	// Manual is the paper manual that its numbers were taken from.
	Manual string `json:"manual" jsonschema:"minLength=1"`
	// By is who made it, On the day, as YYYY-MM-DD.
	By string `json:"by" jsonschema:"minLength=1"`
	On string `json:"on" jsonschema:"minLength=1"`
	// Pages are where its figures stand in the manual, by their paths. A figure
	// without one was kept as it was in the other sheet: a house rule.
	Pages map[string]string `json:"pages,omitempty"`
	// Left are the points that were left out.
	Left []LeftOut `json:"left,omitempty"`
	// Fixed are the options that were settled for the model: the way of each.
	Fixed Chosen `json:"fixed,omitempty"`
	// Settled says why each of them is so, in somebody's words.
	Settled map[string]string `json:"settled,omitempty"`
}

// The reasons for which a point is left out.
const (
	NotFitted = "not_fitted" // the machine has no such part
	NotLooked = "not_looked" // the house does not look at it
)

// LeftOut is a point that a model does without.
type LeftOut struct {
	Check string    `json:"check" jsonschema:"pattern=^[a-z][a-z0-9_]*$"`
	Name  text.Text `json:"name"`
	Class Class     `json:"class" jsonschema:"enum=A,enum=B,enum=C,enum=D,enum=E,enum=F,enum=G,enum=H"`
	// Kind is NotFitted or NotLooked; Why says it in somebody's words.
	Kind string `json:"kind" jsonschema:"enum=not_fitted,enum=not_looked"`
	Why  string `json:"why" jsonschema:"minLength=1"`
}

// Matters reports whether it is told at every release: what the house does not look
// at, and what decides safety, whatever was said of it.
func (l LeftOut) Matters() bool { return l.Kind != NotFitted || l.Class.Decides() }

// Without takes points out of a sheet, with all that speaks of them: order, pairs,
// what is looked over after an event, and what an answer of a procedure finds.
func (s *Sheet) Without(checks ...string) {
	gone := func(id string) bool { return slices.Contains(checks, id) }
	s.Checks = slices.DeleteFunc(s.Checks, func(c Check) bool { return gone(c.ID) })
	for i := range s.Checks {
		c := &s.Checks[i]
		c.After = slices.DeleteFunc(c.After, gone)
		if c.Even == nil {
			continue
		}
		c.Even.Pairs = slices.DeleteFunc(c.Even.Pairs, func(pair [2]string) bool {
			return slices.ContainsFunc(pair[:], func(name string) bool {
				point, _, elsewhere := strings.Cut(name, ".")
				return elsewhere && gone(point)
			})
		})
		if len(c.Even.Pairs) == 0 {
			c.Even = nil
		}
	}
	found := func(steps []Step) {
		for i := range steps {
			if no := steps[i].No; no != nil && no.Finding != nil && gone(no.Finding.Check) {
				no.Finding = nil
			}
		}
	}
	for i := range s.Procedures {
		found(s.Procedures[i].Steps)
	}
	for i := range s.Events {
		s.Events[i].Look = slices.DeleteFunc(s.Events[i].Look, gone)
		found(s.Events[i].Steps)
	}
}

// Fix settles an option for good: what belongs to its other ways goes, and the
// sheet no longer asks. It reports false for an option or a way there is not.
func (s *Sheet) Fix(option, way string) bool {
	i := slices.IndexFunc(s.Options, func(o Option) bool { return o.ID == option })
	if i < 0 {
		return false
	}
	choice, ok := s.Options[i].Choice(way)
	if !ok {
		return false
	}
	if choice.Model != "" {
		s.Name = text.Text{EN: s.Name.EN + " " + choice.Model, ES: s.Name.ES + " " + choice.Model}
	}
	s.Options = slices.Delete(s.Options, i, i+1)
	stays := func(when *If) bool {
		ways, asks := (*when)[option]
		if asks && !slices.Contains(ways, way) {
			return false
		}
		if delete(*when, option); len(*when) == 0 {
			*when = nil
		}
		return true
	}
	before := s.Checks
	s.lists(func(l conditional) { l.keep(func(i int) bool { return stays(l.when(i)) }) })
	var gone []string
	for i := range before {
		if _, has := s.Check(before[i].ID); !has {
			gone = append(gone, before[i].ID)
		}
	}
	s.Without(gone...)
	kept := func(steps []Step) []Step {
		return slices.DeleteFunc(steps, func(st Step) bool { return !stays(&st.If) })
	}
	for i := range s.Procedures {
		s.Procedures[i].Steps = kept(s.Procedures[i].Steps)
	}
	for i := range s.Events {
		s.Events[i].Steps = kept(s.Events[i].Steps)
	}
	return true
}
