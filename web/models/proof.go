package models

// What a model would be: drawn, its walk and its round planned, its procedures
// followed every way; then it is kept, or changed.

import (
	"maps"
	"math"
	"net/http"
	"slices"
	"strings"
	"time"

	"vespers/catalogue"
	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/own"
	"vespers/core/procedure"
	"vespers/core/walk"
	"vespers/draw"
	"vespers/store"
	"vespers/tell"
	"vespers/web/page"
)

// proofPage shows a model before it is kept.
type proofPage struct {
	Name, Edition, Like, Manual string
	Newer                       bool // an edition of a model there is
	Fields                      []field
	Scene                       draw.Scene
	Walk                        string
	Stops                       []string
	Round                       string
	Tests, Uncaught             []string
	Proved                      string
	Procedures                  []page.RunView
	Figures                     []figureWords
	Kept                        []string
	Left                        []page.LeftWords
	Settled                     []string
	Warnings                    []string
	Problem                     string
}

// field is one of the form's, carried on.
type field struct{ Name, Value string }

// figureWords is a number of the model with its page.
type figureWords struct{ Name, Value, Page string }

var proofPages = page.New[proofPage](templates, "proof")

// made is a model that was made from what the form says.
type made struct {
	of, sheet *machine.Sheet
	warnings  []catalogue.Problem
	newer     bool
}

// make makes the model of the form, as an edition or, for "", as the next; or it answers
// with what is wrong, and ok is false.
func (m *made) make(v *page.Visit, edition string) (ok bool) {
	hash, modelHash := v.Field("of"), v.Field("model")
	of, err := v.Site.Store.Sheet(v.Context(), hash)
	if err != nil {
		v.Fail(err)
		return false
	}
	spec := typed(v)
	again := func(status int, problems []own.Problem) bool {
		ask(v, status, of, hash, modelHash, spec, problems)
		return false
	}
	id := own.ID(spec.Name)
	if modelHash != "" {
		model, err := v.Site.Store.Sheet(v.Context(), modelHash)
		if err != nil || model.Made == nil {
			v.Fail(store.ErrNotFound)
			return false
		}
		id, m.newer = model.ID, true
	}
	taken, err := v.Site.Store.Editions(v.Context(), id)
	if err != nil {
		v.Fail(err)
		return false
	}
	spec.ID, spec.By, spec.On, spec.Edition = id, v.Person.Name, v.Now.In(v.Zone).Format(time.DateOnly), edition
	if edition == "" {
		spec.Edition = own.Edition(spec.On, taken)
	}
	sheet, problems := own.Make(of, hash, spec)
	if len(taken) > 0 && !m.newer && !slices.Contains(taken, edition) {
		problems = append(problems, own.NameTaken())
	}
	if len(problems) > 0 {
		return again(http.StatusUnprocessableEntity, problems)
	}
	text, err := catalogue.WholeYAML(sheet)
	if err != nil {
		v.Fail(err)
		return false
	}
	proved, wrong := catalogue.Prove(id+".yaml", text)
	if proved == nil {
		for _, w := range wrong {
			problems = append(problems, own.Problem{Field: "left", Reason: w.Reason})
		}
		return again(http.StatusUnprocessableEntity, problems)
	}
	m.of, m.sheet, m.warnings = of, proved, wrong
	return true
}

// prove shows what the model of the form would be.
func prove(v *page.Visit) {
	var m made
	if m.make(v, "") {
		m.show(v, http.StatusOK, "")
	}
}

// keep keeps it, and leads on to a machine of it.
func keep(v *page.Visit) {
	var m made
	if !m.make(v, v.Field("edition")) {
		return
	}
	r, err := catalogue.Resolve(m.sheet)
	if err == nil {
		err = v.Site.Store.OfferSheet(v.Context(), r)
	}
	if words, ok := v.Words(err); ok {
		m.show(v, http.StatusConflict, words)
		return
	}
	if err != nil {
		v.Fail(err)
		return
	}
	v.Saved("/machines-new?sheet=" + r.Hash)
}

