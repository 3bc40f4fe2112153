package web

import (
	"bytes"
	"html/template"
	"sync"

	"vespers/core/machine"
	"vespers/draw"
)

// symbol is a machine type drawn once, as a page uses it in every bay.
type symbol struct {
	ID, View string
	HTML     template.HTML
}

// symbol draws a machine type, or finds it drawn: a hash never means another.
func (f *fragments) symbol(hash string, sheet *machine.Sheet) (symbol, error) {
	f.mu.Lock()
	defer f.mu.Unlock()
	if s, ok := f.symbols[hash]; ok {
		return s, nil
	}
	scene := draw.Machine(sheet)
	s := symbol{ID: "sheet-" + hash, View: scene.ViewBox()}
	var b bytes.Buffer
	if err := f.base.ExecuteTemplate(&b, "shapes", sceneView{Scene: scene}); err != nil {
		return s, err
	}
	s.HTML = template.HTML(b.String())
	f.symbols[hash] = s
	return s, nil
}

// fragments remembers pieces of pages that come hundreds of times, such as a
// bay of the yard: what they show is their key, so one is only ever made anew
// where something in it changed.
type fragments struct {
	mu   sync.Mutex
	base *template.Template
	made map[fragment][]byte

	symbols map[string]symbol // by hash of the sheet
}

type fragment struct {
	name string
	bay  bay
}

// fragmentsMost bounds the memory; beyond it all are forgotten.
const fragmentsMost = 10_000

// render makes the pieces for a list of bays, one after the other.
func (f *fragments) render(name string, bays []bay) (template.HTML, error) {
	f.mu.Lock()
	defer f.mu.Unlock()
	var out bytes.Buffer
	for _, b := range bays {
		key := fragment{name, b}
		html, ok := f.made[key]
		if !ok {
			var piece bytes.Buffer
			if err := f.base.ExecuteTemplate(&piece, name, b); err != nil {
				return "", err
			}
			if len(f.made) >= fragmentsMost {
				clear(f.made)
			}
			html = piece.Bytes()
			f.made[key] = html
		}
		out.Write(html)
	}
	return template.HTML(out.String()), nil
}
