package store_test

import (
	"context"
	"testing"

	"vespers/store"
)

var ctx = context.Background()

func open(t *testing.T, path string) *store.Store {
	t.Helper()
	s, err := store.Open(ctx, path)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	return s
}
