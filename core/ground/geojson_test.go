package ground

import (
	"errors"
	"math"
	"testing"
	"time"

	"vespers/core/record"
)

// ruleOf is the rule that a file was refused by.
func ruleOf(err error) string {
	var refused *record.Refused
	if errors.As(err, &refused) {
		return string(refused.Reason.Rule)
	}
	return ""
}

// TestSitesThatCannotBeUsed changes one thing of a sound one.
func TestSitesThatCannotBeUsed(t *testing.T) {
	for name, c := range map[string]struct {
		change []string
		rule   string
	}{
		"a list":                        {[]string{lawn, `[]`}, "file.type"},
		"no collection":                 {[]string{`"FeatureCollection"`, `"Feature"`}, "file.unknown_word"},
		"no features":                   {[]string{`"features"`, `"feature"`}, "file.missing"},
		"another reference system":      {[]string{`"features"`, `"crs":{"type":"name"},"features"`}, "ground.reference_system"},
		"no such coordinates":           {[]string{`"local"`, `"utm"`}, "file.unknown_word"},
		"no doubt":                      {[]string{`,"u":0.5},"features"`, `},"features"`}, "file.missing"},
		"a doubt below 0":               {[]string{`,"u":0.5},"features"`, `,"u":-1},"features"`}, "file.number"},
		"an unknown word of ours":       {[]string{`"local"`, `"local","zoom":3`}, "file.unknown_word"},
		"an origin without a place":     {[]string{`"local"`, `"local","origin":{"name":"door"}`}, "file.missing"},
		"an origin not on earth":        {[]string{`"local"`, `"local","origin":{"lon":0,"lat":99}`}, "ground.not_on_earth"},
		"metres as degrees":             {[]string{`"local"`, `"wgs84"`}, "ground.not_on_earth"},
		"no id":                         {[]string{`"id":"edge",`, ``}, "file.missing"},
		"a number for an id":            {[]string{`"id":"edge"`, `"id":7`}, "file.type"},
		"an id twice":                   {[]string{`"id":"edge"`, `"id":"lawn"`}, "file.twice"},
		"no kind":                       {[]string{`"kind":"edge",`, ``}, "file.missing"},
		"no such kind":                  {[]string{`"kind":"edge"`, `"kind":"hedge"`}, "file.unknown_word"},
		"no such edge":                  {[]string{`"edge":"wall"`, `"edge":"hedge"`}, "file.unknown_word"},
		"no such thing":                 {[]string{`"thing":"path"`, `"thing":"bench"`}, "file.unknown_word"},
		"no surface":                    {[]string{`"surface":"rough",`, ``}, "file.missing"},
		"no such surface":               {[]string{`"rough"`, `"grass"`}, "file.unknown_word"},
		"no such work":                  {[]string{`"work":"mow"`, `"work":"plough"`}, "file.unknown_word"},
		"no such light":                 {[]string{`"work"`, `"light":"moon","work"`}, "file.unknown_word"},
		"no such test":                  {[]string{`"work"`, `"reverse_test":"ok","work"`}, "file.unknown_word"},
		"no priority":                   {[]string{`"work"`, `"priority":0,"work"`}, "file.number"},
		"branches without a doubt":      {[]string{`"work"`, `"branches":2.4,"work"`}, "file.missing"},
		"a board of no length":          {[]string{`"kind":"angle","angle":2,"u":{"angle":0.5}`, `"kind":"drop","drop":0.2,"length":0,"u":{"drop":0,"length":0}`}, "file.number"},
		"a reading without a doubt":     {[]string{`,"u":{"angle":0.5}`, ``}, "file.missing"},
		"no time of day":                {[]string{`"work"`, `"deadline":"25:00","work"`}, "ground.time"},
		"a short time of day":           {[]string{`"work"`, `"deadline":"9:00","work"`}, "ground.time"},
		"minutes":                       {[]string{`"work"`, `"deadline":540,"work"`}, "ground.time"},
		"one quiet time":                {[]string{`"work"`, `"quiet":[["10:00"]],"work"`}, "ground.quiet_times"},
		"a quiet time of none":          {[]string{`"work"`, `"quiet":[["10:00","10:00"]],"work"`}, "ground.quiet_times"},
		"no quiet time":                 {[]string{`"work"`, `"quiet":["10:00"],"work"`}, "file.type"},
		"a ticket without a zone":       {[]string{`"work"`, `"ticket_until":"2026-12-01","work"`}, "ground.instant"},
		"an open ring":                  {[]string{`[0,25],[0,0]]]`, `[0,25]]]`}, "ground.polygon"},
		"a ring that crosses itself":    {[]string{`[40,25],[0,25]`, `[0,25],[40,25]`}, "ground.polygon"},
		"a ring of no area":             {[]string{`[40,25],[0,25]`, `[40,0],[0,0]`}, "ground.polygon"},
		"a zone that is a line":         {[]string{`"Polygon"`, `"LineString"`}, "file.unknown_word"},
		"an edge that is a point":       {[]string{`"LineString"`, `"Point"`}, "file.unknown_word"},
		"several polygons":              {[]string{`"Polygon"`, `"MultiPolygon"`}, "file.unknown_word"},
		"a line of one place":           {[]string{`[[0,-100],[40,-100]]`, `[[0,-100]]`}, "ground.line_too_short"},
		"a place of one number":         {[]string{`[20,-100]`, `[20]`}, "ground.line_too_short"},
		"a place of words":              {[]string{`[20,-100]`, `["x",-100]`}, "file.type"},
		"a line without a clear height": {[]string{`"thing":"path"`, `"thing":"overhead_line","height":9`}, "file.missing"},
		"a clearance below 0":           {[]string{`"thing":"path"`, `"thing":"overhead_line","clearance":-3`}, "file.number"},
		"no geometry":                   {[]string{`"geometry":{"type":"Point","coordinates":[20,-100]},`, ``}, "file.missing"},
		"no coordinates":                {[]string{`,"coordinates":[20,-100]`, ``}, "file.type"},
	} {
		if _, err := ReadSite([]byte(with(t, lawn, c.change...))); ruleOf(err) != c.rule {
			t.Errorf("%s: %v, not %s", name, err, c.rule)
		}
	}
}

