package outingtest_test

import (
	"testing"
	"time"

	"vespers/core/defect"
	"vespers/core/inspect"
	"vespers/core/machine/machinetest"
	"vespers/core/outing/outingtest"
	"vespers/core/record"
)

// TestGoodIsSound: what is called a good value here is sound by the sheet, for
// every reading of every sheet and every condition of the day.
func TestGoodIsSound(t *testing.T) {
	for _, r := range machinetest.All(t) {
		u := outingtest.Begin(t, "ida", outingtest.Machine("m", r), nil).Units[0]
		days := []inspect.State{u.State}
		for _, c := range r.Sheet.Conditions {
			for _, choice := range c.Choices {
				told, _ := u.Apply(record.Meta{}, inspect.Conditioned{Machine: "m", Condition: c.ID, Choice: choice.ID})
				days = append(days, told)
			}
		}
		for _, day := range days {
			own := *u
			own.State = day
			for i := range r.Sheet.Checks {
				c := &r.Sheet.Checks[i]
				for j := range c.Readings {
					reading := &c.Readings[j]
					said := outingtest.Typed("m", c.ID, reading, outingtest.Good(&own, reading))
					e, err := day.AnswerFreely(said, time.Time{})
					if err != nil {
						t.Fatalf("%s %s %s: %s: %v", r.Sheet.ID, c.ID, reading.ID, said.Typed, err)
					}
					own.State, _ = own.Apply(record.Meta{ID: reading.ID}, e)
				}
			}
			for _, f := range own.Found() {
				if f.Finding.Grade != defect.Sound {
					t.Errorf("%s %s %s is %s", r.Sheet.ID, f.Check, f.Item, f.Finding.Grade)
				}
			}
		}
	}
}
