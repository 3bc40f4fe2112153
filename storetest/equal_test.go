package storetest

import (
	"encoding/json"
	"reflect"
)

// equal compares what pages show: times by the moment they are, however they
// came about.
func equal(a, b any) bool {
	x, errX := json.Marshal(a)
	y, errY := json.Marshal(b)
	return errX == nil && errY == nil && reflect.DeepEqual(x, y)
}
