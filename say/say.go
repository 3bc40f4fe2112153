// Package say turns what the program knows into what a person reads: interface
// text and Reasons, in the person's language and units, from one message
// catalogue.
package say

import (
	"embed"
	"fmt"
	"math"
	"strings"
	"sync"
	"time"

	"github.com/nicksnyder/go-i18n/v2/i18n"
	"go.yaml.in/yaml/v3"
	"golang.org/x/text/language"

	"vespers/core/text"
	"vespers/core/unit"
)

//go:embed en.yaml es.yaml
var files embed.FS

// messages are those of every language; plain are the ones without arguments, which are
// most and are looked up often.
type messages struct {
	in     map[text.Language]*i18n.Localizer
	plain  map[text.Language]map[string]string
	known  map[text.Language]map[string]bool
	plural map[string]bool // those that have a singular of their own
}

// catalogue is read when somebody first speaks: a command that only prints numbers does not.
var catalogue = sync.OnceValue(func() *messages {
	bundle := i18n.NewBundle(language.English)
	c := &messages{map[text.Language]*i18n.Localizer{}, map[text.Language]map[string]string{}, map[text.Language]map[string]bool{}, map[string]bool{}}
	bundle.RegisterUnmarshalFunc("yaml", yaml.Unmarshal)
	for _, l := range text.Languages() {
		f, err := bundle.LoadMessageFileFS(files, string(l)+".yaml")
		if err != nil {
			panic(err)
		}
		c.in[l] = i18n.NewLocalizer(bundle, string(l))
		c.plain[l], c.known[l] = map[string]string{}, map[string]bool{}
		for _, m := range f.Messages {
			c.known[l][m.ID] = true
			c.plural[m.ID] = c.plural[m.ID] || m.One != ""
			if m.One == "" && !strings.Contains(m.Other, "{{") {
				c.plain[l][m.ID] = m.Other
			}
		}
	}
	return c
})

// Voice speaks to one person.
type Voice struct {
	Language text.Language
	Units    unit.System
	Zone     *time.Location
}

// NewVoice makes a voice; times are told in the given zone.
func NewVoice(l text.Language, u unit.System, zone *time.Location) *Voice {
	return &Voice{Language: l, Units: u, Zone: zone}
}

// T is a message; args are name, value, name, value. A value named "n" chooses
// the plural. A message that does not exist reads as its key, which a test
// catches.
func (v *Voice) T(key string, args ...any) string {
	if s, ok := catalogue().plain[v.Language][key]; ok {
		return s
	}
	data := map[string]any{}
	for i := 0; i+1 < len(args); i += 2 {
		data[fmt.Sprint(args[i])] = args[i+1]
	}
	config := &i18n.LocalizeConfig{MessageID: key, TemplateData: data}
	if n, ok := data["n"]; ok && catalogue().plural[key] {
		config.PluralCount = n
	}
	speaker, ok := catalogue().in[v.Language]
	if !ok {
		speaker = catalogue().in[text.English]
	}
	s, err := speaker.Localize(config)
	if err != nil {
		return "⟨" + key + "⟩"
	}
	return s
}

// Has reports whether the message exists in the voice's language.
func (v *Voice) Has(key string) bool { return catalogue().known[v.Language][key] }

// Text is a sheet text in the voice's language.
func (v *Voice) Text(t text.Text) string { return t.In(v.Language) }

// Decimal is the decimal mark: a point in English, in Mexico and in Central
// America, a comma where the yard lies in the south of America or in Spain. Both
// are read when typed.
func (v *Voice) Decimal() string {
	if v.Language == text.Spanish && v.Zone != nil && commaZones[v.Zone.String()] {
		return ","
	}
	return "."
}

// commaZones are the time zones of Spanish-speaking countries that write a comma.
var commaZones = map[string]bool{
	"America/Argentina/Buenos_Aires": true, "America/Argentina/Cordoba": true, "America/Buenos_Aires": true, "America/Asuncion": true, "America/Bogota": true,
	"America/Caracas": true, "America/Guayaquil": true, "America/La_Paz": true, "America/Montevideo": true, "America/Santiago": true,
	"Atlantic/Canary": true, "Europe/Madrid": true,
}

