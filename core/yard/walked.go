package yard

// The site on the day: what crews find when they walk a zone in the morning, and how a bank
// was tried. It ends with the yard's day.

import (
	"slices"
	"strings"
	"time"

	"vespers/core/ground"
	"vespers/core/operator"
	"vespers/core/record"
	"vespers/core/text"
)

// ZoneWalked is a zone as somebody found it on foot: what was seen to, how the ground is,
// and what has to be told. Photo is the hash of a picture.
type ZoneWalked struct {
	Zone  string   `json:"zone"`
	Done  []string `json:"done"`
	Wet   bool     `json:"wet,omitempty"`
	Soft  bool     `json:"soft,omitempty"`
	Told  string   `json:"told,omitempty"`
	Photo string   `json:"photo,omitempty"`
}

// BankTried is how a machine went up a bank slowly, cutters off.
type BankTried struct {
	Zone    string `json:"zone"`
	Slipped bool   `json:"slipped"`
}

// Kind implements record.Event.
func (ZoneWalked) Kind() string { return "zone_walked" }

// Kind implements record.Event.
func (BankTried) Kind() string { return "bank_tried" }

var _ = record.Register(ZoneWalked{}, BankTried{})

// WalkZone says how a zone was found on foot. Grass and Ground are one of the words of
// Walk; Items are those that were seen to.
type WalkZone struct {
	Zone          string
	Items         []string
	Grass, Ground string
	Told, Photo   string
}

// TryBank says how a bank was tried: slipped or held.
type TryBank struct{ Zone, How string }

// Act implements Command.
func (WalkZone) Act() operator.Act { return operator.Survey }

// Act implements Command.
func (TryBank) Act() operator.Act { return operator.Survey }

// Walked is the last walk of a zone.
type Walked struct {
	ZoneWalked
	By string
	At time.Time
}

// Tried is the last trial of a bank.
type Tried struct {
	BankTried
	By string
	At time.Time
}

// What the grass and the ground of a zone can be.
const (
	GrassDry   = "dry"
	GrassWet   = "wet"
	GroundFirm = "firm"
	GroundSoft = "soft"
)

var (
	ruleWalkGround = text.NewRule("site.walk_ground")
	ruleWalkItem   = text.NewRule("site.walk_item")
	ruleTried      = text.NewRule("site.tried")
)

// toldMost is the longest that is told of a zone, in characters.
const toldMost = 400

// WalkItems are what is seen to on foot in a zone, in the order in which one walks (trade
// practice): what lies about and flies, what stands in the grass, the marks of buried
// services where it is trenched, branches, and who is there.
func WalkItems(z *ground.Zone) (out []string) {
	for _, one := range []struct {
		id   string
		asks bool
	}{{"loose", true}, {"flags", true}, {"marks", z.Work == ground.Trench}, {"branches", true}, {"people", true}} {
		if one.asks {
			out = append(out, one.id)
		}
	}
	return out
}

// zoneRead is a zone of the site, as it reads.
func zoneRead(v View, id string) (*ground.Zone, error) {
	site, err := SiteOf(v).Site()
	if err != nil {
		return nil, err
	}
	for i := range site.Zones {
		if site.Zones[i].ID == id {
			return &site.Zones[i], nil
		}
	}
	return nil, record.Refuse(ruleNoZone.Says())
}

func (c WalkZone) decide(s speech) ([]Decided, error) {
	z, err := zoneRead(s.View, c.Zone)
	if err != nil {
		return nil, err
	}
	if c.Grass != GrassDry && c.Grass != GrassWet || c.Ground != GroundFirm && c.Ground != GroundSoft {
		return nil, record.Refuse(ruleWalkGround.Says())
	}
	e := ZoneWalked{Zone: c.Zone, Wet: c.Grass == GrassWet, Soft: c.Ground == GroundSoft, Told: strings.TrimSpace(c.Told), Photo: c.Photo, Done: []string{}}
	if reason, wrong := text.Wrong(e.Told, toldMost); wrong {
		return nil, record.Refuse(reason)
	}
	asked := WalkItems(z)
	for _, item := range c.Items {
		if !slices.Contains(asked, item) {
			return nil, record.Refuse(ruleWalkItem.Says())
		}
		if !slices.Contains(e.Done, item) {
			e.Done = append(e.Done, item)
		}
	}
	return just(e), nil
}

func (c TryBank) decide(s speech) ([]Decided, error) {
	if _, err := zoneRead(s.View, c.Zone); err != nil {
		return nil, err
	}
	if c.How != "slipped" && c.How != "held" {
		return nil, record.Refuse(ruleTried.Says())
	}
	return just(BankTried{Zone: c.Zone, Slipped: c.How == "slipped"}), nil
}

// WalkedToday is the last walk of a zone today, nil where nobody walked it.
func WalkedToday(v View, zone string, now time.Time) *Walked {
	if w, ok := v.Walked(zone); ok && !w.At.Before(today(v, now)) {
		return &w
	}
	return nil
}

// TriedToday is the last trial of a bank today, nil where nobody tried it.
func TriedToday(v View, zone string, now time.Time) *Tried {
	if t, ok := v.Tried(zone); ok && !t.At.Before(today(v, now)) {
		return &t
	}
	return nil
}

// OpenItems are what nobody has seen to on the last walk of a zone.
func (w Walked) OpenItems(z *ground.Zone) (out []string) {
	for _, item := range WalkItems(z) {
		if !slices.Contains(w.Done, item) {
			out = append(out, item)
		}
	}
	return out
}

// SiteToday is the site as it is today: what the weather, the light, the walk and the trial
// of a bank make worse is worse; nothing makes it better than it was drawn. The error is a
// *record.Refused.
func SiteToday(v View, now time.Time) (ground.Site, error) {
	site, err := SiteOf(v).Site()
	if err != nil {
		return site, err
	}
	weather, said := WeatherToday(v, now)
	for i := range site.Zones {
		z := &site.Zones[i]
		// Wet grass says nothing of dust: it is dry until somebody draws it wet.
		dust := z.Surface == ground.Dust
		if w := WalkedToday(v, z.ID, now); w != nil {
			z.Wet, z.Soft = z.Wet || w.Wet && !dust, z.Soft || w.Soft
		}
		if t := TriedToday(v, z.ID, now); t != nil && t.Slipped {
			z.ReverseFailed = true
		}
		if said {
			z.Wet = z.Wet || weather.Grass != grasses[0] && !dust
			if z.Light != ground.Lit {
				z.Light = darker(z.Light, weather.Light)
			}
		}
	}
	return site, nil
}

// darker is the light of a zone that is not lit, by how light it is outside.
func darker(drawn, outside string) string {
	switch outside {
	case lights[0]:
		return drawn
	case lights[1]:
		return ground.Dusk
	}
	return ground.Dark
}

// StormToday reports whether lightning was said to be about, or may be because the last
// that was said of it was so: nobody begins in the open then (trade practice).
func StormToday(v View, now time.Time) bool {
	w, said := WeatherToday(v, now)
	return said && w.Storm != storms[0]
}
