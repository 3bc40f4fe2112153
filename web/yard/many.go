package yard

// Many machines at once, from a table: each line is added or refused by itself, and
// what was refused stays to be put right.

import (
	"bytes"
	"encoding/csv"
	"errors"
	"io"
	"net/http"
	"slices"
	"strings"
	"unicode/utf8"

	"vespers/core/machine"
	"vespers/core/yard"
	"vespers/web/page"
)

// manyMost is how many machines one table adds.
const manyMost = 500

// columns are those of the table, in any order; what is not needed may be left out.
var columns = []string{"name", "bay", "model", "built", "hours", "hirer"}

// manyPage takes a table of machines and says what became of each line.
type manyPage struct {
	ID      string
	Table   string // what is still to be put right
	Problem string
	Lines   []manyLine
	Added   int
	Models  []page.SheetChoice
}

// manyLine is what became of one line.
type manyLine struct {
	Line        int
	Name, Words string
	Added       bool
}

var manyPages = page.New[manyPage](templates, "many")

func showMany(v *page.Visit) { answerMany(v, http.StatusOK, manyPage{}) }

func answerMany(v *page.Visit, status int, p manyPage) {
	var err error
	if p.Models, err = v.SheetChoices(); err != nil {
		v.Fail(err)
		return
	}
	p.ID = page.NewID()
	manyPages.Show(v, status, v.T("many.title"), p)
}

func addMany(v *page.Visit) {
	if err := v.Multipart(); err != nil {
		answerMany(v, http.StatusRequestEntityTooLarge, manyPage{Problem: v.T("many.too_large")})
		return
	}
	text := v.Field("table")
	if file := v.File("file"); file != nil {
		defer file.Close()
		data, err := io.ReadAll(file)
		if err != nil {
			v.Fail(err)
			return
		}
		text = string(data)
	}
	rows, problem := tableOf(v, text)
	if problem != "" {
		if !utf8.ValidString(text) {
			text = ""
		}
		answerMany(v, http.StatusUnprocessableEntity, manyPage{Table: text, Problem: problem})
		return
	}
	models, err := v.SheetChoices()
	if err != nil {
		v.Fail(err)
		return
	}
	var p manyPage
	var refused []tableRow
	for i, r := range rows {
		line := manyLine{Line: r.line, Name: r.of("name")}
		key, words := modelOf(v, models, r.of("model"), r.of("built"))
		hours := r.of("hours")
		if words == "" && hours == "" {
			sheet, err := v.Site.Store.Sheet(v.Context(), key)
			if err != nil {
				v.Fail(err)
				return
			}
			if !sheet.Metered() { // a machine without a meter has run no hours that anybody counts
				hours = "0"
			}
		}
		if words == "" {
			_, err := v.SayNth(i, yard.AddMachine{Name: r.of("name"), Bay: r.of("bay"), Sheet: key, Hours: hours, Hirer: r.of("hirer")})
			if said, no := v.Words(err); no {
				words = said
			} else if err != nil {
				v.Fail(err)
				return
			}
		}
		if line.Added, line.Words = words == "", words; line.Added {
			p.Added++
		} else {
			refused = append(refused, r)
		}
		p.Lines = append(p.Lines, line)
	}
	p.Table = written(refused)
	status := http.StatusOK
	if len(refused) > 0 {
		status = http.StatusUnprocessableEntity
	}
	answerMany(v, status, p)
}

// tableRow is one line of the table, by its columns.
type tableRow struct {
	line  int
	cells map[string]string
}

func (r tableRow) of(column string) string { return r.cells[column] }

