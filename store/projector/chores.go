package projector

// How long the chores of an evening took on each machine.

import (
	"maps"
	"slices"

	"vespers/core/outing"
)

var chores = Projection{Name: "chores", Version: 1, Tables: []string{"chore"}, On: func(tx Tx, c Change) error {
	if _, ended := c.Event.(outing.Ended); !ended || c.Outing == nil {
		return nil
	}
	for _, u := range c.Outing.Units {
		spent := u.Spent()
		for _, id := range slices.Sorted(maps.Keys(spent)) {
			if err := tx.Exec("INSERT INTO chore (machine, chore, at, outing, seconds) VALUES (?,?,?,?,?)", u.Machine, id, c.Meta.At.UnixMilli(), c.Outing.ID, spent[id]); err != nil {
				return err
			}
		}
	}
	return nil
}}
