package store

// Which versions a yard is kept with.

import (
	"database/sql"
	"strings"
)

// SQLite is the version of the database library.
func SQLite() string {
	version := "?"
	db, err := sql.Open("sqlite", ":memory:")
	if err != nil {
		return version
	}
	defer db.Close()
	if err := db.QueryRow("SELECT sqlite_version()").Scan(&version); err != nil {
		return "?"
	}
	return version
}

// Edition is the newest edition of a yard's file that this program makes: the number of
// its last migration.
func Edition() string {
	files, err := migrations.ReadDir("migrations")
	if err != nil || len(files) == 0 {
		return "?"
	}
	number, _, _ := strings.Cut(files[len(files)-1].Name(), "_")
	return strings.TrimLeft(number, "0")
}
