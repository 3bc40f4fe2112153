package projector

// The site as it is drawn and measured, how its zones and banks were found, and the plan of
// the morning.

import (
	"vespers/core/ground"
	"vespers/core/yard"
)

var site = Projection{Name: "site", Version: 1, Tables: []string{"site", "feature", "zone_walked", "bank_tried", "load_sheet", "morning_plan"}, On: func(tx Tx, c Change) error {
	by, at := c.Meta.By, c.Meta.At.UnixMilli()
	switch e := c.Event.(type) {
	case yard.SiteImported:
		return imported(tx, e)
	case yard.FeatureDrawn:
		return drawn(tx, e.ID, string(e.Feature))
	case yard.FeatureDropped:
		return tx.Exec("DELETE FROM feature WHERE id=?", e.ID)
	case yard.BankMeasured:
		var was string
		if err := tx.Row("SELECT feature FROM feature WHERE id=?", e.Zone).Scan(&was); err != nil {
			return err
		}
		zone, err := ground.ReadFeature([]byte(was))
		if err != nil {
			return err
		}
		if zone, err = e.On(zone, c.Meta); err != nil {
			return err
		}
		return drawn(tx, e.Zone, string(zone.Bytes()))
	case yard.ZoneWalked:
		body, err := asJSON(e)
		if err != nil {
			return err
		}
		return tx.Exec("INSERT INTO zone_walked (zone, body, by, at, record) VALUES (?,?,?,?,?) ON CONFLICT (zone) DO UPDATE SET body=excluded.body, by=excluded.by, at=excluded.at, record=excluded.record", e.Zone, body, by, at, c.Meta.ID)
	case yard.BankTried:
		return tx.Exec("INSERT INTO bank_tried (zone, slipped, by, at) VALUES (?,?,?,?) ON CONFLICT (zone) DO UPDATE SET slipped=excluded.slipped, by=excluded.by, at=excluded.at", e.Zone, e.Slipped, by, at)
	case yard.LoadChecked:
		body, err := asJSON(e)
		if err != nil {
			return err
		}
		return tx.Exec("INSERT INTO load_sheet (outing, body, by, at) VALUES (?,?,?,?) ON CONFLICT (outing) DO UPDATE SET body=excluded.body, by=excluded.by, at=excluded.at", e.Outing, body, by, at)
	case yard.MorningPlanned:
		body, err := asJSON(e)
		if err != nil {
			return err
		}
		return tx.Exec("INSERT INTO morning_plan (one, body, by, at, record) VALUES (1,?,?,?,?) ON CONFLICT (one) DO UPDATE SET body=excluded.body, by=excluded.by, at=excluded.at, record=excluded.record", body, by, at, c.Meta.ID)
	}
	return nil
}}

// imported puts a whole site in place of the one before.
func imported(tx Tx, e yard.SiteImported) error {
	file, err := ground.ReadFile(e.File)
	if err != nil {
		return err
	}
	if err := tx.Exec("DELETE FROM feature"); err != nil {
		return err
	}
	if err := tx.Exec("INSERT INTO site (one, head) VALUES (1,?) ON CONFLICT (one) DO UPDATE SET head=excluded.head", string(file.Head().Bytes())); err != nil {
		return err
	}
	for _, one := range file.Features {
		if err := drawn(tx, one.ID(), string(one.Bytes())); err != nil {
			return err
		}
	}
	return nil
}

// drawn puts a feature where the one of its id was, or at the end.
func drawn(tx Tx, id, feature string) error {
	return tx.Exec("INSERT INTO feature (id, place, feature) VALUES (?, (SELECT coalesce(max(place),0)+1 FROM feature), ?) ON CONFLICT (id) DO UPDATE SET feature=excluded.feature", id, feature)
}