func (m *made) show(v *page.Visit, status int, problem string) {
	s := m.sheet
	p := proofPage{Name: v.Text(s.Name), Edition: s.Edition, Like: v.Text(m.of.Name), Manual: s.Made.Manual, Newer: m.newer, Problem: problem,
		Fields: carried(v, s.Edition), Left: v.LeftOut(s, false)}
	for i := range m.of.Options {
		o := &m.of.Options[i]
		if way, ok := o.Choice(s.Made.Fixed[o.ID]); ok {
			p.Settled = append(p.Settled, v.T("own.settled", "option", v.Text(o.Name), "way", v.Text(way.Name), "why", s.Made.Settled[o.ID]))
		}
	}
	one := s.With(nil)
	p.Scene = draw.Machine(one)
	p.walk(v, one)
	p.round(v, one)
	p.Procedures = v.Procedures(one)
	report := procedure.Check(s)
	held := 0
	for _, h := range report.Hazards {
		if h.Applies && h.Holds {
			held++
		}
	}
	p.Proved = v.T("own.proved", "states", report.States, "hazards", held)
	for _, f := range s.Copy().Figures() {
		value, name := v.T("own.months_of", "n", int(f.Value())), figureName(v, s, &f)
		if f.Kind != machine.FigureMonths {
			value = v.Amount(f.Measure())
		}
		if at := s.Made.Pages[f.Path]; at != "" {
			p.Figures = append(p.Figures, figureWords{name, value, at})
			continue
		}
		p.Kept = append(p.Kept, name+": "+value)
	}
	for _, w := range m.warnings {
		p.Warnings = append(p.Warnings, w.Field+": "+v.Reason(w.Reason))
	}
	proofPages.Show(v, status, v.T("own.proof_title", "name", p.Name), p)
}

// walk is the walk-around of a cold machine, stop by stop.
func (p *proofPage) walk(v *page.Visit, s *machine.Sheet) {
	plan := walk.Cold(s, walk.Options{})
	points := 0
	for _, stop := range plan.Stops {
		if stop.Do == walk.Set {
			if setting, ok := s.Setting(stop.ID); ok {
				if way, ok := setting.Way(stop.To); ok {
					p.Stops = append(p.Stops, v.Text(way.Do))
				}
			}
			continue
		}
		if c, ok := s.Check(stop.ID); ok {
			points++
			p.Stops = append(p.Stops, v.Text(c.Name))
		}
	}
	p.Walk = v.T("own.walk", "points", points, "all", len(s.Checks), "minutes", int(math.Ceil(plan.Seconds/60)), "metres", int(math.Round(plan.Metres)))
}

// round is the interlock round, test by test, and what no test can show.
func (p *proofPage) round(v *page.Visit, s *machine.Sheet) {
	logic, _ := interlock.Of(s)
	if logic == nil || logic.None {
		p.Round = v.T("own.no_round")
		return
	}
	plan := logic.Plan()
	for _, t := range plan.Tests {
		p.Tests = append(p.Tests, tell.Test(v.Voice, &s.Interlock, logic, t))
	}
	var missed []string
	for _, u := range plan.Uncatchable {
		missed = append(missed, u.Fault)
	}
	p.Uncaught = tell.Faults(v.Voice, &s.Interlock, missed)
	p.Round = v.T("own.round", "tests", len(plan.Tests), "faults", len(plan.Dangerous)-len(plan.Uncatchable))
}

// carried are the fields of the form, to be sent again with the edition that was
// shown.
func carried(v *page.Visit, edition string) (out []field) {
	for _, name := range []string{"of", "model", "name", "manual"} {
		out = append(out, field{name, v.Field(name)})
	}
	for _, prefix := range []string{"value:", "page:", "kept:", "left:", "why:", "fixed:", "settled:"} {
		all := v.FieldsUnder(prefix)
		for _, rest := range slices.Sorted(maps.Keys(all)) {
			out = append(out, field{prefix + rest, all[rest]})
		}
	}
	return append(out, field{"edition", edition})
}

// sendSheet sends a stored sheet as YAML.
func sendSheet(v *page.Visit) {
	sheet, err := v.Site.Store.Sheet(v.Context(), v.Param("hash"))
	if err != nil {
		v.Fail(err)
		return
	}
	body, err := catalogue.WholeYAML(sheet)
	if err != nil {
		v.Fail(err)
		return
	}
	v.SendFile("application/yaml; charset=utf-8", fileName(sheet.ID+"-"+sheet.Edition)+".yaml", body)
}

// fileName is a name as a header and any disk take it: an edition may be any text.
func fileName(name string) string {
	return strings.Map(func(r rune) rune {
		if 'a' <= r && r <= 'z' || 'A' <= r && r <= 'Z' || '0' <= r && r <= '9' || strings.ContainsRune("-_.", r) {
			return r
		}
		return '_'
	}, name)
}
