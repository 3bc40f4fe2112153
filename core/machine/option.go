package machine

// Options: what a machine has or carries, and what of its sheet goes with it.

import (
	"encoding/json"
	"maps"
	"slices"
	"strconv"
	"strings"

	"vespers/core/text"
)

// Option is something a machine has in one of several ways: a bagger or a chute,
// a wide deck or a narrow one. What of the sheet belongs to one way only says so
// with If.
type Option struct {
	ID   string    `json:"id" jsonschema:"pattern=^[a-z][a-z0-9_]*$"`
	Name text.Text `json:"name"`
	// Told: it may be another way each day, and the operator says at "Ready?" how
	// it is; left out, it is fixed for a machine by a lead.
	Told bool `json:"told,omitempty"`
	// Choices are its ways; the first is the one where nobody said.
	Choices []OptionChoice `json:"choices" jsonschema:"minItems=2,maxItems=8"`
}

// OptionChoice is one way of an option.
type OptionChoice struct {
	ID   string    `json:"id" jsonschema:"pattern=^[a-z][a-z0-9_]*$"`
	Name text.Text `json:"name"`
	// Model follows the machine's name where it is this way ("122").
	Model string `json:"model,omitempty"`
}

// Choice reports whether the option has a way of this id.
func (o *Option) Choice(id string) (*OptionChoice, bool) {
	for i := range o.Choices {
		if o.Choices[i].ID == id {
			return &o.Choices[i], true
		}
	}
	return nil, false
}

// If says with which ways of options a part of a sheet is there: by the option's
// id its ways, of which one will do; of several options all must agree. None is
// always.
type If map[string]Names

// Names is a list of names, which may be written as one name alone.
type Names []string

// UnmarshalJSON reads one name written alone too.
func (n *Names) UnmarshalJSON(data []byte) error {
	var one string
	if json.Unmarshal(data, &one) == nil {
		*n = Names{one}
		return nil
	}
	return json.Unmarshal(data, (*[]string)(n))
}

// holds reports whether a part is there under some chosen ways.
func (i If) holds(chosen Chosen) bool {
	for option, ways := range i {
		if !slices.Contains(ways, chosen[option]) {
			return false
		}
	}
	return true
}

// Chosen is the way of each option, by the option's id.
type Chosen map[string]string

// String writes chosen ways in one order, as ParseChosen reads them.
func (c Chosen) String() string {
	var parts []string
	for _, id := range slices.Sorted(maps.Keys(c)) {
		parts = append(parts, id+"="+c[id])
	}
	return strings.Join(parts, "&")
}

// ParseChosen reads what String wrote.
func ParseChosen(s string) Chosen {
	var c Chosen
	for _, part := range strings.Split(s, "&") {
		if id, way, ok := strings.Cut(part, "="); ok {
			if c == nil {
				c = Chosen{}
			}
			c[id] = way
		}
	}
	return c
}

// Key names a sheet, by its hash, with ways of its options.
func Key(hash string, chosen Chosen) string {
	if len(chosen) == 0 {
		return hash
	}
	return hash + "?" + chosen.String()
}

// SplitKey is what Key put together.
func SplitKey(key string) (hash string, chosen Chosen) {
	hash, ways, _ := strings.Cut(key, "?")
	return hash, ParseChosen(ways)
}

// Ways completes what is chosen: the first way of an option where nobody chose,
// and nothing that the sheet does not know.
func (s *Sheet) Ways(chosen Chosen) Chosen {
	out := Chosen{}
	for i := range s.Options {
		o := &s.Options[i]
		out[o.ID] = o.Choices[0].ID
		if _, ok := o.Choice(chosen[o.ID]); ok {
			out[o.ID] = chosen[o.ID]
		}
	}
	return out
}

// Chosen is how the options of a sheet stand that With made; nil for a whole one.
func (s *Sheet) Chosen() Chosen { return s.chosen }