// TestCrewsThatCannotBeUsed changes one thing of a sound one.
func TestCrewsThatCannotBeUsed(t *testing.T) {
	for name, c := range map[string]struct {
		change []string
		rule   string
	}{
		"an unknown word":             {[]string{`"at"`, `"now"`}, "file.unknown_word"},
		"no time":                     {[]string{`"2026-12-01T09:00:00Z"`, `"nine"`}, "ground.instant"},
		"no id":                       {[]string{`"id":"verger",`, ``}, "file.missing"},
		"not said to be released":     {[]string{`"released":true,`, ``}, "file.missing"},
		"not said what it does":       {[]string{`"does":["mow"],`, ``}, "file.missing"},
		"no such work":                {[]string{`["mow"]`, `["plough"]`}, "file.unknown_word"},
		"no such use":                 {[]string{`"fine_turf"`, `"turf"`}, "file.unknown_word"},
		"a use twice":                 {[]string{`"fine_turf"`, `"dusk"`}, "file.twice"},
		"no such restriction":         {[]string{`"width_m"`, `"restrictions":["slow"],"width_m"`}, "file.unknown_word"},
		"no such condition":           {[]string{`"width_m"`, `"conditions":["icy"],"width_m"`}, "file.unknown_word"},
		"no width":                    {[]string{`"width_m":1.4,`, ``}, "file.missing"},
		"a width of 0":                {[]string{`"width_m":1.4`, `"width_m":0`}, "file.number"},
		"no circle":                   {[]string{`"exclusion_m":15,`, ``}, "file.missing"},
		"a reach without a doubt":     {[]string{`"reach_u":0.05,`, ``}, "file.missing"},
		"a doubt of nothing":          {[]string{`"reach_m":2.1,`, ``}, "file.missing"},
		"more overlap than cut":       {[]string{`"overlap_m":0.2`, `"overlap_m":1.2`}, "ground.overlap"},
		"more efficient than can be":  {[]string{`"efficiency":0.8`, `"efficiency":1.01`}, "ground.efficiency"},
		"no speed":                    {[]string{`"km_h":6`, `"km_h":0`}, "file.number"},
		"a machine twice":             {[]string{`"machines":[{`, `"machines":[{"id":"verger","released":true,"does":[],"width_m":1,"exclusion_m":1},{`}, "file.twice"},
		"somebody twice":              {[]string{`"people":[`, `"people":[{"id":"tobias"},`}, "file.twice"},
		"a machine that nobody has":   {[]string{`"machines":["verger"]`, `"machines":["beadle"]`}, "file.unknown_word"},
		"practice on no machine":      {[]string{`"slope_practice":["verger"]`, `"slope_practice":["beadle"]`}, "file.unknown_word"},
		"both setbacks":               {[]string{`"at"`, `"house":{"setback":{"cutting_widths":2,"machine_widths":1}},"at"`}, "ground.two_setbacks"},
		"neither":                     {[]string{`"at"`, `"house":{"setback":{}},"at"`}, "ground.two_setbacks"},
		"no such turning":             {[]string{`"at"`, `"house":{"turning":"downhill"},"at"`}, "file.unknown_word"},
		"a part of a reading":         {[]string{`"at"`, `"house":{"needed":1.5},"at"`}, "file.number"},
		"an unknown rule":             {[]string{`"at"`, `"house":{"verge":1},"at"`}, "file.unknown_word"},
		"an unknown word of machines": {[]string{`"width_m"`, `"weight":1,"width_m"`}, "file.unknown_word"},
		"an unknown word of people":   {[]string{`"slope_practice"`, `"practice"`}, "file.unknown_word"},
	} {
		if _, err := ReadWith([]byte(with(t, crew, c.change...))); ruleOf(err) != c.rule {
			t.Errorf("%s: %v, not %s", name, err, c.rule)
		}
	}
	site, err := ReadSite([]byte(with(t, lawn, `"work":"mow"`, `"work":"trench"`)))
	if err != nil {
		t.Fatal(err)
	}
	if _, err := (With{}).Judge(&site); ruleOf(err) != "ground.no_time" {
		t.Errorf("a ticket without a time: %v", err)
	}
}

