package models

// The form of a model: its numbers one by one, its options, its points.

import (
	"cmp"
	"net/http"
	"strconv"
	"strings"

	"vespers/core/machine"
	"vespers/core/own"
	"vespers/web/page"
)

// formPage asks for everything that a model has of its own.
type formPage struct {
	Of, Model    string // hashes
	Like         string // what it is made from, in words
	Name, Manual string
	Groups       []figureGroup
	Options      []optionChoice
	Points       []pointLine
	AnyLeft      bool
	Wrong        int  // how many fields are wrong
	Jump         bool // one of them is a number
	Problem      string
	NameProblem  string
	TitleProblem string
}

type figureGroup struct {
	Title   string
	Figures []figureLine
}

// figureLine is one number: as the other sheet has it, and as it was typed.
type figureLine struct {
	Path, Name, Unit, There string
	Typed, Page             string
	Kept                    bool
	If                      machine.If // the ways of options that it is there with
	Problem                 string
	First                   bool // the first that is wrong
}

// optionChoice is an option that may be settled for the model.
type optionChoice struct {
	ID, Name string
	Ways     []page.WayView
	Told     bool
	Why      string
	Problem  string
}

// pointLine is a point that may be left out.
type pointLine struct {
	ID, Name, Class string
	Kind, Why       string
	Problem         string
	Open            bool // something was said of it
}

var formPages = page.New[formPage](templates, "form")

func showForm(v *page.Visit) {
	of, err := v.Site.Store.Sheet(v.Context(), v.Query("of"))
	if err != nil {
		v.Fail(err)
		return
	}
	spec := own.Spec{}
	if hash := v.Query("model"); hash != "" {
		model, err := v.Site.Store.Sheet(v.Context(), hash)
		if err != nil {
			v.Fail(err)
			return
		}
		spec = own.Known(model, of)
	}
	ask(v, http.StatusOK, of, v.Query("of"), v.Query("model"), spec, nil)
}

// changeForm leads back from what a model would be to its form.
func changeForm(v *page.Visit) {
	of, err := v.Site.Store.Sheet(v.Context(), v.Field("of"))
	if err != nil {
		v.Fail(err)
		return
	}
	ask(v, http.StatusOK, of, v.Field("of"), v.Field("model"), typed(v), nil)
}

// typed is what the form says.
func typed(v *page.Visit) own.Spec {
	spec := own.Spec{Name: v.Field("name"), Manual: v.Field("manual"), Figures: map[string]own.Figure{}, Left: map[string]own.Left{}, Fixed: machine.Chosen{}, Settled: map[string]string{}}
	pages, kept, why := v.FieldsUnder("page:"), v.FieldsUnder("kept:"), v.FieldsUnder("why:")
	for path, value := range v.FieldsUnder("value:") {
		spec.Figures[path] = own.Figure{Typed: value, Page: pages[path], Kept: kept[path] == "yes"}
	}
	for id, kind := range v.FieldsUnder("left:") {
		if kind != "" || why[id] != "" {
			spec.Left[id] = own.Left{Kind: kind, Why: why[id]}
		}
	}
	settled := v.FieldsUnder("settled:")
	for option, way := range v.FieldsUnder("fixed:") {
		if way != "" {
			spec.Fixed[option], spec.Settled[option] = way, settled[option]
		}
	}
	if len(spec.Fixed) == 0 {
		spec.Fixed, spec.Settled = nil, nil
	}
	return spec
}

// ask shows the form as it was filled in, with what is wrong beside its field.
func ask(v *page.Visit, status int, of *machine.Sheet, hash, model string, spec own.Spec, problems []own.Problem) {
	wrong := map[string]string{}
	for _, p := range problems {
		if wrong[p.Field] == "" {
			wrong[p.Field] = v.Reason(p.Reason)
		}
	}
	p := formPage{Of: hash, Model: model, Like: v.Text(of.Name), Name: spec.Name, Manual: spec.Manual, Wrong: len(wrong),
		NameProblem: wrong["name"], TitleProblem: wrong["manual"], Problem: wrong["left"]}
	p.figures(v, of, spec, wrong)
	for i := range of.Options {
		o := &of.Options[i]
		choice := optionChoice{ID: o.ID, Name: v.Text(o.Name), Told: o.Told, Why: spec.Settled[o.ID], Problem: cmp.Or(wrong["fixed/"+o.ID], wrong["settled/"+o.ID])}
		for _, way := range o.Choices {
			choice.Ways = append(choice.Ways, page.WayView{ID: way.ID, Name: v.Text(way.Name), Chosen: spec.Fixed[o.ID] == way.ID})
		}
		p.Options = append(p.Options, choice)
	}
	for i := range of.Checks {
		c := &of.Checks[i]
		left, said := spec.Left[c.ID]
		line := pointLine{ID: c.ID, Name: v.Text(c.Name), Class: v.T("class." + string(c.Class)), Kind: left.Kind, Why: left.Why, Problem: wrong["left/"+c.ID], Open: said}
		p.Points, p.AnyLeft = append(p.Points, line), p.AnyLeft || said
	}
	formPages.Show(v, status, v.T("own.form_title", "sheet", p.Like), p)
}

