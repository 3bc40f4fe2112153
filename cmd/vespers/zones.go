package main

// What the machines of a yard may do on a site.

import (
	"context"
	"fmt"
	"strings"
	"time"

	"vespers/core/ground"
	"vespers/core/yard"
	"vespers/say"
	"vespers/store"
)

type groundZones struct {
	groundFile
	With string    `help:"Who and what is asked for (docs/ground.md)." required:"" xor:"who" type:"existingfile"`
	Yard string    `help:"The yard's file: its machines, as they stand, its people and house rules are asked for." required:"" xor:"who" type:"existingfile"`
	At   time.Time `help:"Ask the yard as if it were then, as 2026-03-12T06:40:00Z; left out, now." format:"2006-01-02T15:04:05Z07:00"`
}

// with is who and what the site is asked for.
func (c *groundZones) with(v *say.Voice) (ground.With, error) {
	if c.With != "" {
		return readGround(c.With, v, ground.ReadWith)
	}
	ctx := context.Background()
	s, err := store.Open(ctx, c.Yard)
	if err != nil {
		return ground.With{}, err
	}
	defer s.Close()
	if c.At.IsZero() {
		c.At = time.Now()
	}
	view, check := s.View(ctx)
	with := yard.Ground(view, c.At)
	return with, check()
}

// zonesReport is a site as the command prints it: metres, square metres, degrees, minutes
// and litres.
type zonesReport struct {
	Zones []zoneReport `json:"zones"`
}

type zoneReport struct {
	Zone     string        `json:"zone"`
	Area     float64       `json:"area_m2"`
	Worst    *float64      `json:"worst_deg"`
	Few      bool          `json:"few"`
	Verdicts []zoneVerdict `json:"verdicts"`
}

type zoneVerdict struct {
	Machine    string     `json:"machine"`
	Operator   string     `json:"operator"`
	Allowed    bool       `json:"allowed"`
	Watch      bool       `json:"watch"`
	Because    []string   `json:"because"`
	Keep       []string   `json:"keep"`
	Limit      float64    `json:"limit_deg"`
	Left       float64    `json:"left_m2"`
	Out        []zoneOut  `json:"out"`
	Near       []zoneNear `json:"near"`
	NearPublic bool       `json:"near_public"`
	Minutes    *float64   `json:"minutes"`
	Litres     *float64   `json:"litres"`
}

type zoneOut struct {
	Because string  `json:"because"`
	Area    float64 `json:"m2"`
}

type zoneNear struct {
	ID     string  `json:"id"`
	Kind   string  `json:"kind"`
	Metres float64 `json:"m"`
}

func reportZone(z ground.Judged) zoneReport {
	out := zoneReport{Zone: z.ID, Area: z.Area, Few: z.Few, Verdicts: []zoneVerdict{}}
	if worst, ok := z.Degrees(); ok {
		out.Worst = &worst
	}
	for _, r := range z.Rooms {
		outs, near := []zoneOut{}, []zoneNear{}
		for _, o := range r.Out {
			outs = append(outs, zoneOut(o))
		}
		for _, n := range r.Near {
			near = append(near, zoneNear(n))
		}
		for _, a := range r.Answers {
			out.Verdicts = append(out.Verdicts, zoneVerdict{r.Machine.ID, a.Operator, a.Allowed, a.Watch, a.Because, a.Keep, a.Limit, r.Left, outs, near, r.NearPublic, r.Minutes, r.Litres})
		}
	}
	return out
}

// Run prints every machine with every person in every zone.
func (c *groundZones) Run(v *say.Voice) error {
	site, err := readGround(c.File, v, ground.ReadSite)
	if err != nil {
		return err
	}
	with, err := c.with(v)
	if err != nil {
		return err
	}
	judged, err := with.Judge(&site)
	if err != nil {
		return unusable(c.With, v, err)
	}
	report := zonesReport{Zones: []zoneReport{}}
	for _, z := range judged {
		report.Zones = append(report.Zones, reportZone(z))
	}
	if c.JSON {
		return printJSON(report)
	}
	for _, z := range report.Zones {
		tellZone(v, z)
	}
	return nil
}

func tellZone(v *say.Voice, z zoneReport) {
	worst := v.T("ground.not_measured")
	if z.Worst != nil {
		worst = v.T("ground.bank", "deg", v.Number(*z.Worst, 1), "percent", v.Number(ground.Percent(*z.Worst), 1))
	}
	fmt.Println(v.T("ground.zone", "zone", z.Zone, "area", v.Number(z.Area, 0), "worst", worst))
	for i, a := range z.Verdicts {
		if i == 0 || a.Machine != z.Verdicts[i-1].Machine {
			tellRoom(v, a)
		}
		said := v.T("ground.allowed")
		if !a.Allowed {
			said = v.T("ground.refused", "why", words(v, "ground.because.", a.Because))
		}
		fmt.Println("    " + v.T("ground.pair", "operator", a.Operator, "said", said))
		if len(a.Keep) > 0 {
			fmt.Println("      " + v.T("ground.keep", "what", words(v, "ground.keep.", a.Keep)))
		}
	}
}

// tellRoom says what a machine has of a zone, whoever drives it.
func tellRoom(v *say.Voice, a zoneVerdict) {
	fmt.Println("  " + v.T("ground.room", "machine", a.Machine, "area", v.Number(a.Left, 0)))
	for _, o := range a.Out {
		fmt.Println("    " + v.T("ground.out."+o.Because, "area", v.Number(o.Area, 1)))
	}
	for _, n := range a.Near {
		fmt.Println("    " + v.T("ground.near", "id", n.ID, "what", v.T("ground.thing."+n.Kind), "metres", v.Number(n.Metres, 1)))
	}
	if a.Minutes != nil {
		fmt.Println("    " + v.T("ground.takes", "minutes", v.Number(*a.Minutes, 0)))
	}
	if a.Litres != nil {
		fmt.Println("    " + v.T("ground.burns", "litres", v.Number(*a.Litres, 1)))
	}
}

// words are several messages of one kind, one after the other.
func words(v *say.Voice, kind string, keys []string) string {
	var out []string
	for _, key := range keys {
		out = append(out, v.T(kind+strings.ReplaceAll(key, ":", "_")))
	}
	return strings.Join(out, "; ")
}
