package draw

// Shapes and scenes, and how a scene becomes SVG.

import (
	"fmt"
	"html"
	"strings"

	"vespers/core/text"
)

// SVG writes the shapes of a scene as SVG elements, for files that stand alone;
// pages have a template of their own.
func (s Scene) SVG(l text.Language) string {
	var b strings.Builder
	for _, p := range s.Shapes {
		class := html.EscapeString(p.Class)
		switch p.Kind {
		case "rect":
			fmt.Fprintf(&b, `<rect class="%s" x="%s" y="%s" width="%s" height="%s" rx="%s"/>`, class, n(p.X), n(p.Y), n(p.W), n(p.H), n(p.R))
		case "circle":
			fmt.Fprintf(&b, `<circle class="%s" cx="%s" cy="%s" r="%s"/>`, class, n(p.X), n(p.Y), n(p.R))
		case "line":
			fmt.Fprintf(&b, `<line class="%s" x1="%s" y1="%s" x2="%s" y2="%s"/>`, class, n(p.X), n(p.Y), n(p.W), n(p.H))
		case "path":
			fmt.Fprintf(&b, `<path class="%s" d="%s"/>`, class, html.EscapeString(p.D))
		default:
			words := p.Plain
			if p.Words != nil {
				words = p.Words.In(l)
			}
			size := ""
			if p.H > 0 {
				size = fmt.Sprintf(` font-size="%s"`, n(p.H))
			}
			fmt.Fprintf(&b, `<text class="%s" x="%s" y="%s"%s>%s</text>`, class, n(p.X), n(p.Y), size, html.EscapeString(words))
		}
	}
	return b.String()
}
