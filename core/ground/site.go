package ground

// A site: its zones, its edges and what stands on it, drawn to scale in metres.

import (
	"time"

	"vespers/core/machine"
	"vespers/core/plane"
)

// What a zone's ground is.
const (
	Rough    = "rough"
	FineTurf = "fine_turf"
	PathWay  = "path"
	Hard     = "hard"
	Dust     = "dust"
)

// Surfaces lists them.
func Surfaces() []string { return []string{Rough, FineTurf, PathWay, Hard, Dust} }

// Light that a zone is worked in.
const (
	Day  = "day"
	Dusk = "dusk"
	Lit  = "lit" // by good lamps, with the lead's note
	// Dark is a zone that nobody lights, in the dark of the day. No file says it, and no
	// machine works in it.
	Dark = "dark"
)

// Trench is the work that needs buried services located first.
const Trench = "trench"

// Works lists what can be done in a zone.
func Works() []string { return machine.Works() }

// The edges of a site.
const (
	Drop  = "drop"
	Water = "water"
	Wall  = "wall"
	Road  = "road"
	Fence = "fence"
)

// Edges lists them.
func Edges() []string { return []string{Drop, Water, Wall, Road, Fence} }

// The things on a site that a rule knows; the others are for who walks it.
const (
	OverheadLine  = "overhead_line"
	MarkedService = "marked_service"
	Glass         = "glass"
	Path          = "path"
	Public        = "public"
)

// Things lists all that can be drawn.
func Things() []string {
	return []string{OverheadLine, "stay", "pole", MarkedService, "sprinkler", "stump", "tree", Glass, Path, Public, "fuel_point", "gate"}
}

// Site is a plan in metres, x east and y north. Doubt is how far a place on it may be from
// where it is drawn.
type Site struct {
	Doubt  float64
	Zones  []Zone
	Edges  []Edge
	Things []Thing
}

// Zone is a part of a site that something is done in.
type Zone struct {
	ID            string
	Shape         plane.Shape
	Surface       string
	Wet, Soft     bool
	Readings      []Reading
	ReverseFailed bool
	Light         string
	Branches      *Measured // the lowest, metres above the ground; nil for none
	Work          string
	Priority      float64
	// Deadline is a time of day in minutes, nil for none; Quiet are the times in which no
	// engine runs.
	Deadline *int
	Quiet    [][2]int
	// TicketUntil is until when buried services count as located; zero for no ticket.
	TicketUntil time.Time
}

// Edge is a line that the ground ends at.
type Edge struct {
	ID, Kind string
	Shape    plane.Shape
}

// Thing is something that stands, runs or is kept on the site. Height is that of an
// overhead line, nil if nobody knows; Clearance how far to keep from it, nil for the
// house's.
type Thing struct {
	ID, Kind  string
	Shape     plane.Shape
	Height    *Measured
	Clearance *float64
}
