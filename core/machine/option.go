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

// With is the sheet with what belongs to some ways of its options, and without
// what belongs to others. A sheet without options is itself.
func (s *Sheet) With(chosen Chosen) *Sheet {
	out, _ := s.with(chosen)
	return out
}

// Alone is the sheet as it stands, as if its options had no other ways.
func (s *Sheet) Alone() *Sheet {
	out := *s
	out.Options, out.whole, out.chosen = nil, nil, nil
	always(&out.Settings, func(v *Setting) { v.If = nil })
	always(&out.Protection, func(v *Protection) { v.If = nil })
	always(&out.Uses, func(v *Use) { v.If = nil })
	always(&out.Numbers, func(v *Parameter) { v.If = nil })
	always(&out.Drawing.Parts, func(v *Part) { v.If = nil })
	always(&out.Interlock.Switches, func(v *Switch) { v.If = nil })
	always(&out.Interlock.Permits, func(v *Permit) { v.If = nil })
	always(&out.Interlock.Never, func(v *Never) { v.If = nil })
	always(&out.Interlock.Required, func(v *RequiredTest) { v.If = nil })
	always(&out.Checks, func(v *Check) {
		v.If = nil
		always(&v.Readings, func(v *Reading) { v.If = nil })
		always(&v.Faults, func(v *Fault) { v.If = nil })
	})
	return &out
}

// always makes the things of a list, which others may share, depend on nothing.
func always[T any](list *[]T, free func(*T)) {
	*list = slices.Clone(*list)
	for i := range *list {
		free(&(*list)[i])
	}
}

// with is With, and where what is kept stood before.
func (s *Sheet) with(chosen Chosen) (*Sheet, origin) {
	if s.whole != nil {
		s = s.whole
	}
	if len(s.Options) == 0 {
		return s, nil
	}
	out := *s
	out.whole, out.chosen = s, s.Ways(chosen)
	o := origin{}
	holds := func(i If) bool { return i.holds(out.chosen) }
	out.Settings = kept(o, "/settings", s.Settings, func(v Setting) bool { return holds(v.If) })
	out.Protection = kept(o, "/protection", s.Protection, func(v Protection) bool { return holds(v.If) })
	out.Uses = kept(o, "/uses", s.Uses, func(v Use) bool { return holds(v.If) })
	out.Numbers = kept(o, "/numbers", s.Numbers, func(v Parameter) bool { return holds(v.If) })
	out.Drawing.Parts = kept(o, "/drawing/parts", s.Drawing.Parts, func(v Part) bool { return holds(v.If) })
	out.Interlock.Switches = kept(o, "/interlock/switches", s.Interlock.Switches, func(v Switch) bool { return holds(v.If) })
	out.Interlock.Permits = kept(o, "/interlock/permits", s.Interlock.Permits, func(v Permit) bool { return holds(v.If) })
	out.Interlock.Never = kept(o, "/interlock/never", s.Interlock.Never, func(v Never) bool { return holds(v.If) })
	out.Interlock.Required = kept(o, "/interlock/required", s.Interlock.Required, func(v RequiredTest) bool { return holds(v.If) })
	out.Checks = kept(o, "/checks", s.Checks, func(v Check) bool { return holds(v.If) })
	for i := range out.Checks {
		at := "/checks/" + strconv.Itoa(i)
		out.Checks[i].Readings = kept(o, at+"/readings", out.Checks[i].Readings, func(v Reading) bool { return holds(v.If) })
		out.Checks[i].Faults = kept(o, at+"/faults", out.Checks[i].Faults, func(v Fault) bool { return holds(v.If) })
	}
	return &out, o
}

// origin is where the things of a list that was made shorter stood before, by
// the pointer of the list.
type origin map[string][]int

// kept is what of a list stays.
func kept[T any](o origin, path string, list []T, keep func(T) bool) []T {
	var out []T
	for i, v := range list {
		if keep(v) {
			out = append(out, v)
			o[path] = append(o[path], i)
		}
	}
	return out
}

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
		one, o := s.with(chosen)
		for _, p := range see(one) {
			p.Pointer = o.pointer(p.Pointer)
			if !slices.ContainsFunc(out, func(q Problem) bool { return q.Pointer == p.Pointer && q.Reason.Rule == p.Reason.Rule }) {
				out = append(out, p)
			}
		}
	}
	return out
}
