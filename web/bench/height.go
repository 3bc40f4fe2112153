package bench

// Height of cut by notches: how far the brackets of a reel unit are moved, and what is
// left for the roller nut.

import (
	"net/http"
	"strconv"
	"strings"

	"vespers/core/reel"
	"vespers/core/unit"
	"vespers/store"
	"vespers/web/page"
)

type heightPage struct {
	Machine, Name, Type string
	Notch, Unit         string
	Left, Right, Want   string // as typed
	Front, Rear         string
	Problem             string
	LeftMove, RightMove string
	LeftNut, RightNut   string
	FrontRear           string
	Planned             bool
}

var heightPages = page.New[heightPage](templates, "height")

// showHeight plans a change of the height of cut. Nothing is kept: the gauge bar has the
// last word.
func showHeight(v *page.Visit) {
	m, sheet, err := v.Site.Store.Described(v.Context(), v.Param("machine"))
	if err != nil {
		v.Fail(err)
		return
	}
	notch, ok := sheet.Number("height_notch")
	if !ok {
		v.Fail(store.ErrNotFound)
		return
	}
	p := heightPage{Machine: m.ID, Name: m.Name, Type: v.Text(sheet.Name), Notch: v.AmountTo(notch.Amount(), 1+v.Unit("mm").Decimals), Unit: v.Unit("mm").Symbol,
		Left: v.Query("left"), Right: v.Query("right"), Want: v.Query("want"), Front: v.Query("front"), Rear: v.Query("rear")}
	status := http.StatusOK
	if p.Left+p.Right+p.Want != "" {
		if p.plan(v, notch.Amount().Quantity.Value); !p.Planned {
			p.Problem, status = v.T("height.not_so", "unit", p.Unit), http.StatusUnprocessableEntity
		}
	}
	heightPages.Show(v, status, v.T("height.title", "name", m.Name), p)
}

// plan fills in what is moved; notch is in metres.
func (p *heightPage) plan(v *page.Visit, notch float64) {
	shown := v.Unit("mm")
	metres := func(typed string) float64 {
		q, _, err := unit.Parse(typed, shown)
		if err != nil {
			return 0 // which is no height
		}
		return q.Value
	}
	u := reel.Unit{Left: metres(p.Left), Right: metres(p.Right), Want: metres(p.Want), Notch: notch}
	if p.Front+p.Rear != "" {
		front, err := strconv.Atoi(strings.TrimSpace(p.Front))
		rear, wrong := strconv.Atoi(strings.TrimSpace(p.Rear))
		if err != nil || wrong != nil || front < 0 || rear < 0 || front > 99 || rear > 99 {
			return
		}
		u.Front, u.Rear = front, rear
	}
	plan, ok := u.Set()
	if !ok {
		return
	}
	p.Planned = true
	p.LeftMove, p.LeftNut = p.side(v, plan.Left)
	p.RightMove, p.RightNut = p.side(v, plan.Right)
	if n := plan.FrontRear; n != 0 {
		p.FrontRear = v.T("height.front."+way(n), "n", max(n, -n))
	}
}

// side says what becomes of one end.
func (p *heightPage) side(v *page.Visit, s reel.Side) (move, nut string) {
	move = v.T("height.stays")
	if s.Notches != 0 {
		move = v.T("height."+way(s.Notches), "n", max(s.Notches, -s.Notches))
	}
	shown := v.Unit("mm")
	rest := shown.In(unit.Quantity{Value: max(s.Nut, -s.Nut), Dimension: unit.Length})
	if words := v.Number(rest, max(2, shown.Decimals)); strings.Trim(words, "0.,") != "" {
		direction := "up"
		if s.Nut < 0 {
			direction = "down"
		}
		nut = v.T("height.nut."+direction, "by", words+" "+shown.Symbol)
	}
	return move, nut
}

func way(n int) string {
	if n < 0 {
		return "down"
	}
	return "up"
}
