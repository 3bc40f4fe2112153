package web

// How a server spends memory for time: pages of a large yard make much that is thrown away.

import (
	"os"
	"runtime/debug"
)

const (
	// roomier is how much the heap may grow before it is cleared up, in per cent: a fifth
	// of a server's time went into it at 100, with 35 MB in use.
	roomier = 400
	// roomMost is what a server holds at most, in bytes, before it clears up sooner.
	roomMost = 512 << 20
)

// Roomy lets a program that serves pages clear up its memory less often, but where
// whoever starts it has said how (GOGC, GOMEMLIMIT).
func Roomy() {
	if os.Getenv("GOGC") == "" {
		debug.SetGCPercent(roomier)
	}
	if os.Getenv("GOMEMLIMIT") == "" {
		debug.SetMemoryLimit(roomMost)
	}
}
