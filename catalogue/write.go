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
	out := sheet.With(chosen).Alone()
	out.Kits = nil
	body, err := json.Marshal(out)
	if err != nil {
		return nil, err
	}
	return yaml.JSONToYAML(body)
}
