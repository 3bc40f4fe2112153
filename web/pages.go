package web

import (
	"bytes"
	"embed"
	"encoding/json"
	"fmt"
	"html/template"
	"io"
	"io/fs"
	"net/http"
	"path"
	"strings"
	"time"

	"vespers/draw"
	"vespers/store"
)

//go:embed templates/*.html
var templateFiles embed.FS

// keypad is the order of the digits on a keypad, but for the last row.
var keypad = []string{"1", "2", "3", "4", "5", "6", "7", "8", "9"}

// pages are the parsed templates: each page with the frame and the parts.
type pages struct {
	byName map[string]*template.Template
	pieces *fragments
}

func loadPages() (*pages, error) {
	files, err := fs.Glob(templateFiles, "templates/*.html")
	if err != nil {
		return nil, err
	}
	pieces := &fragments{made: map[fragment][]byte{}, symbols: map[string]symbol{}}
	base := template.New("base").Funcs(template.FuncMap{
		"fragments": pieces.render,
		"num": func(v float64) string {
			return strings.TrimSuffix(strings.TrimRight(fmt.Sprintf("%.3f", v), "0"), ".")
		},
		"data": func(v any) (template.JS, error) {
			b, err := json.Marshal(v) // escapes <, > and &
			return template.JS(b), err
		},
		"scene": func(s draw.Scene, f *frame) sceneView { return sceneView{s, f} },
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
	})
	var names []string
	for _, f := range files {
		if strings.HasPrefix(path.Base(f), "_") {
			if base, err = base.ParseFS(templateFiles, f); err != nil {
				return nil, err
			}
		} else {
			names = append(names, f)
		}
	}
	// A clone, because a template that was used can no longer be added to.
	if pieces.base, err = base.Clone(); err != nil {
		return nil, err
	}
	p := &pages{byName: map[string]*template.Template{}, pieces: pieces}
	for _, f := range names {
		t, err := base.Clone()
		if err != nil {
			return nil, err
		}
		if t, err = t.ParseFS(templateFiles, f); err != nil {
			return nil, err
		}
		p.byName[strings.TrimSuffix(path.Base(f), ".html")] = t
	}
	return p, nil
}

// part renders a piece of a page by itself.
func (p *pages) part(w io.Writer, name string, data any) error {
	return p.pieces.base.ExecuteTemplate(w, name, data)
}

// frame is what every page has around its own data.
type frame struct {
	*visit
	Name   string
	Title  string
	Static string
	Day    *dayLine
	Data   any
}

// sceneView is a scene with the voice its words are said in.
type sceneView struct {
	draw.Scene
	Frame *frame
}

// Person is who is signed in, or nil.
func (f *frame) Person() *store.Person { return f.visit.person }

// YardName is the yard's name.
func (f *frame) YardName() string { return f.yard.Name }

// Now is when the page was made.
func (f *frame) Now() time.Time { return f.now }

// Theme is the person's choice of daylight, lantern or auto.
func (f *frame) Theme() string {
	if f.person == nil || f.person.Theme == "" {
		return "auto"
	}
	return f.person.Theme
}

// Keys reports whether single-letter keys are on.
func (f *frame) Keys() bool { return f.person != nil && f.person.Keys }

// page renders a page of the program.
func (v *visit) page(status int, name, title string, data any) {
	f := &frame{visit: v, Name: name, Title: title, Static: v.s.assets.prefix, Data: data}
	if v.person != nil {
		day, err := v.s.dayLine(v)
		if err != nil {
			v.s.Log.Error("day line", "error", err)
		}
		f.Day = day
	}
	var b bytes.Buffer
	if err := v.s.pages.byName[name].ExecuteTemplate(&b, "frame", f); err != nil {
		v.s.Log.Error("template", "page", name, "error", err)
		v.gin.String(http.StatusInternalServerError, v.T("error.internal"))
		return
	}
	v.gin.Header("Cache-Control", "no-store")
	v.gin.Data(status, "text/html; charset=utf-8", b.Bytes())
}
