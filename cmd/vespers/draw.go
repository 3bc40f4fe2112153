package main

// The command that draws a sheet as an SVG file.

import (
	"errors"
	"fmt"
	"html"
	"os"
	"strings"

	"vespers/catalogue"
	"vespers/core/machine"
	"vespers/core/walk"
	"vespers/draw"
	"vespers/say"
)

type sheetDraw struct {
	Files []string `arg:"" optional:"" name:"file" help:"Sheet files." type:"existingfile"`
	All   string   `help:"Draw every sheet that ships into this file." placeholder:"OUT.svg" type:"path"`
	Out   string   `help:"The file to write the given sheets to." placeholder:"OUT.svg" type:"path"`
}

// drawStyle is how a sheet of drawings looks outside the pages: ink on paper.
const drawStyle = `svg{background:#f6f0e4}text{font-family:sans-serif;fill:#2a1626}.part,.tread,.rib,.spindle,.sweep,.tooth,.loop,.spur,.spot{vector-effect:non-scaling-stroke}
.part{fill:#cfc3ae;stroke:#2a1626;stroke-width:1.4}.tyre,.grip{fill:#4a3a45}.tread,.rib,.sweep{fill:none;stroke:#b9a98f}.shell,.screen,.plate,.bonnet{fill:#ded3c0}.cushion,.backrest{fill:#7c5a73}
.rod{stroke-width:2.5}.rod,.fork,.outline,.loop-bar,.bar-line{fill:none}.loop-bar{stroke:#4a3a45;stroke-width:4}.bar-line{stroke:#8c1313;stroke-width:3}.hoop,.spindle{fill:#2a1626}.tank,.lamp,.bristle{fill:#f2dca0}
.tooth{fill:none;stroke:#2a1626}.loop,.spur{fill:none;stroke:#8a5f00;stroke-dasharray:3 4}.spot{fill:#fbf7ee;stroke:#2a1626;stroke-width:1.5}.spot-count{text-anchor:middle;font-weight:700}`

// Run draws sheets on one page: each machine at 120 pixels as in the yard, and
// large with its loop.
func (c *sheetDraw) Run(v *say.Voice) error {
	var sheets []*machine.Sheet
	out := c.Out
	if c.All != "" {
		out = c.All
		all, err := catalogue.All()
		if err != nil {
			return err
		}
		for _, r := range all {
			sheets = append(sheets, r.Sheet)
		}
	}
	for _, file := range c.Files {
		sheet, problems, err := catalogue.CheckFile(file)
		if err != nil {
			return err
		}
		report(v, problems)
		if sheet == nil {
			return exit(2)
		}
		sheets = append(sheets, sheet)
	}
	if len(sheets) == 0 || out == "" {
		return errors.New("nothing to draw: name sheet files and --out, or --all")
	}
	return os.WriteFile(out, []byte(page(v, sheets)), 0o644)
}

func page(v *say.Voice, sheets []*machine.Sheet) string {
	const column, row, columns = 420, 470, 4
	rows := (len(sheets) + columns - 1) / columns
	var b strings.Builder
	fmt.Fprintf(&b, `<svg xmlns="http://www.w3.org/2000/svg" width="%d" height="%d"><style>%s</style>`, column*columns, row*rows, drawStyle)
	for i, sheet := range sheets {
		x, y := i%columns*column, i/columns*row
		small, large := draw.Machine(sheet), draw.Walk(sheet, marks(sheet))
		fmt.Fprintf(&b, `<text x="%d" y="%d" font-size="18">%s</text>`, x+14, y+28, html.EscapeString(v.Text(sheet.Name)))
		fmt.Fprintf(&b, `<svg x="%d" y="%d" width="120" height="120" viewBox="%s">%s</svg>`, x+10, y+44, small.ViewBox(), small.SVG(v.Language))
		fmt.Fprintf(&b, `<svg x="%d" y="%d" width="290" height="420" viewBox="%s">%s</svg>`, x+124, y+40, large.ViewBox(), large.SVG(v.Language))
	}
	b.WriteString("</svg>\n")
	return b.String()
}

// marks number the spots in the order of the walk.
func marks(sheet *machine.Sheet) []draw.Mark {
	var marks []draw.Mark
	seen := map[string]bool{}
	for _, stop := range walk.Cold(sheet, walk.Options{}).Stops {
		if stop.Do == walk.Check && !seen[stop.At] {
			seen[stop.At] = true
			marks = append(marks, draw.Mark{Spot: stop.At, State: "ahead", Number: len(seen)})
		}
	}
	return marks
}
