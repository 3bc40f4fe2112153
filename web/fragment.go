package web

import (
	"bytes"
	"html/template"
	"sync"
)

// fragments remembers pieces of pages that come hundreds of times, such as a
// bay of the yard: what they show is their key, so one is only ever made anew
// where something in it changed.
type fragments struct {
	mu   sync.Mutex
	base *template.Template
	made map[fragment]template.HTML
}

type fragment struct {
	name string
	data any // comparable
}

// fragmentsMost bounds the memory; beyond it all are forgotten.
const fragmentsMost = 10_000

func (f *fragments) render(name string, data any) (template.HTML, error) {
	key := fragment{name, data}
	f.mu.Lock()
	html, ok := f.made[key]
	f.mu.Unlock()
	if ok {
		return html, nil
	}
	var b bytes.Buffer
	if err := f.base.ExecuteTemplate(&b, name, data); err != nil {
		return "", err
	}
	html = template.HTML(b.String())
	f.mu.Lock()
	defer f.mu.Unlock()
	if len(f.made) >= fragmentsMost {
		clear(f.made)
	}
	f.made[key] = html
	return html, nil
}
