package outings

// Fuel: how much the day needs, what goes into a can, and what went in.

import (
	"errors"
	"net/http"
	"slices"

	"vespers/core/fuel"
	"vespers/core/outing"
	"vespers/core/record"
	"vespers/core/text"
	"vespers/core/unit"
	"vespers/store"
	"vespers/web/page"
)

type fuelPage struct {
	common
	Unit    string // litres or gallons, as the person has it
	InTank  string // how much is in it, since when
	Tank    string // what it holds to its mark
	Numbers []page.NumberView
	// What was typed, kept; and what it came to, or what was wrong with it.
	Hours, In, Need, NeedProblem string
	Short, Burns, Drift          string
	Mixes                        bool
	Has, At, Total, Mix, MixBad  string
	Metered                      bool
	Meter                        string // as it was last known
	Now                          string // the latest moment and day that may be told
	Today                        string
	Log                          []fuelLine
	Again                        *fuelLine // the one that is put right
}

// fuelLine is one line of the log, and what stands in the form that puts it right.
type fuelLine struct {
	ID, Words, Old string // Old: the can was older than the sheet allows
	Mine           bool   // it can be put right here
	Litres, Hours  string
	ToMark         bool
	Can, When      string
}

// logLines is how much of the log is shown.
const logLines = 8

var fuelPages = page.New[fuelPage](templates, "fuel")

func showFuel(v *page.Visit) {
	base, ok := load(v, outing.StageVerdict)
	if !ok {
		return
	}
	base.beside("work")
	if _, has := base.u.Tank(); !has { // an implement drinks from its carrier
		for _, u := range base.o.Units {
			if _, has := u.Tank(); has {
				base.about(u)
			}
		}
	}
	log, err := v.Site.Store.Fills(v.Context(), base.Machine)
	if err != nil {
		v.Fail(err)
		return
	}
	now := v.Now.In(v.Zone)
	p := fuelPage{common: base, Unit: v.Unit("L").Symbol, Hours: v.Query("hours"), In: v.Query("in"), Has: v.Query("has"), At: v.Query("at"), Total: v.Query("total"),
		Metered: base.u.Sheet.Metered(), Meter: v.Number(base.u.HoursNow(), 1), Now: now.Format("2006-01-02T15:04"), Today: now.Format("2006-01-02")}
	tank, has := p.u.Tank()
	if !has {
		fuelPages.Show(v, http.StatusOK, v.T("fuel.title"), p)
		return
	}
	p.Tank = v.Litres(tank)
	p.InTank = v.InTank(p.u)
	p.Numbers = v.Numbers(p.u.Sheet, []string{"ethanol_most", "cetane_least", "mix_ratio", "fuel_age"})
	p.need(v, store.FillRuns(log))
	p.mix(v)
	p.lines(v, log)
	fuelPages.Show(v, http.StatusOK, v.T("fuel.title")+" · "+p.Name, p)
}

// need is what it burns, and how much the day needs where somebody said how long it is.
func (p *fuelPage) need(v *page.Visit, past [][]fuel.Fill) {
	p.Burns, p.Drift = v.Burns(p.u.Sheet, past)
	if p.Hours+p.In == "" {
		return
	}
	need, err := p.u.FuelNeed(p.Hours, p.In, p.Unit, past)
	if p.NeedProblem = refusal(v, err); p.NeedProblem != "" {
		return
	}
	p.Need = v.T("fuel.need", "litres", v.Litres(need.Litres), "hours", p.Hours)
	if need.Litres == 0 {
		p.Need = v.T("fuel.need_none", "hours", p.Hours)
	}
	if need.Short > 0.05 {
		p.Short = v.T("fuel.short", "litres", v.Litres(need.Short))
	}
}

func (p *fuelPage) mix(v *page.Visit) {
	if _, p.Mixes = p.u.Mixes(); !p.Mixes || p.Has+p.At+p.Total == "" {
		return
	}
	mix, err := p.u.Mix(p.Has, p.At, p.Total, p.Unit)
	if p.MixBad = refusal(v, err); p.MixBad == "" {
		p.Mix = v.T("fuel.mix_add", "oil", millilitres(v, mix.Oil), "petrol", v.Litres(mix.Petrol))
	}
}

// millilitres is a small volume: a measuring cup shows no tenths of a litre.
func millilitres(v *page.Visit, l float64) string {
	u, _ := unit.Find("mL")
	return v.Amount(text.Measure{Quantity: u.Of(l * 1000), Unit: "mL"})
}

// refusal is what was wrong with what was typed, in words.
func refusal(v *page.Visit, err error) string {
	var refused *record.Refused
	if errors.As(err, &refused) {
		return v.Reason(refused.Reason)
	}
	return ""
}

func (p *fuelPage) lines(v *page.Visit, log []store.Fill) {
	age := p.u.Sheet.Time("fuel_age")
	for _, f := range slices.Backward(log) {
		if len(p.Log) == logLines {
			break
		}
		line := fuelLine{ID: f.ID, ToMark: f.ToMark, When: f.At.In(v.Zone).Format("2006-01-02T15:04")}
		how := v.T("fuel.line_mark")
		if f.Told {
			line.Litres = v.Number(v.Unit("L").In(unit.Quantity{Value: f.Litres / 1000, Dimension: unit.Volume}), 2)
			if how = v.Litres(f.Litres); f.ToMark {
				how = v.T("fuel.line_litres_mark", "litres", v.Litres(f.Litres))
			}
		}
		if f.Read {
			line.Hours = v.Number(f.Hours, 1)
			how = v.T("fuel.line_hours", "how", how, "hours", line.Hours)
		}
		if !f.Can.IsZero() {
			line.Can = f.Can.In(v.Zone).Format("2006-01-02")
		}
		if fuel.TooOld(f.Can, f.At, age) {
			line.Old = v.T("fuel.old_can", "day", v.Day(f.Can))
		}
		line.Words = v.T("fuel.line", "when", v.When(f.At, v.Now), "who", f.PersonName, "how", how)
		line.Mine = p.Mine && slices.ContainsFunc(p.u.Fills(), func(own outing.Fuelled) bool { return own.Meta.ID == f.ID })
		p.Log = append(p.Log, line)
		if line.Mine && v.Query("again") == f.ID {
			p.Again = &line
		}
	}
}

func fill(v *page.Visit) {
	c := outing.Fill{Machine: v.Field("machine"), Litres: v.Field("litres"), Unit: v.Field("unit"), ToMark: v.Field("to_mark"), Hours: v.Field("hours"), Can: v.Field("can"), When: v.Field("when")}
	if o, ok := v.SayIn(c); ok {
		v.Saved("/outings/" + o.ID + "/fuel?machine=" + c.Machine)
	}
}
