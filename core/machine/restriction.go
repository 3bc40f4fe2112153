package machine

// Restriction is a use that a machine may not be put to, or a condition it may
// only work under. The words are one published list: the same in code, sheets
// and exports (docs/uses-and-restrictions.md).
type Restriction string

// The restrictions.
const (
	NoSlope         Restriction = "no_slope"          // flat ground only, up to 3°
	NoWetSlope      Restriction = "no_wet_slope"      // slopes only when dry
	NoFineTurf      Restriction = "no_fine_turf"      // keeps off fine turf
	NoNearPublic    Restriction = "no_near_public"    // nobody but crew about
	NoRoad          Restriction = "no_road"           // off the public road
	DaylightOnly    Restriction = "daylight_only"     // not at dusk or by night
	DampGroundOnly  Restriction = "damp_ground_only"  // no dry dust
	NoUnderTrees    Restriction = "no_under_trees"    // nothing low overhead
	WithBanksman    Restriction = "with_banksman"     // a second person guides reversing
	RecheckTwoHours Restriction = "recheck_two_hours" // looked at again after two hours of work
)

// None is written where a fault that should restrict something does not.
const None = "none"

// Restricts reports whether the grading table asks what a fault or reading of
// this class and extent takes away.
func Restricts(class Class, extent Extent) bool {
	return class == ClassF && (extent == Degraded || extent == Lost) || class == ClassG && extent == Lost
}

// Restrictions lists them all.
func Restrictions() []Restriction {
	return []Restriction{NoSlope, NoWetSlope, NoFineTurf, NoNearPublic, NoRoad,
		DaylightOnly, DampGroundOnly, NoUnderTrees, WithBanksman, RecheckTwoHours}
}

// Forbids is the use that the restriction takes away, or "" where it is a
// condition of work rather than a refusal.
func (r Restriction) Forbids() string {
	switch r {
	case NoSlope:
		return "slope"
	case NoWetSlope:
		return "wet_slope"
	case NoFineTurf:
		return "fine_turf"
	case NoNearPublic:
		return "near_public"
	case NoRoad:
		return "road"
	case DaylightOnly:
		return "dusk"
	case DampGroundOnly:
		return "dry_dust"
	case NoUnderTrees:
		return "under_trees"
	}
	return ""
}

// Uses lists every use a sheet may name, in the order they are shown.
func Uses() []string {
	return []string{"slope", "wet_slope", "fine_turf", "near_public", "road", "dusk", "dry_dust", "under_trees"}
}
