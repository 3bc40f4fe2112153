package page

// Typed pages: a template with the type of its data.

import (
	"bytes"
	"embed"
	"encoding/json"
	"fmt"
	"html/template"
	"io"
	"io/fs"
	"net/http"
	"strings"
	"sync"
	"time"

	"vespers/core/operator"
	"vespers/core/round"
	"vespers/draw"
	"vespers/tell"
)

//go:embed templates/*.html
var templateFiles embed.FS

// Templates are the frame and the pieces that several features use.
var Templates fs.FS = templateFiles

// keypad is the order of the digits on a keypad, but for the last row.
var keypad = []string{"1", "2", "3", "4", "5", "6", "7", "8", "9"}

var functions = template.FuncMap{
	"num": func(v float64) string {
		return strings.TrimSuffix(strings.TrimRight(fmt.Sprintf("%.3f", v), "0"), ".")
	},
	"data": func(v any) (template.JS, error) {
		b, err := json.Marshal(v) // escapes <, > and &
		return template.JS(b), err
	},
	"scene": func(s draw.Scene, f Frame) SceneView { return SceneView{s, f.Voice} },
	"dict": func(pairs ...any) map[string]any {
		m := map[string]any{}
		for i := 0; i+1 < len(pairs); i += 2 {
			m[pairs[i].(string)] = pairs[i+1]
		}
		return m
	},
	"add":    func(a, b int) int { return a + b },
	"deref":  func(v *float64) float64 { return *v },
	"digits": func() []string { return keypad },
	// quickest is below what, in seconds, a second tap is none.
	"quickest": func() float64 { return round.Quickest },
}

// shared has the frame and the pieces of all features, which begin with an underscore.
var shared = sync.OnceValue(func() *template.Template {
	return template.Must(template.New("base").Funcs(functions).ParseFS(templateFiles, "templates/_*.html"))
})

// base is what the pages of a feature begin with: all that is shared, and its own pieces.
func base(files fs.FS) *template.Template {
	t := template.Must(shared().Clone())
	if own, err := fs.Glob(files, "templates/_*.html"); err == nil && len(own) > 0 && files != Templates {
		template.Must(t.ParseFS(files, own...))
	}
	return t
}

// Page is a page whose data is a T.
type Page[T any] struct {
	name string
	t    func() *template.Template // parsed when it is first shown
}

// Empty is a page that can be rendered with nothing in it, for a test.
type Empty struct {
	Name   string
	Render func(io.Writer, *Visit) error
}

var empties []Empty

// Empties lists every page of the program.
func Empties() []Empty { return empties }

// New is the page templates/NAME.html of a feature. It is called from package variables
// only; a template that does not parse panics when it is first shown, which a test does.
func New[T any](files fs.FS, name string) *Page[T] {
	p := &Page[T]{name: name, t: sync.OnceValue(func() *template.Template {
		return template.Must(base(files).ParseFS(files, "templates/"+name+".html"))
	})}
	empties = append(empties, Empty{name, func(w io.Writer, v *Visit) error {
		var nothing T
		return p.t().ExecuteTemplate(w, "frame", Frame{Visit: v, Name: name, Data: nothing})
	}})
	return p
}

// Show renders the page.
func (p *Page[T]) Show(v *Visit, status int, title string, data T) {
	f := Frame{Visit: v, Name: p.name, Title: title, Data: data}
	if v.Person != nil && !v.lent {
		day, err := v.dayLine()
		if err != nil {
			v.Site.Log.Error("day line", "error", err)
		}
		f.Day = day
		if f.Alerts, err = v.alerts(); err != nil {
			v.Site.Log.Error("alerts", "error", err)
		}
	}
	var b bytes.Buffer
	if err := p.t().ExecuteTemplate(&b, "frame", f); err != nil {
		v.Site.Log.Error("template", "page", p.name, "error", err)
		v.gin.String(http.StatusInternalServerError, v.T("error.internal"))
		return
	}
	v.gin.Header("Cache-Control", "no-store")
	v.gin.Data(status, "text/html; charset=utf-8", b.Bytes())
}

// Part renders a piece by itself.
func Part(w io.Writer, name string, data any) error {
	return pieces().ExecuteTemplate(w, name, data)
}

var pieces = sync.OnceValue(func() *template.Template { return base(Templates) })

// Frame is what every page has around its own data.
type Frame struct {
	*Visit
	Name   string
	Title  string
	Day    *DayLine
	Alerts []Alert
	Data   any
}

// YardName is the yard's name.
func (f Frame) YardName() string { return f.Yard.Name }

// Static is where the files that ship with the program are.
func (f Frame) Static() string { return f.Site.Static }

// Theme is the person's choice of daylight, lantern or auto.
func (f Frame) Theme() string {
	if f.Person == nil || f.Person.Theme == "" {
		return "auto"
	}
	return f.Person.Theme
}

// Keys reports whether single-letter keys are on.
func (f Frame) Keys() bool { return f.Person != nil && f.Person.Keys }

// ClockWrong says what is wrong with the clock; "" where nothing is.
func (f Frame) ClockWrong() string {
	if !f.Trouble.Wrong {
		return ""
	}
	return f.T("clock.wrong", "from", f.When(f.Trouble.From, f.Now), "to", f.When(f.Trouble.To, f.Now))
}

// MayDesk reports whether the person sees every open defect.
func (f Frame) MayDesk() bool { return f.May(operator.Desk) }

// MayMend reports whether the person has a list of what wants their hands.
func (f Frame) MayMend() bool { return f.May(operator.Mend) }

// MayCare reports whether what is due on the machines is for the person to see to.
func (f Frame) MayCare() bool { return f.May(operator.Machines) }

// MayPeople reports whether the person has to do with the crew.
func (f Frame) MayPeople() bool { return f.May(operator.People) }

// DayTime is a date with its time.
func (f Frame) DayTime(t time.Time) string { return tell.DayTime(f.Voice, t) }
