package page

// A control to be moved, as pages tell it.

import (
	"vespers/core/round"
	"vespers/core/text"
)

// Todo is one thing to do, with the caution that belongs to it.
type Todo struct {
	Words, Caution string
	Held           bool // it stands so already, unless it was let go
	Number         int  // of the control on the figure beside it; 0 for none
}

// Todo puts a change of a control into words; the zero change has none.
func (v *Visit) Todo(c round.Change) Todo {
	if c.Do == (text.Text{}) {
		return Todo{}
	}
	t := Todo{Words: v.Text(c.Do), Held: c.Held}
	if c.Caution != (text.Text{}) {
		t.Caution = v.Text(c.Caution)
	}
	return t
}

// Todos puts several into words.
func (v *Visit) Todos(changes []round.Change) []Todo {
	var out []Todo
	for _, c := range changes {
		out = append(out, v.Todo(c))
	}
	return out
}