// Told lists the options that the operator tells.
func (s *Sheet) Told() []Option {
	return slices.DeleteFunc(slices.Clone(s.Options), func(o Option) bool { return !o.Told })
}

// Unsaid is the first option fixed for a machine of which nobody has said how it
// stands; nil if all are said.
func (s *Sheet) Unsaid(chosen Chosen) *Option {
	for i := range s.Options {
		o := &s.Options[i]
		if _, said := o.Choice(chosen[o.ID]); !said && !o.Told {
			return o
		}
	}
	return nil
}

// Builds lists every way that the machine is built: all combinations of the
// options that are fixed for a machine, and nothing of those that are told; one
// of none where none is fixed.
func (s *Sheet) Builds() []Chosen {
	fixed := Sheet{Options: slices.DeleteFunc(slices.Clone(s.Options), func(o Option) bool { return o.Told })}
	return fixed.EveryWay()
}

// Alone is the sheet as it stands, as if its options had no other ways.
func (s *Sheet) Alone() *Sheet {
	out := *s
	out.Options, out.whole, out.chosen, out.origin = nil, nil, nil, nil
	out.lists(func(l conditional) {
		l.keep(func(int) bool { return true }) // a list of its own
		for i := range l.size {
			*l.when(i) = nil
		}
	})
	out.Procedures, out.Events = slices.Clone(s.Procedures), slices.Clone(s.Events)
	for i := range out.Procedures {
		out.Procedures[i].Steps = s.stepsNow(out.Procedures[i].Steps)
	}
	for i := range out.Events {
		out.Events[i].Steps = s.stepsNow(out.Events[i].Steps)
	}
	return &out
}

// stepsNow are steps without those of other ways of its options than it has now.
func (s *Sheet) stepsNow(steps []Step) (out []Step) {
	for _, one := range steps {
		if s.chosen == nil || one.If.holds(s.chosen) {
			one.If = nil
			out = append(out, one)
		}
	}
	return out
}

// With is the sheet with what belongs to some ways of its options, and without
// what belongs to others. A sheet without options is itself.
func (s *Sheet) With(chosen Chosen) *Sheet {
	if s.whole != nil {
		s = s.whole
	}
	if len(s.Options) == 0 {
		return s
	}
	out := *s
	out.whole, out.chosen = s, s.Ways(chosen)
	for i := range s.Options {
		if way, _ := s.Options[i].Choice(out.chosen[s.Options[i].ID]); way.Model != "" {
			out.Name = text.Text{EN: out.Name.EN + " " + way.Model, ES: out.Name.ES + " " + way.Model}
		}
	}
	out.origin = origin{}
	out.lists(func(l conditional) {
		out.origin[l.path] = l.keep(func(i int) bool { return l.when(i).holds(out.chosen) })
	})
	out.Events = out.looksLeft(s)
	return &out
}

// looksLeft are the events with the points that they ask for as far as the machine has
// them, built so.
func (s *Sheet) looksLeft(whole *Sheet) []Event {
	events := slices.Clone(s.Events)
	for i := range events {
		events[i].Look = slices.DeleteFunc(slices.Clone(events[i].Look), func(id string) bool {
			_, has := s.Check(id)
			_, knows := whole.Check(id)
			return knows && !has
		})
	}
	return events
}

// Origin turns a pointer into a sheet that With made into one into the whole.
func (s *Sheet) Origin(pointer string) string { return s.origin.pointer(pointer) }

// conditional is a list of a sheet whose things may belong to ways of options.
type conditional struct {
	path string // a JSON pointer
	size int
	when func(i int) *If
	// keep puts a new list in its place, of those that stay, and says which.
	keep func(func(i int) bool) []int
}

