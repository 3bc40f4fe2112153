package page

// What is due on a machine, as lists show it.

import (
	"vespers/core/yard"
	"vespers/tell"
)

// DueLine is one point that is due.
type DueLine struct {
	Point, Who, Every string
	State             string // a class
	Words             string
}

// DueLines are the points in words.
func (v *Visit) DueLines(due []yard.Due) []DueLine {
	var out []DueLine
	for _, d := range due {
		line := DueLine{Point: v.Text(d.Check.Name), Who: tell.WhoLooks(v.Voice, d.Check), Every: tell.Every(v.Voice, d.Check.Every), State: string(d.State), Words: tell.Due(v.Voice, d, v.Now)}
		if d.Keeps() {
			line.State = "keeps"
		}
		out = append(out, line)
	}
	return out
}
