package tell

// How a machine gets to its work, in words.

import (
	"strings"

	"vespers/core/machine"
	"vespers/say"
)

// Transport tells how a machine goes up a ramp and rides on a trailer, as its sheet says;
// nothing where it says nothing.
func Transport(v *say.Voice, t *machine.Transport) (out []string) {
	if t == nil {
		return nil
	}
	source := v.T("source." + string(t.Source))
	if t.Up != "" {
		out = append(out, v.T("transport.up."+t.Up, "source", source))
	}
	var posture []string
	for _, one := range t.Posture {
		posture = append(posture, Lower(v.Text(one.Say)))
	}
	return append(out, v.T("transport.posture", "posture", strings.Join(posture, "; "), "source", source))
}
