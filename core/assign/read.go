package assign

// Reading what has to be assigned from a file.

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"vespers/core/plane"
	"vespers/core/strict"
	"vespers/core/text"
)

var (
	whereSlot = text.Slot{Name: "where", Kind: text.Name}

	ruleWindow = text.NewRule("assign.window", whereSlot)
	rulePlace  = text.NewRule("assign.place", whereSlot)
	ruleMost   = text.NewRule("assign.too_many", whereSlot, text.Slot{Name: "most", Kind: text.Count})
)

// listMost is the longest list that is read.
const listMost = 200

type reader struct{ *strict.Reader }

// Read reads a problem; the error is a *record.Refused.
func Read(data []byte) (*Problem, error) {
	file, top := strict.Read(data)
	r := reader{file}
	r.Known(top, "window", "zones", "operators", "machines", "may")
	p := &Problem{}
	if !top.Has("window") {
		r.Missing(top, "window")
	}
	p.From, p.To = r.span(top.Value("window"), "window")
	zones, operators, machines := map[string]int{}, map[string]int{}, map[string]int{}
	for _, o := range r.list(top, "zones", "id", "at", "priority", "deadline", "quiet") {
		z := Zone{ID: r.id(o, zones), At: r.place(o), Priority: 1, Deadline: math.Inf(1)}
		if o.Has("priority") {
			z.Priority = r.Positive(o, "priority")
		}
		if o.Has("deadline") {
			z.Deadline = r.Needed(o, "deadline")
		}
		for i, one := range r.List(o, "quiet") {
			from, to := r.span(one, fmt.Sprintf("%s[%d]", o.At("quiet"), i))
			z.Quiet = append(z.Quiet, [2]float64{from, to})
		}
		slices.SortFunc(z.Quiet, func(a, b [2]float64) int { return cmp.Compare(a[0], b[0]) })
		p.Zones = append(p.Zones, z)
	}
	for _, o := range r.list(top, "operators", "id", "from") {
		p.Operators = append(p.Operators, Operator{r.id(o, operators), r.Number(o, "from")})
	}
	for _, o := range r.list(top, "machines", "id", "at", "km_h", "from") {
		p.Machines = append(p.Machines, Machine{r.id(o, machines), r.place(o), r.Positive(o, "km_h"), r.Number(o, "from")})
	}
	p.Minutes = make([][][]float64, len(p.Operators))
	for o := range p.Minutes {
		p.Minutes[o] = make([][]float64, len(p.Machines))
		for m := range p.Minutes[o] {
			p.Minutes[o][m] = make([]float64, len(p.Zones))
		}
	}
	if !top.Has("may") {
		r.Missing(top, "may")
	}
	for _, o := range r.Objects(top, "may", r.List(top, "may"), "operator", "machine", "zone", "minutes") {
		who, with, where, minutes := r.one(o, "operator", operators), r.one(o, "machine", machines), r.one(o, "zone", zones), r.Positive(o, "minutes")
		if r.Err != nil {
			break
		}
		if p.Minutes[who][with][where] > 0 {
			r.Unique(map[string]bool{p.Zones[where].ID: true}, p.Zones[where].ID, o.Where)
		}
		p.Minutes[who][with][where] = minutes
	}
	return p, r.Err
}

// list are the objects of a list, which may not be too long.
func (r reader) list(top *strict.Object, word string, known ...string) []*strict.Object {
	if !top.Has(word) {
		r.Missing(top, word)
	}
	list := r.List(top, word)
	if len(list) > listMost {
		r.Refuse(ruleMost.Says(word, listMost))
		return nil
	}
	return r.Objects(top, word, list, known...)
}

// id is an id that was not there before; it is noted with its number.
func (r reader) id(o *strict.Object, seen map[string]int) string {
	id := r.Word(o, "id")
	if _, twice := seen[id]; twice {
		r.Unique(map[string]bool{id: true}, id, o.At("id"))
	}
	seen[id] = len(seen)
	return id
}

// one is the number of an id that has to be known.
func (r reader) one(o *strict.Object, word string, known map[string]int) int {
	id := r.Word(o, word)
	i, ok := known[id]
	if !ok {
		var ids []string
		for k := range known {
			ids = append(ids, k)
		}
		slices.Sort(ids)
		r.Unknown(o.At(word), id, ids)
	}
	return i
}

// place is where something is, in metres.
func (r reader) place(o *strict.Object) plane.Point {
	if !o.Has("at") {
		r.Missing(o, "at")
		return plane.Point{}
	}
	at := r.Items(o.Value("at"), o.At("at"))
	if len(at) != 2 {
		r.Refuse(rulePlace.Says(o.At("at")))
		return plane.Point{}
	}
	return plane.Point{X: r.Signed(at[0], o.At("at")+"[0]"), Y: r.Signed(at[1], o.At("at")+"[1]")}
}

// span is two minutes, the earlier first.
func (r reader) span(v any, where string) (from, to float64) {
	pair := r.Items(v, where)
	if len(pair) != 2 {
		r.Refuse(ruleWindow.Says(where))
		return 0, 0
	}
	from, to = r.Signed(pair[0], where+"[0]"), r.Signed(pair[1], where+"[1]")
	if from < 0 || to <= from {
		r.Refuse(ruleWindow.Says(where))
	}
	return from, to
}
