package main

// The commands that compute what the ground, a ramp or a road allows.

import (
	"errors"
	"fmt"
	"os"

	"vespers/core/ground"
	"vespers/core/record"
	"vespers/say"
)

type groundCommand struct {
	Slope  groundSlope  `cmd:"" help:"How steep a bank is by what was measured, and whether a machine may go on it."`
	Ramp   groundRamp   `cmd:"" help:"Whether a ramp is long and wide enough."`
	Bridge groundBridge `cmd:"" help:"Whether a load goes under the bridges of its route."`
	Tow    groundTow    `cmd:"" help:"Whether a trailer and its load may be pulled."`
	Straps groundStraps `cmd:"" help:"Whether a machine is held on its trailer."`
	Zones  groundZones  `cmd:"" help:"What each machine may do in the zones of a site, and who may take it there."`
	Assign groundAssign `cmd:"" help:"Who takes which machine to which zones, in what order."`
}

// groundFile is what each of them reads: degrees, metres, kilograms (docs/ground.md).
type groundFile struct {
	File string `arg:"" help:"A JSON file." type:"existingfile"`
	JSON bool   `help:"Print JSON."`
}

// readGround reads a file; one that cannot be used gives exit status 2.
func readGround[T any](file string, v *say.Voice, read func([]byte) (T, error)) (of T, err error) {
	data, err := os.ReadFile(file)
	if err != nil {
		return of, err
	}
	of, err = read(data)
	return of, unusable(file, v, err)
}

// unusable tells what is wrong with a file, and makes it exit status 2.
func unusable(file string, v *say.Voice, err error) error {
	var refused *record.Refused
	if errors.As(err, &refused) {
		fmt.Fprintf(os.Stderr, "%s: %s\n", file, v.Reason(refused.Reason))
		return exit(2)
	}
	return err
}

// verdict prints whether it is allowed, or what stands against it.
func verdict(v *say.Voice, because []string) {
	if len(because) == 0 {
		fmt.Println(v.T("ground.allowed"))
		return
	}
	fmt.Println(v.T("ground.refused", "why", words(v, "ground.because.", because)))
}

type groundSlope struct{ groundFile }

// slopeReport is a bank as the command prints it, in degrees and per cent.
type slopeReport struct {
	Worst      float64     `json:"worst_deg"`
	Percent    float64     `json:"worst_percent"`
	Few        bool        `json:"few"`
	Limit      *float64    `json:"limit_deg"`
	NeverAbove *float64    `json:"never_above_deg"`
	Margin     *float64    `json:"margin_deg"`
	Allowed    bool        `json:"allowed"`
	Watch      bool        `json:"watch"`
	Because    []string    `json:"because"`
	Each       []slopeEach `json:"each"`
}

type slopeEach struct {
	Degrees float64 `json:"deg"`
	Percent float64 `json:"percent"`
}

// Run prints what a bank comes to.
func (c *groundSlope) Run(v *say.Voice) error {
	bank, err := readGround(c.File, v, ground.ReadBank)
	if err != nil {
		return err
	}
	judged := bank.Judge(bank.Limits, bank.Direction)
	out := slopeReport{Worst: judged.Worst, Percent: ground.Percent(judged.Worst), Few: judged.Few, Allowed: judged.Allowed, Watch: judged.Watch, Because: judged.Because}
	if l := bank.Limits; l != nil {
		margin := l.Limit - judged.Worst
		out.Limit, out.NeverAbove, out.Margin = &l.Limit, &l.NeverAbove, &margin
	}
	for _, r := range bank.Readings {
		deg, _ := r.Worst()
		out.Each = append(out.Each, slopeEach{deg, ground.Percent(deg)})
	}
	if c.JSON {
		return printJSON(out)
	}
	fmt.Println(v.T("ground.bank", "deg", v.Number(out.Worst, 1), "percent", v.Number(out.Percent, 1)))
	if out.Limit != nil {
		fmt.Println(v.T("ground.limit", "deg", v.Number(*out.Limit, 1), "margin", v.Number(*out.Margin, 1)))
	}
	if out.Few {
		fmt.Println(v.T("ground.few", "needed", bank.Needed))
	}
	if verdict(v, out.Because); out.Watch {
		fmt.Println(v.T("ground.watch"))
	}
	return nil
}

type groundRamp struct{ groundFile }

