package export

// Dates for a calendar program, as iCalendar.

import (
	"io"
	"time"

	ics "github.com/arran4/golang-ical"
)

// Entry is a whole day of a calendar; UID tells it from all others, however often the
// calendar is read.
type Entry struct {
	UID, Summary, Description, URL string
	On                             time.Time
}

// Calendar writes entries. The same ones give the same bytes.
func Calendar(w io.Writer, name, language string, made time.Time, entries []Entry) error {
	c := ics.NewCalendarFor("Vespers")
	c.SetMethod(ics.MethodPublish)
	c.SetXWRCalName(name)
	c.SetRefreshInterval("PT6H")
	for _, one := range entries {
		e := c.AddEvent(one.UID)
		e.SetDtStampTime(made)
		e.SetAllDayStartAt(one.On)
		e.SetAllDayEndAt(one.On.AddDate(0, 0, 1))
		e.SetSummary(one.Summary, &ics.KeyValues{Key: "LANGUAGE", Value: []string{language}})
		if one.Description != "" {
			e.SetDescription(one.Description)
		}
		if one.URL != "" {
			e.SetURL(one.URL)
		}
		e.SetTimeTransparency(ics.TransparencyTransparent)
	}
	return c.SerializeTo(w, ics.WithNewLine("\r\n")) // RFC 5545, 3.1
}
