package web_test

import (
	"bytes"
	"io"
	"mime/multipart"
	"net/http"
	"strings"
	"testing"
)

// table sends a table of machines.
func (b *browser) table(text string) (int, string) {
	var body bytes.Buffer
	w := multipart.NewWriter(&body)
	w.WriteField("id", "many-"+strings.Repeat("0", 8)+hash(text))
	w.WriteField("table", text)
	w.Close()
	r, err := http.NewRequest("POST", b.y.server.URL+"/machines-many", &body)
	if err != nil {
		b.y.Fatal(err)
	}
	r.Header.Set("Content-Type", w.FormDataContentType())
	r.Header.Set("Sec-Fetch-Site", "same-origin")
	resp, err := b.client.Do(r)
	if err != nil {
		b.y.Fatal(err)
	}
	defer resp.Body.Close()
	page, _ := io.ReadAll(resp.Body)
	return resp.StatusCode, string(page)
}

func hash(s string) (out string) {
	n := 7
	for _, r := range s {
		n = (n*31 + int(r)) % 1_000_003
	}
	for ; n > 0; n /= 10 {
		out += string(rune('0' + n%10))
	}
	return out
}

// TestManyMachinesFromATable: each line is added or refused by itself with why, what was
// refused is there to be put right, and a table that cannot be read adds nothing.
func TestManyMachinesFromATable(t *testing.T) {
	y := wrenfield(t)
	lead := y.as("maren")
	status, page := lead.table("\ufeffname;bay;model;hours;built\n" +
		"Dean;61;Sallow 80 brush;;\n" +
		"Verger;62;Sallow 80 brush;;\n" +
		"Canon;63;No such thing;;\n" +
		"Prior;64;larkfield_reel;12,5;fitted\n" +
		"Abbot;65;larkfield_reel;;\n" +
		"Warden;66;mossgate_wheeled;much;\n" +
		"Bursar;67;mossgate_wheeled;;\n")
	if status != http.StatusUnprocessableEntity || !strings.Contains(page, "2 of 7 are in their bays") {
		t.Fatalf("%d: %s", status, between(page, "<main", "</main>"))
	}
	for _, want := range []string{"Line 2, Dean:", "Line 4, Canon:", "There is no model “No such thing”", "built in several ways", "Abbot,65,larkfield_reel"} {
		if !strings.Contains(page, want) {
			t.Errorf("not said: %q", want)
		}
	}
	if strings.Contains(between(page, "<textarea", "</textarea>"), "Dean") {
		t.Error("what was added is to be put right")
	}
	_, list := lead.get("/yard/list")
	for name, there := range map[string]bool{"Dean": true, "Prior": true, "Canon": false, "Abbot": false, "Warden": false, "Bursar": false} {
		if strings.Contains(list, name) != there {
			t.Errorf("%s in the yard: %v", name, !there)
		}
	}
	if status, page = lead.table("name,bay,model,built\nAbbot,65,larkfield_reel,none\nCanon,63,sallow_brush,\n"); status != http.StatusOK {
		t.Errorf("put right: %d %s", status, between(page, "<main", "</main>"))
	}
	for why, text := range map[string]string{
		"There is no machine in it":      " \n",
		"is no column":                   "name,bay,model,colour\nA,1,x,red\n",
		"Name, bay and model are needed": "name,model\nA,x\n",
		"more cells than there are":      "name,bay,model\nA,1,sallow_brush,red\n",
		"a quotation mark is opened":     "name,bay,model\n\"A,1,sallow_brush\n",
		"That is no text":                "name,bay,model\n\xff\xfe,1,x\n",
		"One table holds at most 500":    "name,bay,model\n" + strings.Repeat("A,1,x\n", 501),
		"or stands twice":                "name,bay,model,name\nA,1,x,y\n",
	} {
		if status, page := lead.table(text); status != http.StatusUnprocessableEntity || !strings.Contains(page, why) {
			t.Errorf("%s: %d %s", why, status, between(page, "<main", "</main>"))
		}
	}
	if status, _ := y.as("tobias").table("name,bay,model\nA,1,sallow_brush\n"); status != http.StatusForbidden {
		t.Errorf("an operator: %d", status)
	}
}
