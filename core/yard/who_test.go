package yard_test

import (
	"strings"
	"testing"

	"vespers/core/defect"
	"vespers/core/operator"
	"vespers/core/yard"
)

// allowed is who may say what to the yard, written down a second time: the
// letters are operator, lead, technician, trainee, visitor; a capital where they
// may say it about themselves too.
var allowed = []struct {
	command func(w *town, about string) yard.Command
	who     string
}{
	{func(*town, string) yard.Command {
		return yard.NameYard{Name: "Wrenfield", Timezone: "UTC", House: defect.DefaultHouse()}
	}, "L"},
	{func(*town, string) yard.Command {
		return yard.AddPerson{Name: "Mo", Role: "operator", Language: "en", PIN: "8351"}
	}, "L"},
	{func(w *town, about string) yard.Command {
		p := w.people[about]
		return yard.ChangePerson{Person: about, Name: p.Name, Role: string(p.Role), Language: "es"}
	}, "L"},
	{func(*town, string) yard.Command { return yard.SetOwn{Language: "es", Units: "us", Theme: "auto"} }, "OLTRV"},
	{func(*town, string) yard.Command { return yard.ChangePIN{PIN: "8351"} }, "OLTRV"},
	{func(_ *town, about string) yard.Command { return yard.LendPIN{Person: about, PIN: "8351"} }, "L"},
	{func(w *town, about string) yard.Command {
		w.person(about, func(p *operator.Person) { p.StandsIn = morning.AddDate(0, 0, 9) })
		return yard.HandDuties{Person: about}
	}, "L"},
	{func(_ *town, about string) yard.Command { return yard.LetGo{Person: about} }, "L"},
	{func(w *town, about string) yard.Command { return yard.TakeBack{Person: about} }, "L"},
	{func(w *town, about string) yard.Command {
		return yard.SawManual{Person: about, Sheet: w.sheet().Hash}
	}, "l"},
	{func(_ *town, about string) yard.Command {
		return yard.SawShown{Person: about, Kind: operator.Licence}
	}, "l"},
	{func(_ *town, about string) yard.Command { return yard.SawBorn{Person: about, Born: "1988-09-30"} }, "l"},
	{func(_ *town, about string) yard.Command {
		return yard.Withdraw{Person: about, Record: "0001", Why: "Mistaken"}
	}, "l"},
	{func(w *town, _ string) yard.Command {
		return yard.AddMachine{Name: "Beadle", Bay: "3", Sheet: w.sheet().Hash, Hours: "1"}
	}, "L"},
	{func(w *town, _ string) yard.Command {
		return yard.SetOptions{Machine: w.machine("Verger").ID}
	}, "L"},
	{func(w *town, about string) yard.Command {
		return yard.AdoptSheet{Machine: w.machine("Verger").ID, Sheet: w.sheet().Hash}
	}, "L"},
	{func(w *town, _ string) yard.Command {
		return yard.SetMeter{Machine: w.machine("Verger").ID, Hours: "90", Reason: "Read off"}
	}, "L"},
	{func(w *town, _ string) yard.Command {
		return yard.BeginRepair{Defects: []string{w.found(w.machine("Verger").ID, defect.Halt, nil)}, Cause: "Sand", Work: "Cleaned"}
	}, "T"},
	{func(*town, string) yard.Command { return yard.TryFault{Defect: "none", Seen: "good"} }, "T"},
	{func(*town, string) yard.Command { return yard.DropTrials{Defect: "none"} }, "T"},
	{func(*town, string) yard.Command { return yard.EndWrongClock{Reason: "Battery"} }, "L"},
	{func(*town, string) yard.Command { return yard.GoHome{} }, "OLTRV"},
	{func(_ *town, about string) yard.Command { return yard.SayWhere{Person: about, Where: "At the gate"} }, "L"},
	{func(*town, string) yard.Command { return yard.Come{} }, "OLTRV"},
	{func(*town, string) yard.Command { return yard.OpenCalendar{Hash: strings.Repeat("a1", 32)} }, "OLTRV"},
	{func(*town, string) yard.Command { return yard.CloseCalendar{} }, "OLTRV"},
	{func(_ *town, about string) yard.Command { return yard.SayCame{Person: about} }, "L"},
	{func(w *town, _ string) yard.Command {
		return yard.GiveMachine{Machine: w.machine("Verger").ID, Person: "ida"}
	}, "L"},
	{func(*town, string) yard.Command {
		return yard.SayQuiet{From: "10:00", Until: "11:00", What: "A burial"}
	}, "L"},
	{func(*town, string) yard.Command { return yard.DropQuiet{Record: "none"} }, "L"},
	{func(*town, string) yard.Command { return yard.SayWeather{Grass: "wet", Light: "good", Storm: "none"} }, "L"},
	{func(*town, string) yard.Command { return yard.SealDay{Day: "2026-01-01"} }, "L"},
	{func(w *town, _ string) yard.Command {
		m := w.machine("Verger")
		return yard.CopyPaper{Code: yard.PaperCode(m.ID, m.Sheet), Day: "2026-11-23", Time: "07:00"}
	}, "OLTR"},
	{func(*town, string) yard.Command { return yard.ImportSite{File: []byte("{}")} }, "L"},
	{func(*town, string) yard.Command { return yard.DrawFeature{Kind: "zone"} }, "L"},
	{func(*town, string) yard.Command { return yard.DropFeature{ID: "none"} }, "L"},
	{func(*town, string) yard.Command { return yard.DropReading{Zone: "none"} }, "L"},
	{func(*town, string) yard.Command { return yard.PlanMorning{} }, "L"},
	{func(*town, string) yard.Command { return yard.MeasureBank{Zone: "none"} }, "OLTR"},
	{func(*town, string) yard.Command { return yard.WalkZone{Zone: "none"} }, "OLTR"},
	{func(*town, string) yard.Command { return yard.TryBank{Zone: "none"} }, "OLTR"},
	{func(*town, string) yard.Command { return yard.CheckLoad{Outing: "none"} }, "OLTR"},
	{func(w *town, _ string) yard.Command { return yard.TakeOut{Machine: w.machine("Verger").ID} }, "OLTR"},
}

// TestWhoMaySayWhat: every command to the yard, by everybody, about themselves
// and about another.
func TestWhoMaySayWhat(t *testing.T) {
	letters := map[string]string{"ida": "O", "edda": "L", "ruth": "T", "jonah": "R", "osk": "V"}
	for _, a := range allowed {
		for who, letter := range letters {
			for _, about := range []string{who, "otto"} {
				w := newTown(t)
				c := a.command(w, about)
				may := strings.Contains(a.who, letter)
				if about != who {
					may = strings.Contains(strings.ToUpper(a.who), letter)
				}
				if got := w.rule(who, c); strings.HasPrefix(got, "who.") == may {
					t.Errorf("%s says %T about %s: %q", who, c, about, got)
				}
				w = newTown(t)
				c = a.command(w, about)
				w.person(who, func(p *operator.Person) { p.Left = morning })
				if got := w.rule(who, c); got != "who.nobody_here" {
					t.Errorf("%s, who has left, says %T: %q", who, c, got)
				}
			}
		}
		w := newTown(t)
		if got := w.rule("stranger", a.command(w, "otto")); got != "who.nobody_here" {
			t.Errorf("a stranger says %T: %q", a.command(w, "otto"), got)
		}
	}
}
