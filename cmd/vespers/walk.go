package main

// The command that plans a walk-around and prints it.

import (
	"fmt"
	"os"

	"vespers/core/machine"
	"vespers/core/walk"
	"vespers/say"
)

type walkCommand struct {
	Plan walkPlan `cmd:"" help:"The walk of least time through the cold points of a sheet."`
}

type walkPlan struct {
	Sheet string   `arg:"" help:"A sheet file." type:"existingfile"`
	Start string   `help:"Station or place to begin at; left out, the first station."`
	Hot   *float64 `help:"Minutes since the machine worked: points that need it cooler are put off." placeholder:"MINUTES"`
	Break bool     `help:"Only what is looked at again at a break."`
	JSON  bool     `help:"Print JSON."`
	options
}

// walkStop is a stop as the command prints it.
type walkStop struct {
	Do      string `json:"do"`
	ID      string `json:"id"`
	At      string `json:"at"`
	Setting string `json:"setting,omitempty"`
	To      string `json:"to,omitempty"`
}

type walkReport struct {
	Stops      []walkStop `json:"stops"`
	Metres     float64    `json:"metres"`
	Seconds    float64    `json:"seconds"`
	Walking    float64    `json:"walking_seconds"`
	Changes    int        `json:"changes"`
	Exact      bool       `json:"exact"`
	AtLeast    float64    `json:"at_least_seconds"`
	SheetOrder float64    `json:"sheet_order_seconds"`
	Later      []string   `json:"later"`
}

// Run prints the plan. A sheet that cannot be used, or a start that is not in
// it, gives exit status 2.
func (c *walkPlan) Run(v *say.Voice) error {
	sheet, err := usable(v, c.Sheet, c.Option)
	if err != nil {
		return err
	}
	sheet = sheet.With(c.Option)
	o := walk.Options{Start: c.Start}
	if _, known := sheet.Spot(c.Start); c.Start != "" && !known {
		fmt.Fprintf(os.Stderr, "%s: %s\n", c.Sheet, v.Reason(machine.UnknownSpot(sheet, c.Start)))
		return exit(2)
	}
	if c.Hot != nil {
		o.Hot, o.Minutes = true, *c.Hot
	}
	if c.Break {
		o.Only = walk.Break
	}
	plan := walk.Cold(sheet, o)
	if !c.JSON {
		printWalk(v, sheet, plan)
		return nil
	}
	out := walkReport{Stops: []walkStop{}, Metres: plan.Metres, Seconds: plan.Seconds, Walking: plan.Walking, Changes: plan.Changes,
		Exact: plan.Exact, AtLeast: plan.AtLeast, SheetOrder: plan.SheetOrder, Later: append([]string{}, plan.Later...)}
	for _, s := range plan.Stops {
		stop := walkStop{Do: s.Do, ID: s.ID, At: s.At, To: s.To}
		if s.Do == walk.Set {
			stop.Setting = s.ID
		}
		out.Stops = append(out.Stops, stop)
	}
	return printJSON(out)
}

func printWalk(v *say.Voice, sheet *machine.Sheet, plan walk.Plan) {
	for i, s := range plan.Stops {
		spot, _ := sheet.Spot(s.At)
		words := ""
		if s.Do == walk.Set {
			setting, _ := sheet.Setting(s.ID)
			way, _ := setting.Way(s.To)
			words = "→ " + v.Text(way.Do)
		} else {
			c, _ := sheet.Check(s.ID)
			words = v.Text(c.Name)
		}
		fmt.Printf("%3d  %-28s %s\n", i+1, v.Text(spot.Name), words)
	}
	fmt.Printf("%.1f m, %.0f s, of which %.0f s walking; %d changes; in the order of the sheet %.0f s\n", plan.Metres, plan.Seconds, plan.Walking, plan.Changes, plan.SheetOrder)
	if !plan.Exact {
		fmt.Printf("not proved to be the best: at least %.0f s\n", plan.AtLeast)
	}
	if len(plan.Later) > 0 {
		fmt.Printf("later, when cooler: %v\n", plan.Later)
	}
}
