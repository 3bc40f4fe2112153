package catalogue

// The JSON Schema of sheets, made from the Go types that read them.

import (
	"bytes"
	"encoding/json"
	"fmt"
	"strings"
	"sync"

	invopop "github.com/invopop/jsonschema"
	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/santhosh-tekuri/jsonschema/v6/kind"
	"golang.org/x/text/language"
	"golang.org/x/text/message"

	"vespers/core/machine"
	"vespers/core/text"
)

var (
	ruleUnknownField = text.NewRule("sheet.unknown_field", text.Slot{Name: "names", Kind: text.Name})
	ruleRequired     = text.NewRule("sheet.field_missing", text.Slot{Name: "names", Kind: text.Name})
	ruleLanguage     = text.NewRule("sheet.missing_language", text.Slot{Name: "names", Kind: text.Name})
	ruleType         = text.NewRule("sheet.wrong_type", text.Slot{Name: "got", Kind: text.Name}, text.Slot{Name: "want", Kind: text.Name})
	ruleEnum         = text.NewRule("sheet.not_a_choice", text.Slot{Name: "got", Kind: text.Name}, text.Slot{Name: "want", Kind: text.Name})
	ruleShape        = text.NewRule("sheet.shape", text.Slot{Name: "problem", Kind: text.Name})
)

// Schema is the JSON Schema of a resolved sheet, made from the Go types.
func Schema() []byte {
	r := &invopop.Reflector{Anonymous: true}
	s := r.Reflect(&machine.Sheet{})
	s.ID = "urn:vespers:sheet:1"
	s.Title = machine.Format
	s.Description = "A resolved machine sheet: kits flattened, overrides applied."
	out, err := json.MarshalIndent(s, "", "  ")
	if err != nil {
		panic(err)
	}
	return append(out, '\n')
}

var compiled = sync.OnceValue(func() *jsonschema.Schema {
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(Schema()))
	if err != nil {
		panic(err)
	}
	c := jsonschema.NewCompiler()
	if err := c.AddResource("urn:vespers:sheet:1", doc); err != nil {
		panic(err)
	}
	return c.MustCompile("urn:vespers:sheet:1")
})

// shape checks a resolved document against the schema.
func shape(root *node) []machine.Problem {
	err := compiled().Validate(root.plain())
	if err == nil {
		return nil
	}
	var out []machine.Problem
	var visit func(e *jsonschema.ValidationError)
	visit = func(e *jsonschema.ValidationError) {
		if len(e.Causes) > 0 {
			for _, c := range e.Causes {
				visit(c)
			}
			return
		}
		path := make([]any, len(e.InstanceLocation))
		for i, p := range e.InstanceLocation {
			path[i] = p
		}
		out = append(out, machine.Problem{Pointer: machine.Pointer(path...), Reason: shapeReason(e)})
	}
	visit(err.(*jsonschema.ValidationError))
	return out
}

func shapeReason(e *jsonschema.ValidationError) text.Reason {
	switch k := e.ErrorKind.(type) {
	case *kind.AdditionalProperties:
		return ruleUnknownField.Says(strings.Join(k.Properties, ", "))
	case *kind.Required:
		names := strings.Join(k.Missing, ", ")
		if names == "es" || names == "en" {
			return ruleLanguage.Says(names)
		}
		return ruleRequired.Says(names)
	case *kind.MinLength:
		if last := e.InstanceLocation[len(e.InstanceLocation)-1]; last == "es" || last == "en" {
			return ruleLanguage.Says(last)
		}
	case *kind.Type:
		return ruleType.Says(k.Got, strings.Join(k.Want, ", "))
	case *kind.Enum:
		var want []string
		for _, w := range k.Want {
			want = append(want, fmt.Sprint(w))
		}
		return ruleEnum.Says(fmt.Sprint(k.Got), strings.Join(want, ", "))
	}
	return ruleShape.Says(e.ErrorKind.LocalizedString(message.NewPrinter(language.English)))
}
