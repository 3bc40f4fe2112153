package main

// The commands that compute with fuel.

import (
	"fmt"
	"os"

	"vespers/core/fuel"
	"vespers/core/text"
	"vespers/say"
)

type fuelCommand struct {
	Need fuelNeed `cmd:"" help:"Litres to fill for a day; from burn, hours, reserve, in_tank, usable and fills."`
	Mix  fuelMix  `cmd:"" help:"Oil and petrol to add to a can; from in, at, total and ratio."`
}

// fuelFile is what each of them reads, litres and engine hours.
type fuelFile struct {
	File string `arg:"" help:"A JSON file." type:"existingfile"`
	JSON bool   `help:"Print JSON."`
}

// read reads the file; what is no such file, and what cannot be, gives exit status 2.
func (f *fuelFile) read(into any) error {
	data, err := os.ReadFile(f.File)
	if err != nil {
		return err
	}
	if err := strictly(data, into); err != nil {
		fmt.Fprintf(os.Stderr, "%s: %v\n", f.File, err)
		return exit(2)
	}
	return nil
}

func (f *fuelFile) refuse(v *say.Voice, r *text.Reason) error {
	fmt.Fprintf(os.Stderr, "%s: error: %s [%s]\n", f.File, v.Reason(*r), r.Rule)
	if r.Rule == fuel.RuleTooLittle { // in order, and impossible
		return exit(1)
	}
	return exit(2)
}

type fuelNeed struct{ fuelFile }

// Run prints a day's need.
func (c *fuelNeed) Run(v *say.Voice) error {
	var day fuel.Day
	if err := c.read(&day); err != nil {
		return err
	}
	need, refused := fuel.Needed(day)
	if refused != nil {
		return c.refuse(v, refused)
	}
	if c.JSON {
		return printJSON(need)
	}
	fmt.Printf("%.2f l, at %.2f l an hour\n", need.Litres, need.Burn)
	if need.Short > 0 {
		fmt.Printf("%.2f l more on the way: the tank does not hold them\n", need.Short)
	}
	if need.Drift.Flagged {
		fmt.Printf("it burns %.0f %% of what it did: a leak, a clogged filter, a habit?\n", 100*need.Drift.Share)
	}
	return nil
}

type fuelMix struct{ fuelFile }

// Run prints what is added to a can. A total that cannot be reached gives exit
// status 1, with the smallest that can.
func (c *fuelMix) Run(v *say.Voice) error {
	var can fuel.Can
	if err := c.read(&can); err != nil {
		return err
	}
	mix, refused := fuel.Mixed(can)
	if refused != nil {
		return c.refuse(v, refused)
	}
	if c.JSON {
		return printJSON(mix)
	}
	fmt.Printf("%.3f l of oil, %.3f l of petrol\n", mix.Oil, mix.Petrol)
	return nil
}
