package defect

// What is kept of what was read, for where it leads.

// Series is what was read at one reading since its part was new, oldest first.
type Series struct {
	Check  string `json:"check"`
	Item   string `json:"item"`
	Unit   string `json:"unit"`
	Points []Read `json:"points"`
}

// Read is one value of a series.
type Read struct {
	Hours float64 `json:"h"`           // by the machine's meter
	Value float64 `json:"v"`           // in the unit of the series
	At    int64   `json:"at,omitzero"` // seconds since 1970, for who looks at it
}

// seriesMost is how many values of a series are kept. A line through more bends no
// more for what happens now (house rule).
const seriesMost = 40

// Add is a series with another value at its end.
func (s Series) Add(r Read) Series {
	points := append(s.Points[:len(s.Points):len(s.Points)], r)
	s.Points = points[max(0, len(points)-seriesMost):]
	return s
}
