package page

// Zones are the time zones offered for a yard; any other IANA name may be typed.
func Zones() []string {
	return []string{"America/Bogota", "America/Chicago", "America/Denver", "America/Lima", "America/Los_Angeles", "America/Mexico_City", "America/New_York",
		"Atlantic/Azores", "Europe/Berlin", "Europe/Dublin", "Europe/London", "Europe/Madrid", "Pacific/Auckland", "UTC"}
}
