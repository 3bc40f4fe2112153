package catalogue

// Writing a sheet out as it is computed with.

import (
	"encoding/json"

	"github.com/goccy/go-yaml"

	"vespers/core/machine"
)

// YAML is a sheet as it is computed with: kits flattened, options applied. It is
// a sheet by itself.
func YAML(sheet *machine.Sheet, chosen machine.Chosen) ([]byte, error) {
	return written(sheet.With(chosen).Alone())
}

// WholeYAML is a sheet with its kits flattened and all ways of its options. Read
// back, it is the same sheet.
func WholeYAML(sheet *machine.Sheet) ([]byte, error) { return written(sheet.Copy()) }

func written(own *machine.Sheet) ([]byte, error) {
	own.Kits = nil
	body, err := json.Marshal(own)
	if err != nil {
		return nil, err
	}
	return yaml.JSONToYAML(body)
}