// lists shows every such list, what is in a list after the list itself.
func (s *Sheet) lists(see func(conditional)) {
	list(see, "/settings", &s.Settings, func(v *Setting) *If { return &v.If })
	list(see, "/protection", &s.Protection, func(v *Protection) *If { return &v.If })
	list(see, "/uses", &s.Uses, func(v *Use) *If { return &v.If })
	list(see, "/numbers", &s.Numbers, func(v *Parameter) *If { return &v.If })
	list(see, "/controls", &s.Controls, func(v *Control) *If { return &v.If })
	list(see, "/drawing/parts", &s.Drawing.Parts, func(v *Part) *If { return &v.If })
	list(see, "/interlock/switches", &s.Interlock.Switches, func(v *Switch) *If { return &v.If })
	list(see, "/interlock/permits", &s.Interlock.Permits, func(v *Permit) *If { return &v.If })
	list(see, "/interlock/never", &s.Interlock.Never, func(v *Never) *If { return &v.If })
	list(see, "/interlock/starting", (*[]Starting)(&s.Interlock.Starting), func(v *Starting) *If { return &v.If })
	list(see, "/interlock/required", &s.Interlock.Required, func(v *RequiredTest) *If { return &v.If })
	if s.Towed != nil {
		own := *s.Towed // the list is put elsewhere, and the sheet it is of stays as it is
		s.Towed = &own
		list(see, "/towed/by", &own.By, func(v *Puller) *If { return &v.If })
	}
	if s.Transport != nil {
		own := *s.Transport
		s.Transport = &own
		list(see, "/transport/posture", &own.Posture, func(v *Posture) *If { return &v.If })
	}
	list(see, "/checks", &s.Checks, func(v *Check) *If { return &v.If })
	for i := range s.Checks {
		at := "/checks/" + strconv.Itoa(i)
		list(see, at+"/readings", &s.Checks[i].Readings, func(v *Reading) *If { return &v.If })
		list(see, at+"/faults", &s.Checks[i].Faults, func(v *Fault) *If { return &v.If })
	}
}

func list[T any](see func(conditional), path string, of *[]T, when func(*T) *If) {
	see(conditional{path: path, size: len(*of), when: func(i int) *If { return when(&(*of)[i]) }, keep: func(stays func(int) bool) []int {
		var kept []T
		var stood []int
		for i, v := range *of {
			if stays(i) {
				kept, stood = append(kept, v), append(stood, i)
			}
		}
		*of = kept
		return stood
	}})
}

// origin is where the things of a list that was made shorter stood before, by
// the pointer of the list.
type origin map[string][]int

// pointer turns a pointer into what is left of a sheet into one into the whole.
func (o origin) pointer(p string) string {
	var now, before strings.Builder
	for _, part := range strings.Split(strings.TrimPrefix(p, "/"), "/") {
		stood := part
		if indexes := o[now.String()]; indexes != nil {
			if i, err := strconv.Atoi(part); err == nil && i < len(indexes) {
				stood = strconv.Itoa(indexes[i])
			}
		}
		now.WriteString("/" + part)
		before.WriteString("/" + stood)
	}
	return before.String()
}

// waysMost is how many combinations of ways a sheet may have: each is checked.
const waysMost = 256

// EveryWay lists every combination of ways of a sheet's options; one of none
// where it has no options, and none where there are too many.
func (s *Sheet) EveryWay() []Chosen {
	all := []Chosen{{}}
	for _, o := range s.Options {
		var more []Chosen
		for _, c := range all {
			for _, way := range o.Choices {
				with := maps.Clone(c)
				with[o.ID] = way.ID
				more = append(more, with)
			}
		}
		if all = more; len(all) > waysMost {
			return nil
		}
	}
	return all
}

// EachWay calls see with what the sheet is in each combination of ways, and puts
// the problems that see finds where they stand in the whole sheet, each once.
func (s *Sheet) EachWay(see func(*Sheet) []Problem) []Problem {
	var out []Problem
	for _, chosen := range s.EveryWay() {
		one := s.With(chosen)
		for _, p := range see(one) {
			p.Pointer = one.Origin(p.Pointer)
			if !slices.ContainsFunc(out, func(q Problem) bool { return q.Pointer == p.Pointer && q.Reason.Rule == p.Reason.Rule }) {
				out = append(out, p)
			}
		}
	}
	return out
}
