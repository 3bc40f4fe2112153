package export

import (
	"bytes"
	"strings"
	"testing"
	"time"
)

// TestADocument has its fonts in it, its letters of both languages, as many pages as it
// takes, and is the same each time.
func TestADocument(t *testing.T) {
	d := Document{Yard: "Wrenfield", Title: "Señalización: ¿qué pasó?", Lead: []string{"±2 kPa, 15°"}, Foot: "Maren", Made: time.Date(2026, 3, 5, 6, 40, 0, 0, time.UTC), Language: "es"}
	for range 90 {
		d.Sections = append(d.Sections, Section{Head: "Cuchillas", Lines: []string{"Alto: gotea — " + strings.Repeat("una línea larga ", 12)}})
	}
	d.Sections = append(d.Sections, Section{Head: "Nothing here"})
	var one, two bytes.Buffer
	if err := PDF(&one, d); err != nil {
		t.Fatal(err)
	}
	if err := PDF(&two, d); err != nil || !bytes.Equal(one.Bytes(), two.Bytes()) {
		t.Errorf("written again it is another: %v", err)
	}
	text := one.String()
	if !strings.HasPrefix(text, "%PDF-") || strings.Count(text, "/FontFile2") < 2 || strings.Count(text, "/Type /Page\n") < 3 || !strings.Contains(text, "/Lang (es)") {
		t.Errorf("%d bytes, %d fonts, %d pages", one.Len(), strings.Count(text, "/FontFile2"), strings.Count(text, "/Type /Page\n"))
	}
	if strings.Contains(text, "Nothing here") {
		t.Error("an empty section")
	}
}