// Unit is the unit the person reads instead of the sheet's.
func (v *Voice) Unit(symbol string) unit.Unit {
	u, _ := unit.Find(symbol)
	return u.For(v.Units)
}

// Amount is a quantity in the person's unit.
func (v *Voice) Amount(m text.Measure) string {
	return v.Unit(m.Unit).Format(m.Quantity, v.Decimal())
}

// AmountTo is a quantity in the person's unit, with a number of decimals.
func (v *Voice) AmountTo(m text.Measure, places int) string {
	return v.Unit(m.Unit).FormatTo(m.Quantity, places, v.Decimal())
}

// Number is a plain number with the given places.
func (v *Voice) Number(value float64, places int) string {
	return unit.FormatNumber(value, places, v.Decimal())
}

// Clock is the time of day in the yard.
func (v *Voice) Clock(t time.Time) string { return t.In(v.Zone).Format("15:04") }

// Day is a date in the yard.
func (v *Voice) Day(t time.Time) string {
	t = t.In(v.Zone)
	return v.T("date.short", "day", t.Day(), "month", v.T(fmt.Sprintf("month.%d", int(t.Month()))), "year", t.Year())
}

// When is a time, with its date unless it is the same day as now.
func (v *Voice) When(t, now time.Time) string {
	if t.In(v.Zone).Format(time.DateOnly) == now.In(v.Zone).Format(time.DateOnly) {
		return v.Clock(t)
	}
	return v.Day(t) + " " + v.Clock(t)
}

// Reason is a Reason as a sentence.
func (v *Voice) Reason(r text.Reason) string {
	args := make([]any, 0, 2*len(r.Args))
	more := v.apart(r.Args)
	for _, a := range r.Args {
		args = append(args, a.Name, v.argument(a, more))
		if a.Count != nil {
			args = append(args, "n", *a.Count)
		}
	}
	return v.T("rule."+string(r.Rule), args...)
}

// apart is how many more decimals than usual it takes that no two amounts of a
// sentence look alike that are not.
func (v *Voice) apart(args []text.Arg) (more int) {
	shown := func(a text.Arg) string {
		u := v.Unit(a.Unit)
		return u.FormatTo(*a.Amount, u.Decimals+more, ".")
	}
	for ; more < apartMost; more++ {
		alike := false
		for i, a := range args {
			for _, b := range args[:i] {
				alike = alike || a.Amount != nil && b.Amount != nil && a.Amount.Dimension == b.Amount.Dimension && shown(a) == shown(b) &&
					math.Abs(a.Amount.Value-b.Amount.Value) > 1e-9*math.Max(1e-6, math.Abs(a.Amount.Value))
			}
		}
		if !alike {
			return more
		}
	}
	return 0
}

// apartMost is as far as decimals tell two amounts apart for a reader.
const apartMost = 6

func (v *Voice) argument(a text.Arg, more int) any {
	switch {
	case a.Words != nil:
		return v.Text(*a.Words)
	case a.Amount != nil:
		return v.AmountTo(text.Measure{Quantity: *a.Amount, Unit: a.Unit}, v.Unit(a.Unit).Decimals+more)
	case a.Count != nil:
		return *a.Count
	case a.Term != "":
		return v.T(a.Term)
	case a.Moment != nil:
		return v.Day(*a.Moment) + " " + v.Clock(*a.Moment)
	case a.Subjects != nil:
		words := make([]string, len(a.Subjects))
		for i, t := range a.Subjects {
			words[i] = lowerFirst(v.Text(t))
		}
		return strings.Join(words, "; ")
	}
	return a.Plain
}

func lowerFirst(s string) string {
	for i, r := range s {
		return strings.ToLower(string(r)) + s[i+len(string(r)):]
	}
	return s
}