type rampReport struct {
	Worst       float64  `json:"worst_deg"`
	Margin      float64  `json:"margin_deg"`
	Needed      *float64 `json:"needed_m"`
	NeededWidth float64  `json:"needed_width_m"`
	Allowed     bool     `json:"allowed"`
	Because     []string `json:"because"`
}

// Run prints what a ramp comes to.
func (c *groundRamp) Run(v *say.Voice) error {
	ramp, err := readGround(c.File, v, ground.ReadRamp)
	if err != nil {
		return err
	}
	out := ramp.Judge()
	if c.JSON {
		return printJSON(rampReport{out.Worst, out.Margin, out.NeededLength, out.NeededWidth, len(out.Because) == 0, out.Because})
	}
	fmt.Println(v.T("ground.ramp", "deg", v.Number(out.Worst, 1), "margin", v.Number(out.Margin, 1), "width", v.Number(out.NeededWidth, 2)))
	if out.NeededLength != nil {
		fmt.Println(v.T("ground.ramp_needs", "length", v.Number(*out.NeededLength, 1)))
	}
	verdict(v, out.Because)
	return nil
}

type groundBridge struct{ groundFile }

type bridgeReport struct {
	Needs   float64  `json:"needs_m"`
	Lowest  *float64 `json:"lowest_m"`
	Margin  float64  `json:"margin_m"`
	Allowed bool     `json:"allowed"`
	Because []string `json:"because"`
}

// Run prints what the height of a load comes to.
func (c *groundBridge) Run(v *say.Voice) error {
	bridge, err := readGround(c.File, v, ground.ReadBridge)
	if err != nil {
		return err
	}
	out := bridge.Judge()
	if c.JSON {
		return printJSON(bridgeReport{out.Needs, out.Lowest, out.Margin, len(out.Because) == 0, out.Because})
	}
	fmt.Println(v.T("ground.bridge", "needs", v.Number(out.Needs, 2), "margin", v.Number(out.Margin, 2)))
	verdict(v, out.Because)
	return nil
}

type groundTow struct{ groundFile }

type towReport struct {
	Mass         float64   `json:"mass_kg"`
	GrossMargin  float64   `json:"gross_margin_kg"`
	RatingMargin float64   `json:"rating_margin_kg"`
	Tongue       []float64 `json:"tongue_percent"`
	Allowed      bool      `json:"allowed"`
	Because      []string  `json:"because"`
}

// Run prints what a trailer comes to.
func (c *groundTow) Run(v *say.Voice) error {
	tow, err := readGround(c.File, v, ground.ReadTow)
	if err != nil {
		return err
	}
	out := tow.Judge()
	report := towReport{Mass: out.Mass, GrossMargin: out.GrossMargin, RatingMargin: out.RatingMargin, Allowed: len(out.Because) == 0, Because: out.Because}
	if out.Shares != nil {
		report.Tongue = []float64{100 * out.Shares[0], 100 * out.Shares[1]}
	}
	if c.JSON {
		return printJSON(report)
	}
	fmt.Println(v.T("ground.tow", "mass", v.Number(out.Mass, 0), "gross", v.Number(out.GrossMargin, 0), "rating", v.Number(out.RatingMargin, 0)))
	if out.Shares != nil {
		fmt.Println(v.T("ground.tongue", "low", v.Number(report.Tongue[0], 1), "high", v.Number(report.Tongue[1], 1)))
	}
	verdict(v, out.Because)
	return nil
}

type groundStraps struct{ groundFile }

type strapsReport struct {
	Counts  float64  `json:"counts_kg"`
	Needed  float64  `json:"needed_kg"`
	Front   int      `json:"front"`
	Rear    int      `json:"rear"`
	Allowed bool     `json:"allowed"`
	Because []string `json:"because"`
}

// Run prints what straps come to.
func (c *groundStraps) Run(v *say.Voice) error {
	straps, err := readGround(c.File, v, ground.ReadStraps)
	if err != nil {
		return err
	}
	out := straps.Judge()
	if c.JSON {
		return printJSON(strapsReport{out.Counts, out.Needed, out.Front, out.Rear, len(out.Because) == 0, out.Because})
	}
	fmt.Println(v.T("ground.straps", "counts", v.Number(out.Counts, 0), "needed", v.Number(out.Needed, 0), "front", out.Front, "rear", out.Rear))
	verdict(v, out.Because)
	return nil
}
