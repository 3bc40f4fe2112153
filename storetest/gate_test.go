package storetest

import (
	"fmt"
	"sync"
	"testing"

	"vespers/core/yard"
)

// TestTenAtTheGate: ten people come and go home at once, each sent twice; everybody is
// there once, and nothing keeps the day open for them.
func TestTenAtTheGate(t *testing.T) {
	s, _ := wrenfield(t)
	s, at := later(s)
	const ten = 10
	ids := make([]string, ten)
	for i := range ids {
		id := fmt.Sprintf("gate-%02d", i)
		if _, err := say(s, id, "maren", yard.AddPerson{Name: fmt.Sprintf("Guest %d", i), Role: "operator", Language: "en", PIN: "8351"}); err != nil {
			t.Fatal(err)
		}
		ids[i] = "p-" + id
	}
	all := func(what string, c yard.Command) {
		var wait sync.WaitGroup
		for _, id := range ids {
			for range 2 { // the first answer was lost on the way
				wait.Add(1)
				go func() {
					defer wait.Done()
					if _, err := say(s, what+id, id, c); err != nil {
						t.Errorf("%s: %v", id, err)
					}
				}()
			}
		}
		wait.Wait()
	}
	all("came-", yard.Come{})
	view, _ := s.View(ctx)
	here := 0
	for _, p := range yard.Muster(view, *at).People {
		if p.Came != nil {
			for _, id := range ids {
				if p.ID == id {
					here++
				}
			}
		}
	}
	if here != ten {
		t.Errorf("%d have come", here)
	}
	all("home-", yard.GoHome{})
	view, _ = s.View(ctx)
	_, people := yard.Close(view, *at).Keeps()
	for _, name := range people {
		for i := range ids {
			if name == fmt.Sprintf("Guest %d", i) {
				t.Errorf("%s keeps the day open", name)
			}
		}
	}
	if r := whole(t, s); r.Records == 0 {
		t.Error("an empty book")
	}
}
