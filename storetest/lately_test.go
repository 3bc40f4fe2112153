package storetest

// What a page has read of the yard is kept until the next record, whoever writes it.

import (
	"encoding/json"
	"slices"
	"testing"

	"vespers/core/yard"
	"vespers/store"
)

// TestAPageReadsAnew: each thing that is kept is looked at before and after a record that
// changes it, through the store that wrote it and through one that did not.
func TestAPageReadsAnew(t *testing.T) {
	one, path := wrenfield(t)
	two := open(t, path)
	stores := []*store.Store{one, two}
	plain := func(v any) string {
		b, err := json.Marshal(v)
		if err != nil {
			t.Fatal(err)
		}
		return string(b)
	}
	kept := map[string]func(yard.View) string{
		"machines": func(v yard.View) string { return plain(v.Machines()) },
		"a machine": func(v yard.View) string {
			m, _ := v.Machine("verger")
			return plain(m)
		},
		"people": func(v yard.View) string { return plain(v.People()) },
		"what is out with somebody": func(v yard.View) string {
			return plain(v.OutWith("ines"))
		},
		"an outing": func(v yard.View) string {
			out := ""
			for _, id := range v.OutWith("ines") {
				if o, ok := v.Outing(id); ok {
					out += o.Now().ReadyBy.ID
				}
			}
			return out
		},
	}
	look := func(s *store.Store) map[string]string {
		v, check := s.View(ctx)
		out := map[string]string{}
		for what, read := range kept {
			out[what] = read(v)
		}
		if err := check(); err != nil {
			t.Fatal(err)
		}
		return out
	}
	changes := func(name string, want []string, write func() error) {
		t.Helper()
		before := look(one)
		look(two)
		if err := write(); err != nil {
			t.Fatal(name, err)
		}
		for i, s := range stores {
			for what, now := range look(s) {
				if moved := now != before[what]; moved != slices.Contains(want, what) {
					t.Errorf("after %s, store %d, %s: changed %t", name, i, what, moved)
				}
			}
		}
	}
	var outing string
	changes("a machine is taken out", []string{"machines", "a machine", "what is out with somebody"}, func() error {
		outing = start(t, one, "verger")
		return nil
	})
	changes("an answer", []string{"an outing"}, func() error {
		_, err := say(one, "fit", "ines", in(outing, fit))
		return err
	})
	changes("somebody joins", []string{"people"}, func() error {
		_, err := say(two, "join", "maren", yard.AddPerson{Name: "Ada Fenwright", Role: "operator", Language: "en", PIN: "8351"})
		return err
	})
}