// TestOnTheGlobe: a thousandth of a degree is 111.32 m to the north, and less to the east.
func TestOnTheGlobe(t *testing.T) {
	at := func(site string) Site {
		t.Helper()
		s, err := ReadSite([]byte(site))
		if err != nil {
			t.Fatal(err)
		}
		return s
	}
	globe := with(t, lawn, `"vespers":{"coordinates":"local","u":0.5},`, ``, `[[[0,0],[40,0],[40,25],[0,25],[0,0]]]`,
		`[[[7,60],[7.001,60],[7.001,60.001,312],[7,60.001],[7,60]]]`, `[[0,-100],[40,-100]]`, `[[7,60],[7,60.002]]`, `[20,-100]`, `[7,60.002]`)
	s := at(globe)
	const north = 6378137 * math.Pi / 180 / 1000
	if s.Doubt != 3 || math.Abs(s.Zones[0].Shape.Area()-north*north*math.Cos(math.Pi/3)) > 1e-3 {
		t.Errorf("%+v", s)
	}
	if got := s.Things[0].Shape.Lines[0][0]; got.X != 0 || math.Abs(got.Y-2*north) > 1e-6 {
		t.Errorf("%v", got)
	}
	named := at(with(t, globe, `"features"`, `"vespers":{"coordinates":"wgs84","u":1,"origin":{"name":"door","lon":7,"lat":0}},"features"`))
	if got := named.Things[0].Shape.Lines[0][0]; named.Doubt != 1 || math.Abs(got.Y-60002*north) > 1e-5 {
		t.Errorf("from the equator: %v", got)
	}
	if got := named.Zones[0].Shape.Area(); math.Abs(got-north*north) > 1e-3 {
		t.Errorf("as wide as at the equator: %v", got)
	}
}

// TestWhatAZoneSays is read as it stands.
func TestWhatAZoneSays(t *testing.T) {
	s, err := ReadSite([]byte(with(t, lawn, `"work":"mow"`, `"work":"mow","deadline":"11:30","quiet":[["10:30","11:00"],["23:00","24:00"]],"priority":2.5,"ticket_until":"2026-12-02T00:00:00+01:00","colour":"green"`)))
	if err != nil {
		t.Fatal(err)
	}
	z := s.Zones[0]
	if *z.Deadline != 690 || len(z.Quiet) != 2 || z.Quiet[0] != [2]int{630, 660} || z.Quiet[1] != [2]int{1380, 1440} || z.Priority != 2.5 || !z.TicketUntil.Equal(time.Date(2026, 12, 1, 23, 0, 0, 0, time.UTC)) {
		t.Errorf("%+v", z)
	}
	if z := readLawn(t).Zones[0]; z.Priority != 1 || z.Light != Day || z.Deadline != nil || z.Branches != nil {
		t.Errorf("what is left out: %+v", z)
	} else if deg, ok := z.Degrees(); !ok || deg != 2.5 {
		t.Errorf("%v° %v", deg, ok)
	}
	if _, ok := (&Zone{}).Degrees(); ok {
		t.Error("nobody has measured it")
	}
}

func readLawn(t *testing.T) Site {
	t.Helper()
	s, err := ReadSite([]byte(lawn))
	if err != nil {
		t.Fatal(err)
	}
	return s
}