// tableOf reads a table with commas, semicolons or tabs between its cells, its columns
// named in the first line; problem says why it is none.
func tableOf(v *page.Visit, text string) (rows []tableRow, problem string) {
	text = strings.TrimPrefix(text, "\ufeff")
	if strings.TrimSpace(text) == "" {
		return nil, v.T("many.empty")
	}
	if !utf8.ValidString(text) {
		return nil, v.T("many.unreadable")
	}
	in := csv.NewReader(strings.NewReader(text))
	in.FieldsPerRecord, in.TrimLeadingSpace = -1, true
	head, _, _ := strings.Cut(text, "\n")
	for _, mark := range ";\t" {
		if strings.ContainsRune(head, mark) {
			in.Comma = mark
		}
	}
	var names []string
	for {
		cells, err := in.Read()
		var wrong *csv.ParseError
		switch {
		case errors.Is(err, io.EOF) && len(rows) == 0:
			return nil, v.T("many.empty")
		case errors.Is(err, io.EOF):
			return rows, ""
		case errors.As(err, &wrong):
			return nil, v.T("many.broken", "line", wrong.Line)
		case err != nil:
			return nil, v.T("many.unreadable")
		case names == nil:
			for _, c := range cells {
				name := columnOf(v, c)
				if name == "" || slices.Contains(names, name) {
					return nil, v.T("many.column", "column", c, "known", v.T("many.columns"))
				}
				names = append(names, name)
			}
			if !slices.Contains(names, "name") || !slices.Contains(names, "bay") || !slices.Contains(names, "model") {
				return nil, v.T("many.missing", "known", v.T("many.columns"))
			}
			continue
		case len(cells) > len(names):
			return nil, v.T("many.too_many_cells", "line", lineOf(in))
		case len(rows) == manyMost:
			return nil, v.T("many.too_long", "most", manyMost)
		}
		row := tableRow{line: lineOf(in), cells: map[string]string{}}
		for i, c := range cells {
			row.cells[names[i]] = strings.TrimSpace(c)
		}
		rows = append(rows, row)
	}
}

// lineOf is where the row begins that was read last.
func lineOf(in *csv.Reader) int {
	line, _ := in.FieldPos(0)
	return line
}

// columnOf is the column that a heading means, in either language; "" for none.
func columnOf(v *page.Visit, heading string) string {
	heading = strings.ToLower(strings.TrimSpace(heading))
	for _, c := range columns {
		if heading == c || heading == strings.ToLower(v.T("many.column."+c)) {
			return c
		}
	}
	return ""
}

// modelOf is the key of the sheet that a line names, as it is built; words say why none.
func modelOf(v *page.Visit, models []page.SheetChoice, model, built string) (key, words string) {
	var found []page.SheetChoice
	for _, m := range models {
		if strings.EqualFold(m.Name, model) {
			return m.Key, ""
		}
		base, _, _ := strings.Cut(m.Name, " · ")
		if strings.EqualFold(base, model) || strings.EqualFold(m.ID, model) {
			found = append(found, m)
		}
	}
	if len(found) == 0 {
		return "", v.T("many.no_model", "model", model)
	}
	for _, way := range strings.FieldsFunc(built, func(r rune) bool { return r == ';' || r == '·' }) {
		found = slices.DeleteFunc(found, func(m page.SheetChoice) bool { return !isBuilt(m, strings.TrimSpace(way)) })
	}
	if len(found) != 1 {
		return "", v.T("many.which", "model", model)
	}
	return found[0].Key, ""
}

// isBuilt reports whether a model is built so: by the name or the id of a way.
func isBuilt(m page.SheetChoice, way string) bool {
	_, chosen := machine.SplitKey(m.Key)
	words := strings.Split(m.Name, " · ")[1:]
	for _, id := range chosen {
		words = append(words, id)
	}
	return slices.ContainsFunc(words, func(w string) bool { return strings.EqualFold(w, way) })
}

// written is a table of rows, to be put right and sent again.
func written(rows []tableRow) string {
	if len(rows) == 0 {
		return ""
	}
	var out bytes.Buffer
	w := csv.NewWriter(&out)
	w.Write(columns)
	for _, r := range rows {
		var cells []string
		for _, c := range columns {
			cells = append(cells, r.of(c))
		}
		w.Write(cells)
	}
	w.Flush()
	return out.String()
}
