package page

// Hand signals and radio words, as two people agree on them before they begin.

import (
	"slices"

	"vespers/core/machine"
	"vespers/draw"
)

// SignalView is one signal: drawn, what it means, how it is given, and the word for it.
type SignalView struct {
	View              SceneView
	Means, How, Radio string
}

// Guided are the signals of a guide, for loading and coupling.
func (v *Visit) Guided() (out []SignalView) {
	for _, id := range machine.GuideSignals() {
		out = append(out, v.signal(id))
	}
	return out
}

// signal is one signal in the person's language.
func (v *Visit) signal(id string) SignalView {
	return SignalView{SceneView{draw.Signal(id), v.Voice}, v.T("signal." + id), v.T("signal." + id + ".how"), v.T("signal." + id + ".radio")}
}

// Signals are those of machines that go out together, each once.
func (v *Visit) Signals(sheets ...*machine.Sheet) (out []SignalView) {
	var seen []string
	for _, s := range sheets {
		for _, id := range s.TwoSignals() {
			if slices.Contains(seen, id) {
				continue
			}
			seen = append(seen, id)
			out = append(out, v.signal(id))
		}
	}
	return out
}
