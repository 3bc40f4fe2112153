package export

// A page to be kept or sent: an outing, a defect, a day as PDF, with its fonts in it.

import (
	"io"
	"strconv"
	"time"

	"github.com/go-pdf/fpdf"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"
)

// Document is what is written, in the reader's words.
type Document struct {
	Yard, Title string
	Lead        []string // under the title
	Sections    []Section
	Foot        string // on every page, with its number
	Made        time.Time
	Language    string
}

// Section is a heading with lines under it.
type Section struct {
	Head  string
	Lines []string
}

// The page, in millimetres, and the sizes of letters, in points.
const (
	margin                     = 18
	titleSize, headSize, plain = 20, 13, 11
	lineHeight                 = 5.4
	face                       = "Go"
)

// PDF writes a document on A4. The same document gives the same bytes.
func PDF(w io.Writer, d Document) error {
	pdf := fpdf.New("P", "mm", "A4", "")
	pdf.AddUTF8FontFromBytes(face, "", goregular.TTF)
	pdf.AddUTF8FontFromBytes(face, "B", gobold.TTF)
	pdf.SetCreationDate(d.Made)
	pdf.SetModificationDate(d.Made)
	pdf.SetCatalogSort(true)
	pdf.SetTitle(d.Title, true)
	pdf.SetAuthor(d.Yard, true)
	pdf.SetLang(d.Language)
	pdf.SetMargins(margin, margin, margin)
	pdf.SetAutoPageBreak(true, margin+6)
	pdf.SetFooterFunc(func() {
		pdf.SetY(-margin)
		pdf.SetFont(face, "", 8)
		pdf.CellFormat(0, lineHeight, d.Foot, "", 0, "L", false, 0, "")
		pdf.CellFormat(0, lineHeight, strconv.Itoa(pdf.PageNo()), "", 0, "R", false, 0, "")
	})
	pdf.AddPage()
	write := func(style string, size, height float64, words string) {
		pdf.SetFont(face, style, size)
		pdf.MultiCell(0, height, words, "", "L", false)
	}
	write("", plain, lineHeight, d.Yard)
	write("B", titleSize, 9, d.Title)
	for _, line := range d.Lead {
		write("", plain, lineHeight, line)
	}
	for _, s := range d.Sections {
		if len(s.Lines) == 0 {
			continue
		}
		pdf.Ln(3)
		write("B", headSize, 6.5, s.Head)
		for _, line := range s.Lines {
			write("", plain, lineHeight, "· "+line)
		}
	}
	return pdf.Output(w)
}
