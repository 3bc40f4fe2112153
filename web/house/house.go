// Package house is the page of a yard's own rules: what it chose where good
// practitioners differ, how findings are dated, and who is called when somebody is
// hurt. Everybody reads it; a lead changes it.
package house

import (
	"embed"
	"maps"
	"math"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/procedure"
	"vespers/core/yard"
	"vespers/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// Routes are the feature's addresses.
func Routes() []page.Route {
	return []page.Route{
		page.Get("/rules", operator.Look, show),
		page.Post("/rules", operator.House, change),
		page.Post("/rules/pictures", operator.House, dropPictures),
	}
}

type rulesPage struct {
	ID        string
	May       bool // change it
	Name      string
	Timezone  string
	Zones     []string
	Clock     string // what it says there now
	MendDays  string
	Again     string // outings back that count
	LeakHalts bool
	AnyHalts  bool
	Questions []question
	Emergency yard.Emergency
	Wash      string // how many wash places
	Fuel      string
	Problem   string
	// Kept are the times for which pictures may be kept, PictureWords how many there are,
	// OldPictures how many are older than the house keeps them.
	Kept         []choice
	PictureWords string
	OldPictures  int
}

// question is one of the things good practitioners do differently.
type question struct {
	Key, Title string
	Own        bool // of a family: it has a choice of its own
	Families   []question
	AnyOwn     bool // one of them has
	Choices    []choice
	Now        string // in words
	By         string // who chose it, and when
	Usual      string // what is usual for a family that is another thing, where nobody chose
	On         string // the machines whose steps hang on it
}

type choice struct {
	ID, Name, Why  string
	Chosen, Normal bool // Normal holds where nobody chose
}

var pages = page.New[rulesPage](templates, "rules")

func show(v *page.Visit) {
	p, err := rules(v)
	if err != nil {
		v.Fail(err)
		return
	}
	pages.Show(v, http.StatusOK, v.T("house.title"), p)
}

func rules(v *page.Visit) (rulesPage, error) {
	p := rulesPage{ID: page.NewID(), May: v.May(operator.House), Name: v.Yard.Name, Timezone: v.Yard.Timezone, Zones: page.Zones(), Clock: v.When(v.Now, v.Now),
		MendDays: v.Number(float64(v.Yard.House.MendDays), 0), Again: strconv.Itoa(v.Yard.House.Again()), LeakHalts: v.Yard.House.LeakIsHalt, AnyHalts: v.Yard.House.AnyIsHalt, Emergency: v.Yard.Emergency,
		Wash: strconv.Itoa(max(1, v.Yard.Places.Wash)), Fuel: strconv.Itoa(max(1, v.Yard.Places.Fuel))}
	if err := p.pictures(v); err != nil {
		return p, err
	}
	machines, err := v.Site.Store.Machines(v.Context())
	if err != nil {
		return p, err
	}
	hangs := map[string][]string{} // names of machines, by question and by family/question
	asks := map[string][]string{}  // those keys, by sheet: many machines have one
	for _, m := range machines {
		keys, known := asks[m.Sheet]
		if !known {
			sheet, err := v.Site.Store.Sheet(v.Context(), m.Sheet)
			if err != nil {
				return p, err
			}
			keys = hangsOn(sheet)
			asks[m.Sheet] = keys
		}
		for _, key := range keys {
			hangs[key] = append(hangs[key], m.Name)
		}
	}
	for _, q := range yard.Questions() {
		if len(hangs[q.ID]) == 0 {
			continue // no machine here hangs on it
		}
		asked := ask(v, q, "", hangs[q.ID])
		for _, key := range slices.Sorted(maps.Keys(hangs)) {
			if family, id, of := strings.Cut(key, "/"); of && id == q.ID {
				of := ask(v, q, family, hangs[key])
				asked.Families, asked.AnyOwn = append(asked.Families, of), asked.AnyOwn || of.Own
			}
		}
		p.Questions = append(p.Questions, asked)
	}
	return p, nil
}

// hangsOn are the questions that a machine's procedures and work hang on, each for the yard
// and for its family.
func hangsOn(sheet *machine.Sheet) (keys []string) {
	asks := procedure.Asks(sheet)
	for _, q := range yard.KeptWith(sheet, "") {
		asks = append(asks, q.ID)
	}
	for _, q := range asks {
		keys = append(keys, q, sheet.Family+"/"+q)
	}
	return keys
}

func ask(v *page.Visit, q yard.Question, family string, on []string) question {
	out := question{Key: q.ID, Title: v.T("house." + q.ID), On: strings.Join(slices.Compact(on), ", ")}
	if len(on) > 6 {
		out.On = v.T("house.on_machines", "n", len(on))
	}
	if family != "" {
		out.Key = family + "/" + q.ID
		_, out.Own = v.Yard.Practice[out.Key]
		if usual := q.Usual(family); usual != "" {
			out.Usual = v.T("house." + q.ID + "." + usual)
		}
	}
	now := v.Yard.Practice.Now(q, family)
	for i, c := range q.Choices {
		name := v.T("house." + q.ID + "." + c)
		out.Choices = append(out.Choices, choice{ID: c, Name: name, Why: v.T("house." + q.ID + "." + c + ".why"), Chosen: c == now, Normal: i == 0})
		if c == now {
			out.Now = name
		}
	}
	if chosen, ok := v.Yard.Chosen[out.Key]; ok {
		out.By = v.T("house.chosen_by", "who", v.Name(chosen.By), "when", v.When(chosen.At, v.Now))
	}
	return out
}

// change takes the whole page: what is not on it stays as it was chosen.
func change(v *page.Visit) {
	practice := yard.Practice{}
	for key, choice := range v.Yard.Practice {
		practice[key] = choice
	}
	for key, typed := range v.FieldsUnder("rule.") {
		if practice[key] = typed; typed == "" { // as the yard
			delete(practice, key)
		}
	}
	c := yard.NameYard{Name: v.Field("name"), Timezone: v.Field("timezone"), Practice: practice,
		House: defect.House{MendDays: v.Whole("mend_days"), LeakIsHalt: v.Field("leak_halts") == "yes", AnyIsHalt: v.Field("any_halts") == "yes", Edition: v.Yard.House.Edition,
			AgainWithin: again(v.Field("again_within"))},
		Emergency: yard.Emergency{Numbers: v.Field("numbers"), Address: v.Field("address"), Meeting: v.Field("meeting")},
		Places:    yard.Places{Wash: count(v.Field("wash_places")), Fuel: count(v.Field("fuel_points"))},
		Pictures:  yard.Pictures{Months: v.Whole("pictures")}}
	_, err := v.Say(c)
	if err == nil {
		v.Saved("/rules")
		return
	}
	words, refused := v.Words(err)
	v.Yard.Practice = practice // what was chosen stays on the page
	p, failed := rules(v)
	if !refused || failed != nil {
		v.Fail(err)
		return
	}
	p.Again, p.Wash, p.Fuel = v.Field("again_within"), v.Field("wash_places"), v.Field("fuel_points")
	p.Problem, p.Name, p.Timezone, p.MendDays, p.LeakHalts, p.AnyHalts, p.Emergency = words, c.Name, c.Timezone, v.Field("mend_days"), c.House.LeakIsHalt, c.House.AnyIsHalt, c.Emergency
	pages.Show(v, http.StatusUnprocessableEntity, v.T("house.title"), p)
}

// count is how many places, as typed: what is no number from 1 is more than any yard has.
func count(typed string) int {
	n, err := strconv.Atoi(strings.TrimSpace(typed))
	if err != nil || n < 1 {
		return math.MaxInt32
	}
	return n
}

// again is how many outings back a point counts again, as typed: what is no number is
// more than any house may set.
func again(typed string) int {
	n, err := strconv.Atoi(typed)
	if err != nil || n < 0 {
		return math.MaxInt32
	}
	return defect.AgainWithinOf(n)
}

// kept are the times for which pictures may be kept, in months; 0 is always.
var kept = []int{0, 6, 12, 24, 60}

// pictures are for how long pictures are kept, how many there are, and how many are
// older than that.
func (p *rulesPage) pictures(v *page.Visit) error {
	months := v.Yard.Pictures.Months
	choices := kept
	if !slices.Contains(choices, months) {
		choices = append(slices.Clone(choices), months)
	}
	for _, n := range choices {
		name := v.T("house.pictures_for", "n", n)
		if n == 0 {
			name = v.T("house.pictures_ever")
		}
		p.Kept = append(p.Kept, choice{ID: strconv.Itoa(n), Name: name, Chosen: n == months})
	}
	n, size, err := v.Site.Store.Pictures(v.Context())
	if err != nil {
		return err
	}
	p.PictureWords = v.T("house.pictures_now", "n", n, "size", v.Number(float64(size)/1e6, 1)+"\u00a0MB")
	before, ends := v.Yard.Pictures.Until(v.Now)
	if !ends || !p.May {
		return nil
	}
	view, check := v.Site.Store.View(v.Context())
	p.OldPictures = len(view.OldPictures(before))
	return check()
}

// dropPictures drops those that are older than the house keeps them.
func dropPictures(v *page.Visit) {
	if _, err := v.Say(yard.DropPictures{}); err != nil {
		v.Fail(err)
		return
	}
	v.Saved("/rules")
}