// figures are the numbers in groups, each group in the order of the sheet.
func (p *formPage) figures(v *page.Visit, of *machine.Sheet, spec own.Spec, wrong map[string]string) {
	group := func(title string) *figureGroup {
		if n := len(p.Groups); n == 0 || p.Groups[n-1].Title != title {
			p.Groups = append(p.Groups, figureGroup{Title: title})
		}
		return &p.Groups[len(p.Groups)-1]
	}
	for _, f := range of.Copy().Figures() {
		said := spec.Figures[f.Path]
		line := figureLine{Path: f.Path, Name: figureName(v, of, &f), Unit: f.Unit, There: strings.Replace(own.Written(&f), ".", v.Decimal(), 1), Typed: said.Typed, Page: said.Page, Kept: said.Kept, If: f.If, Problem: wrong["figures/"+f.Path]}
		line.First = line.Problem != "" && !p.Jump
		p.Jump = p.Jump || line.First
		if f.Kind == machine.FigureMonths {
			line.Unit = v.T("own.months")
		}
		g := group(v.T("own.group." + groupOf(f.Kind)))
		g.Figures = append(g.Figures, line)
	}
}

// groupOf is under which heading a kind of figure stands.
func groupOf(kind machine.FigureKind) string {
	switch kind {
	case machine.FigureSlope, machine.FigureUp, machine.FigureNever, machine.FigureOff:
		return "uses"
	case machine.FigureNumber:
		return "numbers"
	case machine.FigureStop:
		return "stops"
	}
	return "readings"
}

// figureName says which number of the machine a figure is.
func figureName(v *page.Visit, of *machine.Sheet, f *machine.Figure) string {
	name := ""
	switch f.Kind {
	case machine.FigureNumber:
		name = v.T("parameter." + f.ID)
	case machine.FigureSlope:
		name = v.T("own.name.slope", "use", v.T("use."+f.ID))
	case machine.FigureUp:
		name = v.T("own.name.up", "use", v.T("use."+f.ID))
	case machine.FigureNever:
		name = v.T("own.name.never_above", "use", v.T("use."+f.ID))
	case machine.FigureOff:
		name = v.T("own.name.off", "condition", v.T("condition."+f.ID))
	case machine.FigureStop:
		name = v.T("own.name.stop", "what", v.Text(f.Permit.Moves))
	case machine.FigureHours, machine.FigureMonths, machine.FigureUneven:
		name = v.T("own.name."+string(f.Kind), "point", v.Text(f.Check.Name))
	default:
		name = v.T("own.name."+string(f.Kind), "point", v.Text(f.Check.Name), "reading", v.Text(f.Reading.Name))
	}
	if f.By != "" {
		name += ", " + underWords(v, of, f)
	}
	for i := range of.Options {
		var ways []string
		for _, id := range f.If[of.Options[i].ID] {
			if way, ok := of.Options[i].Choice(id); ok {
				ways = append(ways, v.Text(way.Name))
			}
		}
		if len(ways) > 0 {
			name += " · " + strings.Join(ways, " / ")
		}
	}
	return name
}

// underWords says for which condition of the day a limit is.
func underWords(v *page.Visit, of *machine.Sheet, f *machine.Figure) string {
	c, ok := of.Condition(f.By)
	if !ok {
		return f.By + " " + strconv.FormatFloat(f.At, 'f', -1, 64)
	}
	for _, choice := range c.Choices {
		if choice.Value == f.At {
			return v.Text(c.Name) + ": " + v.Text(choice.Name)
		}
	}
	return v.Text(c.Name) + " " + strconv.FormatFloat(f.At, 'f', -1, 64)
}
