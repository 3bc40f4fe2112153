package web_test

import (
	"html"
	"net/url"
	"regexp"
	"strings"
	"testing"
)

var (
	links    = regexp.MustCompile(`href="(/[^"#]*|\?[^"]*)"`)
	forms    = regexp.MustCompile(`(?s)<form[^>]*method="post"[^>]*action="([^"]*)"[^>]*>(.*?)</form>`)
	fields   = regexp.MustCompile(`<(?:input|select|textarea|button)[^>]*\bname="([^"]*)"(?:[^>]*\bvalue="([^"]*)")?`)
	longID   = regexp.MustCompile(`[a-z]-[a-z0-9]{6,}`)
	untended = regexp.MustCompile(`/static/|/sign-out|lang=`)
)

// pagesMost is how many pages of a role are looked at.
const pagesMost = 200

// bad is what is sent in every field, under what name.
var bad = [][2]string{{"as it stands"}, {"empty"}, {"nonsense", "¬ 1e309 \x00 <b>"}, {"long", strings.Repeat("ñ", 5000)}}

// form is one form of a page: where it goes, and what it sends as it stands.
type form struct {
	action string
	values url.Values
}

// TestNoPageAndNoFormEndsInAnError walks through every link that each role can
// see, and sends every form it meets as it stands, empty and full of nonsense:
// each is answered or refused in words, none breaks the program.
func TestNoPageAndNoFormEndsInAnError(t *testing.T) {
	for _, who := range []string{"maren", "ruth", "tobias", "jonah", "osk"} {
		t.Run(who, func(t *testing.T) {
			y := wrenfield(t)
			b := y.as(who)
			waiting, seen, sent := []string{"/yard"}, map[string]bool{}, map[string]bool{}
			var found []form
			for len(waiting) > 0 && len(seen) < pagesMost {
				path := waiting[0]
				waiting = waiting[1:]
				if seen[path] {
					continue
				}
				seen[path] = true
				status, page := b.get(path)
				// A PDF is packed: any two bytes may stand beside each other in it.
				words := !strings.HasPrefix(page, "%PDF-")
				if status >= 500 || words && (strings.Contains(page, "⟨") || strings.Contains(page, "%!")) {
					t.Fatalf("%s: %d\n%s", path, status, y.log.String())
				}
				for _, m := range links.FindAllStringSubmatch(page, -1) {
					to := html.UnescapeString(m[1])
					if strings.HasPrefix(to, "?") {
						to = strings.SplitN(path, "?", 2)[0] + to
					}
					if !untended.MatchString(to) {
						waiting = append(waiting, to)
					}
				}
				for _, m := range forms.FindAllStringSubmatch(page, -1) {
					f := form{action: m[1], values: url.Values{}}
					for _, field := range fields.FindAllStringSubmatch(m[2], -1) {
						f.values.Add(field[1], html.UnescapeString(field[2]))
					}
					if kind := longID.ReplaceAllString(f.action, "x"); !sent[kind] && !strings.Contains(kind, "/sign-out") {
						sent[kind] = true
						found = append(found, f)
					}
				}
			}
			for _, f := range found {
				for _, kind := range bad {
					name, value := kind[0], kind[1]
					values := url.Values{}
					for field, was := range f.values {
						switch {
						case name == "as it stands":
							values[field] = was
						case field == "id" && name != "empty":
							values.Set(field, "nonsense-"+strings.ReplaceAll(name, " ", "-"))
						case name == "empty":
							values.Set(field, "")
						default:
							values.Set(field, value)
						}
					}
					r, page := b.do("POST", f.action, values)
					if r.StatusCode >= 500 || strings.Contains(page, "⟨") {
						t.Errorf("%s, %s: %d %v\n%s", f.action, name, r.StatusCode, values, y.log.String())
					}
				}
			}
			if len(seen) < 40 && who != "osk" || len(found) < 2 {
				t.Errorf("only %d pages and %d forms were found", len(seen), len(found))
			}
		})
	}
}
