package web_test

import (
	"bytes"
	"io"
	"mime/multipart"
	"net/http"
	"os"
	"regexp"
	"strings"
	"testing"
)

// TestALeadAddsASheetInTheBrowser: what is wrong is said with line and field and
// the text stays; a good one can be given to a new machine at once; another text
// under the same edition is refused.
func TestALeadAddsASheetInTheBrowser(t *testing.T) {
	y := wrenfield(t)
	lead := y.as("maren")
	shipped, err := os.ReadFile("../catalogue/sheets/fernhollow_saw.yaml")
	if err != nil {
		t.Fatal(err)
	}
	own := regexp.MustCompile(`edition: "2026-\d+"`).ReplaceAllString(strings.Replace(string(shipped), "id: fernhollow_saw", "id: glebe_saw", 1), `edition: "own-8"`)
	other := strings.Replace(own, "limit: 25", "limit: 20", 1)
	if !strings.Contains(own, "own-8") || other == own {
		t.Fatal("the shipped sheet is another than this test changes")
	}
	if status, page := lead.sheet(own+"\nslip: 3\n", false); status != http.StatusUnprocessableEntity || !strings.Contains(page, "slip") || !strings.Contains(page, "sheet.yaml:") || !strings.Contains(page, "id: glebe_saw") {
		t.Errorf("a wrong sheet: %d, or not what is wrong, where, and what was typed", status)
	}
	if _, page := lead.get("/machines-new"); strings.Contains(page, "own-8") {
		t.Error("a wrong sheet is offered to a machine")
	}
	if status, page := lead.sheet("", false); status != http.StatusUnprocessableEntity {
		t.Errorf("an empty sheet: %d %s", status, between(page, "<main", "</main>"))
	}
	if status, page := lead.sheet(own, true); status != http.StatusOK || !strings.Contains(page, "is here now") {
		t.Errorf("a good sheet: %d %s", status, between(page, "<main", "</main>"))
	}
	if status, _ := lead.sheet(own, false); status != http.StatusOK {
		t.Errorf("the same again: %d", status)
	}
	if status, page := lead.sheet(other, false); status != http.StatusConflict || !strings.Contains(page, "an edition of its own") || !strings.Contains(page, "limit: 20") {
		t.Errorf("another text under the same edition: %d %s", status, between(page, "<main", "</main>"))
	}
	if _, page := lead.get("/machines-new"); strings.Count(page, "own-8") != 1 {
		t.Error("the new sheet cannot be given to a machine, or twice")
	}
	if status, page := lead.sheet(strings.Repeat("# long\n", 200_000), true); status != http.StatusUnprocessableEntity {
		t.Errorf("a sheet of 1.4 MB: %d %s", status, between(page, "<main", "</main>"))
	}
	if status, page := lead.sheet("\xff\xd8"+strings.Repeat("\x00\xfe", 2<<20), true); status != http.StatusUnprocessableEntity || len(page) > 1<<20 {
		t.Errorf("a picture of 4 MB: %d, %d bytes", status, len(page))
	}
	if status, page := lead.sheet(strings.Repeat("# long\n", 2<<20), true); status != http.StatusRequestEntityTooLarge || !strings.Contains(page, "too large") {
		t.Errorf("a file of 14 MB: %d", status)
	}
	if status, _ := y.as("tobias").sheet(own, false); status != http.StatusForbidden {
		t.Errorf("an operator adds a sheet: %d", status)
	}
}

// sheet sends a sheet as a form does: as its text, or as a file.
func (b *browser) sheet(text string, file bool) (int, string) {
	b.y.Helper()
	var body bytes.Buffer
	w := multipart.NewWriter(&body)
	if file {
		part, err := w.CreateFormFile("file", "own.yaml")
		if err != nil {
			b.y.Fatal(err)
		}
		io.WriteString(part, text)
	} else {
		w.WriteField("text", text)
	}
	w.Close()
	r, err := http.NewRequest("POST", b.y.server.URL+"/sheets", &body)
	if err != nil {
		b.y.Fatal(err)
	}
	r.Header.Set("Content-Type", w.FormDataContentType())
	response, err := b.client.Do(r)
	if err != nil {
		b.y.Fatal(err)
	}
	defer response.Body.Close()
	out, err := io.ReadAll(response.Body)
	if err != nil {
		b.y.Fatal(err)
	}
	return response.StatusCode, string(out)
}
