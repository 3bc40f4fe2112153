package web

import (
	"bytes"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"net/url"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"vespers/catalogue"
	"vespers/core/operator"
	"vespers/core/text"
	"vespers/core/unit"
	"vespers/demo"
	"vespers/say"
	"vespers/store"
	"vespers/web/page"
)

// allowed is who may use each address, written out a second time: o operator,
// l lead, t technician, a trainee, v visitor, - not signed in. An address that
// is not here fails the test.
var allowed = map[string]string{
	"GET /":                                 "oltav-",
	"GET /setup":                            "oltav-",
	"POST /setup":                           "oltav-",
	"GET /sign-in":                          "oltav-",
	"GET /sign-in/:person":                  "oltav-",
	"POST /sign-in/:person":                 "oltav-",
	"POST /sign-out":                        "oltav-",
	"GET /yard":                             "oltav",
	"GET /yard/list":                        "oltav",
	"GET /day":                              "oltav",
	"GET /rules":                            "oltav",
	"POST /rules":                           "l",
	"GET /due":                              "oltav",
	"GET /me":                               "oltav",
	"POST /me":                              "oltav",
	"GET /me/pin":                           "oltav",
	"POST /me/pin":                          "oltav",
	"GET /machines/:machine":                "oltav",
	"POST /machines/:machine/outing":        "olta",
	"POST /machines/:machine/options":       "l",
	"GET /sheets":                           "l",
	"POST /sheets":                          "l",
	"GET /defects/:defect":                  "oltav",
	"POST /defects/:defect/repair":          "t",
	"GET /defects":                          "lt",
	"GET /outings/:outing/load":             "oltav",
	"POST /outings/:outing/load":            "olta",
	"GET /ground":                           "oltav",
	"GET /ground/zones/:zone":               "oltav",
	"POST /ground/zones/:zone/measure":      "olta",
	"POST /ground/zones/:zone/try":          "olta",
	"POST /ground/zones/:zone/walk":         "olta",
	"POST /ground/zones/:zone/reading/drop": "l",
	"GET /ground/draw":                      "l",
	"POST /ground/draw":                     "l",
	"POST /ground/drop":                     "l",
	"GET /ground/site.geojson":              "oltav",
	"POST /ground/import":                   "l",
	"GET /ground/morning":                   "oltav",
	"POST /ground/morning/look":             "l",
	"POST /ground/morning":                  "l",
	"GET /day.pdf":                          "oltav",
	"GET /defects/:defect/defect.pdf":       "oltav",
	"GET /outings/:outing/outing.pdf":       "oltav",
	"GET /find":                             "lt",
	"GET /find/outings.csv":                 "lt",
	"GET /workshop":                         "t",
	"GET /find/defects.csv":                 "lt",
	"GET /find/answers.csv":                 "lt",
	"GET /find/fills.csv":                   "lt",
	"GET /find/people.csv":                  "l",
	"GET /export/yard.jsonl":                "l",
	"POST /machines/:machine/place":         "l",
	"POST /machines/:machine/away":          "l",
	"POST /machines/:machine/back":          "l",
	"GET /defects/:defect/tag":              "oltav",
	"POST /defects/:defect/terms":           "l",
	"POST /me/news":                         "oltav",
	"POST /outings/:outing/sign":            "t",
	"GET /defects/:defect/find":             "t",
	"POST /defects/:defect/find":            "t",
	"POST /defects/:defect/find/again":      "t",
	"GET /machines/:machine/help":           "oltav",
	"GET /machines/:machine/controls":       "oltav",
	"GET /machines/:machine/steps":          "oltav",
	"GET /machines/:machine/bench":          "oltav",
	"GET /machines/:machine/bench/ladder":   "oltav",
	"GET /patterns":                         "l",
	"GET /wall":                             "lt",
	"GET /outings/:outing":                  "oltav",
	"GET /outings/:outing/ready":            "oltav",
	"GET /outings/:outing/walk":             "oltav",
	"GET /outings/:outing/round":            "oltav",
	"GET /outings/:outing/verdict":          "oltav",
	"GET /outings/:outing/happened":         "oltav",
	"POST /outings/:outing/happened":        "olta",
	"GET /outings/:outing/meter":            "oltav",
	"POST /outings/:outing/meter":           "olta",
	"POST /rules/pictures":                  "l",
	"GET /paper":                            "oltav",
	"POST /paper":                           "olta",
	"GET /paper/blanks":                     "oltav",
	"GET /machines/:machine/blank":          "oltav",
	"GET /outings/:outing/paper":            "oltav",
	"POST /outings/:outing/paper/answer":    "olta",
	"POST /outings/:outing/paper/told":      "olta",
	"POST /outings/:outing/paper/test":      "olta",
	"POST /outings/:outing/paper/finish":    "olta",
	"GET /outings/:outing/check-in":         "oltav",
	"POST /outings/:outing/check-in":        "olta",
	"POST /outings/:outing/seek":            "l",
	"GET /outings/:outing/do":               "oltav",
	"GET /alerts":                           "olta",
	"GET /outings/:outing/fuel":             "oltav",
	"POST /outings/:outing/fuel":            "olta",
	"POST /outings/:outing/plan":            "olta",
	"POST /outings/:outing/worse":           "olta",
	"POST /outings/:outing/do/begin":        "olta",
	"GET /vespers":                          "oltav",
	"GET /evening":                          "oltav",
	"GET /week":                             "l",
	"GET /muster":                           "oltav",
	"GET /muster.pdf":                       "oltav",
	"POST /me/here":                         "oltav",
	"GET /me/calendar":                      "oltav",
	"GET /outside":                          "lt",
	"POST /me/calendar":                     "oltav",
	"POST /me/calendar/close":               "oltav",
	"GET /calendar/:key":                    "oltav-",
	"POST /muster/here":                     "l",
	"POST /muster/give":                     "l",
	"POST /muster/quiet":                    "l",
	"POST /muster/quiet/drop":               "l",
	"POST /muster/weather":                  "l",
	"POST /me/home":                         "oltav",
	"POST /vespers/where":                   "l",
	"POST /vespers/seal":                    "l",
	"POST /outings/:outing/leave":           "olta",
	"POST /outings/:outing/home-at":         "olta",
	"POST /outings/:outing/link":            "olta",
	"POST /outings/:outing/do/answer":       "olta",
	"POST /outings/:outing/do/leave":        "olta",
	"GET /outings/:outing/slip":             "oltav",
	"POST /outings/:outing/ready":           "olta",
	"POST /outings/:outing/take-over":       "olta",
	"POST /outings/:outing/hand-over":       "olta",
	"POST /outings/:outing/answer":          "olta",
	"POST /outings/:outing/right":           "olta",
	"POST /outings/:outing/photo":           "olta",
	"GET /photos/:photo":                    "oltav",
	"GET /machines/:machine/label":          "oltav",
	"POST /outings/:outing/set":             "olta",
	"POST /outings/:outing/from":            "olta",
	"POST /outings/:outing/tell":            "olta",
	"POST /outings/:outing/crank":           "olta",
	"POST /outings/:outing/test":            "olta",
	"POST /outings/:outing/round":           "olta",
	"POST /outings/:outing/mistap":          "olta",
	"POST /outings/:outing/shown":           "olta",
	"POST /outings/:outing/put-back":        "olta",
	"POST /outings/:outing/release":         "olta",
	"POST /outings/:outing/end":             "olta",
	"GET /outings/:outing/break":            "oltav",
	"POST /outings/:outing/break":           "olta",
	"POST /outings/:outing/break/answer":    "olta",
	"GET /people":                           "l",
	"POST /people":                          "l",
	"POST /people/:person":                  "l",
	"POST /people/:person/manual":           "l",
	"POST /people/:person/withdraw":         "l",
	"GET /people/:person/left":              "l",
	"POST /people/:person/back":             "l",
	"POST /machines/:machine/meter":         "l",
	"POST /clock":                           "l",
	"POST /people/:person/qualification":    "l",
	"POST /people/:person/born":             "l",
	"POST /people/:person/duties":           "l",
	"POST /people/:person/pin":              "l",
	"POST /people/:person/left":             "l",
	"GET /machines/:machine/height":         "oltav",
	"GET /machines-many":                    "l",
	"POST /machines-many":                   "l",
	"GET /models":                           "l",
	"GET /models/new":                       "l",
	"POST /models/new":                      "l",
	"POST /models/change":                   "l",
	"POST /models/keep":                     "l",
	"GET /models/sheet/:hash":               "oltav",
	"GET /machines-new":                     "l",
	"POST /machines-new":                    "l",
	"POST /machines/:machine/sheet":         "l",
}

