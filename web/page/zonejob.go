package page

// The zones that the morning's plan gives to somebody.

import (
	"encoding/hex"
	"regexp"
	"strings"

	"vespers/core/yard"
)

// plainID is an id of a zone that can stand in an address as it is.
var plainID = regexp.MustCompile(`^[\pL\pN_-]+$`)

// coded marks an id in an address that cannot: files of others call zones what they like.
const coded = "~"

// ZonePath is the address of a zone.
func ZonePath(id string) string {
	if !plainID.MatchString(id) {
		id = coded + hex.EncodeToString([]byte(id))
	}
	return "/ground/zones/" + id
}

// ZoneID is the zone that a part of an address names; "" for none.
func ZoneID(part string) string {
	of, is := strings.CutPrefix(part, coded)
	if !is {
		return part
	}
	id, err := hex.DecodeString(of)
	if err != nil {
		return ""
	}
	return string(id)
}

// ZoneJob is a zone in words, with what and when.
type ZoneJob struct{ When, Words, Path string }

// ZoneJob is a job of the morning's plan.
func (v *Visit) ZoneJob(view yard.View, j yard.MorningJob) ZoneJob {
	m, _ := view.Machine(j.Machine)
	one, _ := yard.SiteOf(view).Feature(j.Zone)
	return ZoneJob{When: v.Clock(j.From) + "–" + v.Clock(j.Until), Words: v.T("morning.with", "zone", one.Name(), "machine", m.Name), Path: ZonePath(j.Zone)}
}

// ZonesToday are the visitor's own zones today.
func (v *Visit) ZonesToday(view yard.View) (out []ZoneJob) {
	m, _ := yard.MorningToday(view, v.Now)
	for _, j := range m.Jobs {
		if j.Operator == v.Person.ID {
			out = append(out, v.ZoneJob(view, j))
		}
	}
	return out
}
