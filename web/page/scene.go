package page

// Drawings as templates show them.

import (
	"bytes"
	"html/template"
	"sync"

	"vespers/core/machine"
	"vespers/draw"
	"vespers/say"
)

// SceneView is a scene with the voice its words are said in.
type SceneView struct {
	draw.Scene
	Voice *say.Voice
}

// Symbol is a machine type drawn once, as a page uses it in every bay.
type Symbol struct {
	ID, View string
	HTML     template.HTML
}

// symbols remembers what was drawn: a hash never means another sheet.
var symbols struct {
	sync.Mutex
	made map[string]Symbol
}

// SymbolOf draws a machine type, or finds it drawn.
func SymbolOf(hash string, sheet *machine.Sheet) (Symbol, error) {
	symbols.Lock()
	defer symbols.Unlock()
	if s, ok := symbols.made[hash]; ok {
		return s, nil
	}
	scene := draw.Machine(sheet)
	s := Symbol{ID: "sheet-" + hash, View: scene.ViewBox()}
	var b bytes.Buffer
	if err := Part(&b, "shapes", SceneView{Scene: scene}); err != nil {
		return s, err
	}
	s.HTML = template.HTML(b.String())
	if symbols.made == nil {
		symbols.made = map[string]Symbol{}
	}
	symbols.made[hash] = s
	return s, nil
}

// Rung is one permit of a ladder, as a page shows it.
type Rung struct {
	draw.Rung
	View    SceneView
	Watched bool
}

// Rungs draws a section with the controls as given; marked are the controls
// that the page is about, watched the permit.
func (v *Visit) Rungs(section *machine.Interlock, at, marked map[string]bool, watched string) []Rung {
	var out []Rung
	for _, r := range draw.Ladder(*section, at, marked) {
		out = append(out, Rung{Rung: r, View: SceneView{r.Scene, v.Voice}, Watched: r.Permit == watched})
	}
	return out
}