func TestRoutesByRole(t *testing.T) {
	s, err := store.Open(t.Context(), filepath.Join(t.TempDir(), "yard"))
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	sheets, err := catalogue.All()
	if err != nil {
		t.Fatal(err)
	}
	for _, r := range sheets {
		if err := s.AddSheet(t.Context(), r); err != nil {
			t.Fatal(err)
		}
	}
	if err := demo.Fill(t.Context(), s, time.Now()); err != nil {
		t.Fatal(err)
	}
	handler, stop, err := New(Config{Store: s, Log: slog.New(slog.DiscardHandler)})
	if err != nil {
		t.Fatal(err)
	}
	defer stop()
	routes := Routes()
	if len(routes) != len(allowed) {
		t.Errorf("%d routes, %d in the test's table", len(routes), len(allowed))
	}
	letters := map[string]operator.Role{"o": operator.Operator, "l": operator.Lead, "t": operator.Technician, "a": operator.Trainee, "v": operator.Visitor, "-": ""}
	people := map[operator.Role]string{"operator": "ines", "lead": "maren", "technician": "ruth", "trainee": "jonah", "visitor": "osk"}
	for letter, role := range letters {
		cookie := ""
		if role != "" {
			w := httptest.NewRecorder()
			r := httptest.NewRequest("POST", "/sign-in/"+people[role], strings.NewReader(url.Values{"pin": {demo.PINs()[people[role]]}}.Encode()))
			r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
			handler.ServeHTTP(w, r)
			cookie, _, _ = strings.Cut(w.Header().Get("Set-Cookie"), ";")
		}
		for _, route := range routes {
			name := route.Method + " " + route.Path
			who, listed := allowed[name]
			if !listed {
				t.Errorf("%s is in no table: say who may use it", name)
				continue
			}
			if name == "POST /sign-out" { // it would end the session that the test uses
				continue
			}
			path := strings.NewReplacer(":machine", "verger", ":person", "nobody", ":outing", "o-none", ":defect", "d-none", ":photo", "none", ":zone", "none", "*file", "x/app.css").Replace(route.Path)
			w := httptest.NewRecorder()
			r := httptest.NewRequest(route.Method, path, nil)
			r.Header.Set("Cookie", cookie)
			handler.ServeHTTP(w, r)
			turned := w.Code == http.StatusForbidden || w.Code == http.StatusSeeOther && strings.HasPrefix(w.Header().Get("Location"), "/sign-in") && route.Act != ""
			if may := strings.Contains(who, letter); may == turned {
				t.Errorf("%s as %q: %d %s", name, role, w.Code, w.Header().Get("Location"))
			}
		}
	}
	for _, route := range routes {
		if route.Method == "POST" && route.Act != "" && slices.Contains(operator.Who(route.Act), operator.Visitor) && !strings.HasPrefix(route.Path, "/me") {
			t.Errorf("a visitor may write to %s", route.Path)
		}
	}
}

// TestEveryPageCanBeEmpty: no page breaks on what is not there, in either
// language; and nothing on it is a key that no catalogue has.
func TestEveryPageCanBeEmpty(t *testing.T) {
	if len(page.Empties()) < 20 {
		t.Fatalf("only %d pages", len(page.Empties()))
	}
	for _, empty := range page.Empties() {
		for _, l := range text.Languages() {
			t.Run(empty.Name+"/"+string(l), func(t *testing.T) {
				v := &page.Visit{Voice: say.NewVoice(l, unit.Metric, time.UTC), Site: &page.Site{}, Person: &store.Person{Role: operator.Lead}}
				var b bytes.Buffer
				if err := empty.Render(&b, v); err != nil {
					t.Fatal(err)
				}
				for _, m := range regexp.MustCompile("⟨[^⟩]*⟩").FindAllString(b.String(), -1) {
					if !strings.HasSuffix(m, ".⟩") { // a key made of a value that is not there
						t.Errorf("%s", m)
					}
				}
			})
		}
	}
}
