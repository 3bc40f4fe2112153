// Package draw makes pictures from what the core knows, as plain geometry:
// scenes of shapes in the machine's own metres (or in the ladder's own steps).
// Templates turn scenes into SVG; colours come from style sheets by class.
package draw

import (
	"fmt"
	"strings"

	"vespers/core/text"
)

// Scene is a picture: its frame and its shapes, back to front.
type Scene struct {
	X, Y, W, H float64
	Shapes     []Shape
}

// Shape is one thing drawn. Path shapes have D; the others their numbers.
type Shape struct {
	Kind       string // rect, circle, line, path, words
	Class      string
	X, Y, W, H float64 // of a rect; a line goes from X,Y to W,H; a circle has X,Y,R; words may have a height H
	R          float64
	D          string
	Words      *text.Text
	Plain      string
	Turn       float64 // degrees, about the middle
}

// ViewBox is the frame as SVG wants it.
func (s Scene) ViewBox() string { return fmt.Sprintf("%s %s %s %s", n(s.X), n(s.Y), n(s.W), n(s.H)) }

// Ratio is width over height.
func (s Scene) Ratio() float64 { return s.W / s.H }

func n(v float64) string {
	return strings.TrimSuffix(strings.TrimRight(fmt.Sprintf("%.3f", v), "0"), ".")
}

func (s *Scene) rect(class string, x, y, w, h, r float64) {
	s.Shapes = append(s.Shapes, Shape{Kind: "rect", Class: class, X: x, Y: y, W: w, H: h, R: r})
}

func (s *Scene) circle(class string, x, y, r float64) {
	s.Shapes = append(s.Shapes, Shape{Kind: "circle", Class: class, X: x, Y: y, R: r})
}

func (s *Scene) line(class string, x1, y1, x2, y2 float64) {
	s.Shapes = append(s.Shapes, Shape{Kind: "line", Class: class, X: x1, Y: y1, W: x2, H: y2})
}

func (s *Scene) path(class, d string) {
	s.Shapes = append(s.Shapes, Shape{Kind: "path", Class: class, D: d})
}

func (s *Scene) words(class string, x, y float64, t text.Text) {
	s.Shapes = append(s.Shapes, Shape{Kind: "words", Class: class, X: x, Y: y, Words: &t})
}

func (s *Scene) plain(class string, x, y float64, t string) {
	s.Shapes = append(s.Shapes, Shape{Kind: "words", Class: class, X: x, Y: y, Plain: t})
}
