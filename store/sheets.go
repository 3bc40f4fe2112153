package store

// Sheets as they are stored: resolved, under the hash of their content.

import (
	"context"
	"sync"

	"vespers/catalogue"
	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/record"
)

// sheetCache holds decoded sheets by hash; what a hash means never changes.
type sheetCache struct {
	mu    sync.Mutex
	sheet map[string]*machine.Sheet
	logic map[string]*interlock.Logic
}

// AddSheet stores a resolved sheet under its hash.
func (s *Store) AddSheet(ctx context.Context, r catalogue.Resolved) error {
	return s.writeAfter(ctx, func(ctx context.Context, tx *transaction) error { return putSheet(ctx, tx, r) })
}

func putSheet(ctx context.Context, tx *transaction, r catalogue.Resolved) error {
	_, err := tx.ExecContext(ctx, "INSERT INTO sheet (hash,id,edition,body) VALUES (?,?,?,?) ON CONFLICT (hash) DO NOTHING", r.Hash, r.Sheet.ID, r.Sheet.Edition, r.Body)
	return err
}

// OfferSheet stores a sheet that a yard brings itself. An edition is what people
// call a sheet by: another text under one that is here is refused.
func (s *Store) OfferSheet(ctx context.Context, r catalogue.Resolved) error {
	return s.writeAfter(ctx, func(ctx context.Context, tx *transaction) error {
		var taken bool
		err := tx.QueryRowContext(ctx, "SELECT EXISTS (SELECT 1 FROM sheet WHERE id=? AND edition=? AND hash<>?)", r.Sheet.ID, r.Sheet.Edition, r.Hash).Scan(&taken)
		if err != nil {
			return err
		}
		if taken {
			return record.Refuse(catalogue.RuleEdition.Says(r.Sheet.Edition))
		}
		return putSheet(ctx, tx, r)
	})
}

// HasCatalogue reports whether this edition of the catalogue is stored already.
func (s *Store) HasCatalogue(ctx context.Context, fingerprint string) (bool, error) {
	var has bool
	err := s.reader.QueryRowContext(ctx, "SELECT EXISTS (SELECT 1 FROM catalogue_stored WHERE fingerprint=?)", fingerprint).Scan(&has)
	return has, err
}

// CatalogueStored notes that this edition of the catalogue is stored.
func (s *Store) CatalogueStored(ctx context.Context, fingerprint string) error {
	return s.writeAfter(ctx, func(ctx context.Context, tx *transaction) error {
		_, err := tx.ExecContext(ctx, "INSERT INTO catalogue_stored (one, fingerprint) VALUES (1,?) ON CONFLICT (one) DO UPDATE SET fingerprint=excluded.fingerprint", fingerprint)
		return err
	})
}

// Sheet is a stored sheet by its key: its hash, and ways of its options.
func (s *Store) Sheet(ctx context.Context, key string) (*machine.Sheet, error) {
	return s.sheet(ctx, s.reader, key)
}

// sheet reads a sheet once, with ways of its options: a key never means anything
// else.
func (s *Store) sheet(ctx context.Context, q querier, key string) (*machine.Sheet, error) {
	s.sheets.mu.Lock()
	sheet := s.sheets.sheet[key]
	s.sheets.mu.Unlock()
	if sheet != nil {
		return sheet, nil
	}
	hash, chosen := machine.SplitKey(key)
	var data []byte
	if err := q.QueryRowContext(ctx, "SELECT body FROM sheet WHERE hash=?", hash).Scan(&data); err != nil {
		return nil, notFound(err)
	}
	sheet, err := catalogue.Decode(data)
	if err != nil {
		return nil, err
	}
	sheet = sheet.With(chosen)
	s.sheets.mu.Lock()
	s.sheets.sheet[key] = sheet
	s.sheets.mu.Unlock()
	return sheet, nil
}

// Logic is the compiled interlock section of a stored sheet, compiled once.
func (s *Store) Logic(hash string, sheet *machine.Sheet) *interlock.Logic {
	s.sheets.mu.Lock()
	defer s.sheets.mu.Unlock()
	if l := s.sheets.logic[hash]; l != nil {
		return l
	}
	l, _ := interlock.Of(sheet)
	s.sheets.logic[hash] = l
	return l
}

// Plan is the round of a stored sheet, computed once.
func (s *Store) Plan(hash string, sheet *machine.Sheet) interlock.Plan {
	plan, _ := s.rounds.of(hash, interlock.Section(sheet))
	return plan
}

// SheetInfo names a stored sheet.
type SheetInfo struct{ Hash, ID, Edition string }

func scanSheetInfo(row row) (SheetInfo, error) {
	var i SheetInfo
	err := row.Scan(&i.Hash, &i.ID, &i.Edition)
	return i, err
}

// NewerSheet is the sheet of the catalogue that is stored under the same id
// with other content, or nil.
func (s *Store) NewerSheet(ctx context.Context, id, key string) (*SheetInfo, error) {
	hash, _ := machine.SplitKey(key)
	i, err := scanSheetInfo(s.reader.QueryRowContext(ctx, "SELECT hash, id, edition FROM sheet WHERE id=? ORDER BY rowid DESC LIMIT 1", id))
	if err != nil || i.Hash == hash {
		return nil, notFound(err)
	}
	return &i, nil
}

// Editions lists the editions of a sheet that are stored, oldest first.
func (s *Store) Editions(ctx context.Context, id string) ([]string, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT edition FROM sheet WHERE id=? ORDER BY rowid", id)
	if err != nil {
		return nil, err
	}
	return collect(rows, func(r row) (edition string, err error) { return edition, r.Scan(&edition) })
}

// Catalogue lists the newest stored sheet of each id.
func (s *Store) Catalogue(ctx context.Context) ([]SheetInfo, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT hash, id, edition FROM sheet WHERE rowid IN (SELECT max(rowid) FROM sheet GROUP BY id) ORDER BY id")
	if err != nil {
		return nil, err
	}
	return collect(rows, scanSheetInfo)
}
