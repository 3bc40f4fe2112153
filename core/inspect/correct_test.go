package inspect_test

import (
	"testing"
	"time"

	"vespers/core/defect"
	"vespers/core/inspect"
	"vespers/core/machine"
	"vespers/core/walk"
)

// TestAFaultIsTakenBackByAWord: with a reason, and where safety hangs on it by a
// second person; a worse one needs neither, and a milder one counts as taking
// back.
func TestAFaultIsTakenBackByAWord(t *testing.T) {
	faults := []machine.Fault{{ID: "early", Extent: machine.Early}, {ID: "late", Extent: machine.Lost}}
	for name, c := range map[string]struct {
		class       machine.Class
		from, to    string // faults; "" is sound, "-" not reachable
		why, second string
		rule        string
	}{
		"comfort, no word":         {machine.ClassH, "late", "", "", "", "outing.why_taken_back"},
		"comfort, a reason":        {machine.ClassH, "late", "", "mistap", "", ""},
		"comfort, a space":         {machine.ClassH, "late", "-", "", "", "outing.why_taken_back"},
		"an oil, a reason":         {machine.ClassE, "late", "early", "mistap", "", ""},
		"a guard, a reason":        {machine.ClassA, "late", "", "mistap", "", "outing.second_look"},
		"a guard, both":            {machine.ClassA, "late", "", "mistap", "ruth", ""},
		"a guard, a milder one":    {machine.ClassB, "late", "early", "mistap", "", "outing.second_look"},
		"a guard, not reachable":   {machine.ClassA, "late", "-", "mistap", "", "outing.second_look"},
		"a guard, a worse one":     {machine.ClassA, "early", "late", "", "", ""},
		"a guard, the same":        {machine.ClassA, "late", "late", "", "", ""},
		"a hose, no longer a weep": {machine.ClassD, "early", "", "mistap", "", "outing.second_look"},
		"found after all":          {machine.ClassA, "", "late", "", "", ""},
	} {
		t.Run(name, func(t *testing.T) {
			l := begin(t)
			l.Sheet.Checks = append(l.Sheet.Checks, machine.Check{ID: "point", Class: c.class, Phase: machine.Cold, At: "rear", Faults: faults})
			route := append(l.Route, walk.Stop{Do: walk.Check, ID: "point", At: "rear", Phase: machine.Cold})
			l.State = inspect.Begin(inspect.State{Machine: "m", Sheet: l.Sheet, Route: route, House: l.House, Hours: 100})
			word := func(fault string) inspect.Answer {
				switch fault {
				case "":
					return say("point", "", "sound", "", "")
				case "-":
					return say("point", "", "not_reachable", "", "")
				}
				return say("point", "", "fault", fault, "")
			}
			l.want(word(c.from), "")
			again := word(c.to)
			again.Why, again.Second = c.why, c.second
			l.want(again, c.rule, l.Given("point", "")[0].Meta.ID)
			if back := l.TakenBack(); (len(back) == 1) != (c.rule == "" && c.why != "") {
				t.Errorf("taken back: %v", back)
			}
		})
	}
}

// TestWhatIsBetterKeepsToTheOrder: under a deck that is down again nothing is
// found sound; worse is told from where one stands.
func TestWhatIsBetterKeepsToTheOrder(t *testing.T) {
	l := begin(t)
	l.want(say("oil", "", "sound", "", ""), "")
	l.take(inspect.Set{Machine: "m", Setting: "deck", To: "raised"})
	l.want(say("blade", "", "fault", "bent", ""), "")
	bent := l.Given("blade", "")[0].Meta.ID
	l.take(inspect.Set{Machine: "m", Setting: "deck", To: "down"})
	back := say("blade", "", "sound", "", "")
	back.Why, back.Second = "mistap", "ruth"
	l.want(back, "outing.setting_needed", bent)
	l.take(inspect.Set{Machine: "m", Setting: "deck", To: "raised"})
	l.want(back, "", bent)
	l.take(inspect.Set{Machine: "m", Setting: "deck", To: "down"})
	l.want(say("blade", "", "fault", "bent", ""), "", l.Given("blade", "")[1].Meta.ID)
}

// TestOfTwoReadingsTheWorseCounts where safety hangs on it, and the second
// elsewhere; unless a second person says that the first was a slip, or the thing
// was put right. Outings of an earlier edition keep the second.
func TestOfTwoReadingsTheWorseCounts(t *testing.T) {
	for name, c := range map[string]struct {
		class         machine.Class
		safety        bool
		first, second string
		who           string
		edition       int
		counts        string
	}{
		"worse first":                     {machine.ClassB, false, "60", "100", "", defect.Edition, "60"},
		"worse second":                    {machine.ClassB, false, "81", "60", "", defect.Edition, "60"},
		"a limit of safety":               {machine.ClassG, true, "60", "100", "", defect.Edition, "60"},
		"no safety in it":                 {machine.ClassG, false, "60", "100", "", defect.Edition, "100"},
		"a slip, seen by a second":        {machine.ClassB, false, "60", "100", "ruth", defect.Edition, "100"},
		"both out, the worse":             {machine.ClassB, false, "60", "61", "", defect.Edition, "60"},
		"both out, as the third reckoned": {machine.ClassB, false, "60", "61", "", 3, "61"},
		"as the second edition reckoned":  {machine.ClassB, false, "60", "100", "", 2, "100"},
	} {
		t.Run(name, func(t *testing.T) {
			l := begin(t)
			l.House.Edition = c.edition
			tyre := l.Check("tyre")
			tyre.Class, tyre.Readings[0].Limits.Safety = c.class, c.safety
			l.want(say("tyre", "left", "reading", "", c.first), "")
			again := say("tyre", "left", "reading", "", c.second)
			again.Again, again.Second = true, c.who
			l.want(again, "", l.Given("tyre", "left")[0].Meta.ID)
			got, _ := l.Last("tyre", "left")
			if got.Value.Typed != c.counts {
				t.Errorf("%s counts", got.Value.Typed)
			}
			if c.counts != c.first || c.edition < 3 {
				return
			}
			fresh := say("tyre", "left", "reading", "", "95")
			right, err := l.PutRight(got.Meta.ID, fresh, time.Time{})
			if err != nil {
				t.Fatal(err)
			}
			l.take(right)
			if now, _ := l.Last("tyre", "left"); now.Now().Value.Typed != "95" {
				t.Errorf("put right, and %s still counts", now.Now().Value.Typed)
			}
		})
	}
}

// TestOnlyACorrectionHasAWitness: nobody's name gets into a first answer, a look
// at a break or what was put right, where nobody asks for their PIN.
func TestOnlyACorrectionHasAWitness(t *testing.T) {
	for _, forged := range []inspect.Answer{{Second: "ruth"}, {Why: "it was the next one"}} {
		l := begin(t)
		first := say("oil", "", "fault", "low", "")
		first.Second, first.Why = forged.Second, forged.Why
		l.want(first, "outing.no_correction")
		_, err := l.AnswerFreely(first, time.Time{})
		if got := rule(err); got != "outing.no_correction" {
			t.Errorf("at a break: %q", got)
		}
		l.want(say("oil", "", "fault", "low", ""), "")
		now := say("oil", "", "sound", "", "")
		now.Second, now.Why = forged.Second, forged.Why
		last, _ := l.Last("oil", "")
		if _, err := l.PutRight(last.Meta.ID, now, time.Time{}); rule(err) != "outing.no_correction" {
			t.Errorf("put right: %q", rule(err))
		}
	}
}
