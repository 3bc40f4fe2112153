package catalogue_test

import (
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"

	"vespers/catalogue"
	"vespers/core/defect"
	"vespers/core/inspect"
	"vespers/core/machine/machinetest"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/record"
)

// reel are the points of a cutting reel: its clearance at three places along
// the width, even from end to end, and then the cut of a strip of paper.
const reel = `
checks:
  - id: clearance
    class: G
    phase: cold
    at: handles
    seconds: 60
    name: {en: "Reel to bed-knife", es: "Cilindro y contracuchilla"}
    look: {en: "What does the feeler say, at both ends and between?", es: "¿Qué marca la galga, en los dos extremos y al medio?"}
    why: {en: "Too close burns the steel, too far tears the grass.", es: "Muy cerca quema el acero, muy lejos rasga el pasto."}
    hazard: {en: "Drive off, key out, gloves.", es: "Marcha desconectada, llave afuera, guantes."}
    restrict: [no_fine_turf]
    even: {max: 10, unit: µm, pairs: [[left, right], [left, middle], [middle, right]], source: manual}
    readings:
      - {id: left, name: {en: Left end, es: Extremo izquierdo}, unit: µm, tool: {en: feeler, es: galga}, range: [0, 500], uncertainty: 3, limits: {low: 25, high: 50, source: manual}, put_right: {en: "Set it and read again", es: "Ajuste y lea otra vez"}}
      - {id: middle, name: {en: Middle, es: Centro}, unit: µm, tool: {en: feeler, es: galga}, range: [0, 500], uncertainty: 3, limits: {low: 25, high: 50, source: manual}, put_right: {en: "Set it and read again", es: "Ajuste y lea otra vez"}}
      - {id: right, name: {en: Right end, es: Extremo derecho}, unit: µm, tool: {en: feeler, es: galga}, range: [0, 500], uncertainty: 3, limits: {low: 25, high: 50, source: manual}, put_right: {en: "Set it and read again", es: "Ajuste y lea otra vez"}}
    faults:
      - {id: nick, name: {en: "Nick in reel or knife", es: "Mella en cilindro o contracuchilla"}, extent: degraded}
  - id: paper
    class: H
    phase: cold
    at: handles
    seconds: 20
    after: [clearance]
    name: {en: "Paper cut", es: "Corte de papel"}
    look: {en: "Turned by hand, how does it cut a strip of paper along the width?", es: "Girado a mano, ¿cómo corta una tira de papel a lo ancho?"}
    sound: {en: "Cuts clean", es: "Corta limpio"}
    why: {en: "Paper tells what the gauge cannot.", es: "El papel dice lo que la galga no."}
    faults:
      - {id: ragged, name: {en: "Ragged somewhere", es: "Deshilachado en alguna parte"}, extent: early}
      - {id: none, name: {en: "Does not cut", es: "No corta"}, extent: lost}
`

// TestReel: several readings along a width are held to each other, and a test
// by eye has its own words, with nothing made for reels alone.
func TestReel(t *testing.T) {
	data, err := os.ReadFile("sheets/fernhollow_saw.yaml")
	if err != nil {
		t.Fatal(err)
	}
	sheet, problems := catalogue.Check("reel.yaml", []byte(strings.Replace(string(data), "\nchecks:\n", reel, 1)))
	if sheet == nil {
		t.Fatalf("%+v", problems)
	}
	resolved, err := catalogue.Resolve(sheet)
	if err != nil {
		t.Fatal(err)
	}
	for name, test := range map[string]struct {
		gaps  [3]float64
		fault string
		grade defect.Grade
	}{
		"in order":     {[3]float64{34, 36, 38}, "", defect.Sound},
		"one end wide": {[3]float64{30, 38, 45}, "", defect.Mend},
		"too close":    {[3]float64{18, 20, 22}, "", defect.Mend},
		"ragged":       {[3]float64{34, 36, 38}, "ragged", defect.Watch},
	} {
		t.Run(name, func(t *testing.T) {
			o := outingtest.Begin(t, "ida", outingtest.Machine("m", machinetest.Resolved{Hash: resolved.Hash, Sheet: sheet}), nil)
			crew := outingtest.Crew{}.Add(outingtest.Schooled("ida", operator.Operator, sheet), outingtest.Schooled(outingtest.Company, operator.Lead))
			c, _ := sheet.Check("clearance")
			for n := 0; o.Stage() != outing.StageVerdict; n++ {
				said := outingtest.Next(o, outingtest.Morning)
				if a, ok := said.(outing.Answer); ok && a.Check == "clearance" {
					i := slices.Index(inspect.Items(c), a.Item)
					said = outing.Answer{Answer: outingtest.Typed("m", "clearance", &c.Readings[i], test.gaps[i])}
				} else if ok && a.Check == "paper" && test.fault != "" {
					said = outingtest.Fault("m", "paper", test.fault)
				}
				meta := record.Meta{ID: fmt.Sprint("r", n), By: "ida", At: outingtest.Morning}
				events, err := outing.Decide(o, said, meta, crew)
				if err != nil {
					t.Fatal(name, err)
				}
				for _, e := range events {
					o = o.Apply(meta, e)
				}
			}
			if v := o.Judge(outingtest.Morning); v.Grade != test.grade {
				t.Errorf("%s: %s %+v", name, v.Grade, o.Defects())
			}
		})
	}
}
