package projector

// Which picture is of which finding or walk, and which are kept no longer. The pictures
// themselves are no projection: what was dropped is gone.

import (
	"vespers/core/inspect"
	"vespers/core/yard"
)

var pictures = Projection{Name: "pictures", Version: 1, Tables: []string{"picture"}, On: func(tx Tx, c Change) error {
	switch e := c.Event.(type) {
	case inspect.Noted:
		if e.Photo == "" || c.Outing == nil {
			return nil
		}
		return tx.Exec("INSERT INTO picture (hash, record, finding, outing, machine, point) VALUES (?,?,?,?,?,?)", e.Photo, c.Meta.ID, e.Finding, c.Outing.ID, e.Machine, e.Check)
	case yard.ZoneWalked:
		if e.Photo == "" {
			return nil
		}
		return tx.Exec("INSERT INTO picture (hash, record, finding, outing, machine, point, walked) VALUES (?,?,'','','','',?)", e.Photo, c.Meta.ID, c.Meta.At.UnixMilli())
	case yard.PicturesDropped:
		for _, hash := range e.Hashes {
			if err := tx.Exec("UPDATE picture SET dropped=? WHERE hash=?", c.Meta.At.UnixMilli(), hash); err != nil {
				return err
			}
			if err := tx.Exec("DELETE FROM photo WHERE hash=?", hash); err != nil {
				return err
			}
		}
	}
	return nil
}}
