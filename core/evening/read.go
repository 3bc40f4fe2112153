package evening

// Reading an evening from a file.

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"vespers/core/strict"
	"vespers/core/text"
)

var (
	whereSlot = text.Slot{Name: "where", Kind: text.Name}
	whatSlot  = text.Slot{Name: "what", Kind: text.Name}

	ruleNoPlace = text.NewRule("evening.no_such_place", whereSlot, whatSlot, text.Slot{Name: "known", Kind: text.Name})
	ruleNobody  = text.NewRule("evening.nobody", whereSlot, whatSlot)
	ruleMost    = text.NewRule("evening.too_many_jobs", whereSlot, text.Slot{Name: "most", Kind: text.Count})
)

// listMost is the longest list of jobs of a machine, placesMost the most places of a kind.
const (
	listMost   = 60
	placesMost = 1000
)

// Read reads an evening; the error is a *record.Refused.
func Read(data []byte) (Evening, error) {
	file, top := strict.Read(data)
	r := reader{file}
	e := r.evening(top)
	return e, r.Err
}

// reader reads the parts of an evening.
type reader struct{ *strict.Reader }

func (r reader) evening(top *strict.Object) Evening {
	r.Known(top, "places", "people", "machines")
	e := Evening{Places: map[string]int{"wash": 1, "fuel": 1}}
	if top.Has("places") {
		r.places(r.Object(top, "places"), e.Places)
	}
	named, known := top.Has("people"), map[string]bool{}
	for _, o := range r.Objects(top, "people", r.List(top, "people"), "id", "from") {
		e.People = append(e.People, Person{ID: r.Unique(known, r.Word(o, "id"), o.Where), From: r.Number(o, "from")})
	}
	seen := map[string]bool{}
	for _, o := range r.Objects(top, "machines", r.Some(top, "machines"), "id", "arrives", "cool", "who", "jobs") {
		m := r.machine(o, e.Places)
		r.Unique(seen, m.ID, o.Where)
		for _, who := range m.Who {
			if named && !known[who] {
				r.Refuse(ruleNobody.Says(o.At("who"), who))
			}
		}
		e.Machines = append(e.Machines, m)
	}
	return e
}

func (r reader) places(o *strict.Object, into map[string]int) {
	for _, id := range o.Words {
		count := r.Positive(o, id)
		if count != math.Trunc(count) || count > placesMost {
			r.NoNumber(o, id)
			continue
		}
		into[id] = int(count)
	}
}

func (r reader) machine(o *strict.Object, places map[string]int) Machine {
	m := Machine{ID: r.Word(o, "id"), Arrives: r.Number(o, "arrives"), Cool: r.Number(o, "cool")}
	m.Who = r.Words(o, "who", r.Some(o, "who"))
	jobs := r.Some(o, "jobs")
	if len(jobs) > listMost {
		r.Refuse(ruleMost.Says(o.Where, listMost))
		return m
	}
	seen := map[string]bool{}
	for _, job := range r.Objects(o, "jobs", jobs, "id", "minutes", "place", "cool", "early") {
		j := Job{ID: r.Unique(seen, r.Word(job, "id"), job.Where), Minutes: r.Positive(job, "minutes"), Cool: r.Yes(job, "cool"), Early: r.Yes(job, "early")}
		if place := job.Value("place"); place != nil { // null is nowhere, as in the answer
			if j.Place = r.Word(job, "place"); r.Err == nil && places[j.Place] == 0 {
				r.Refuse(ruleNoPlace.Says(job.At("place"), fmt.Sprint(place), strings.Join(slices.Sorted(maps.Keys(places)), ", ")))
			}
		}
		m.Jobs = append(m.Jobs, j)
	}
	return m
}
