package strict_test

import (
	"errors"
	"math"
	"slices"
	"strings"
	"testing"

	"vespers/core/record"
	"vespers/core/strict"
)

// refusedBy is the rule that a file was refused by, and the first thing that it speaks
// about.
func refusedBy(err error) (rule, about string) {
	var refused *record.Refused
	if !errors.As(err, &refused) {
		return "", ""
	}
	if len(refused.Reason.Args) > 0 {
		about = refused.Reason.Args[0].Plain
	}
	return string(refused.Reason.Rule), about
}

// TestFilesThatAreNone hold no single object.
func TestFilesThatAreNone(t *testing.T) {
	for text, rule := range map[string]string{
		``: "file.json", `{`: "file.json", `{"a":1`: "file.json", `{"a":}`: "file.json", `{"a":1} x`: "file.json", `{"a":1}{}`: "file.json", `{'a':1}`: "file.json",
		`[]`: "file.type", `3`: "file.type", `null`: "file.type", `"a"`: "file.type",
		`{"a":1,"a":1}`: "file.twice", `{"a":{"b":1,"b":2}}`: "file.twice", `{"a":[{"b":1,"b":2}]}`: "file.twice",
		`{}`: "", ` {"a" : [1, {"b":null}]} ` + "\n": "",
	} {
		r, o := strict.Read([]byte(text))
		if got, _ := refusedBy(r.Err); got != rule || o == nil {
			t.Errorf("%q: %q, not %q", text, got, rule)
		}
	}
	r, _ := strict.Read([]byte(`{"list":[{"in":{"x":1,"x":2}}]}`))
	if _, about := refusedBy(r.Err); about != "list[0].in" {
		t.Errorf("twice at %q", about)
	}
}

// TestWhatIsAsked of a file that does not have it so, and where.
func TestWhatIsAsked(t *testing.T) {
	const file = `{"word":"w","empty":"","number":2.5,"none":0,"below":-1,"huge":1e999,"yes":true,"null":null,"list":[1,2],"nothing":[],"words":["a",""],"numbers":[1,0],"in":{"deep":{"x":1}},"objects":[{"x":1},3]}`
	for name, c := range map[string]struct {
		ask         func(r *strict.Reader, o *strict.Object)
		rule, about string
	}{
		"a word":                {func(r *strict.Reader, o *strict.Object) { r.Word(o, "word") }, "", ""},
		"an empty word":         {func(r *strict.Reader, o *strict.Object) { r.Word(o, "empty") }, "file.missing", "empty"},
		"no word":               {func(r *strict.Reader, o *strict.Object) { r.Word(o, "gone") }, "file.missing", "gone"},
		"a number for a word":   {func(r *strict.Reader, o *strict.Object) { r.Word(o, "number") }, "file.type", "number"},
		"one of those":          {func(r *strict.Reader, o *strict.Object) { r.OneOf(o, "word", "v", "w") }, "", ""},
		"none of those":         {func(r *strict.Reader, o *strict.Object) { r.OneOf(o, "word", "v") }, "file.unknown_word", "word"},
		"a number":              {func(r *strict.Reader, o *strict.Object) { r.Needed(o, "number") }, "", ""},
		"none":                  {func(r *strict.Reader, o *strict.Object) { r.Needed(o, "none") }, "", ""},
		"none where it is some": {func(r *strict.Reader, o *strict.Object) { r.Positive(o, "none") }, "file.number", "none"},
		"no number":             {func(r *strict.Reader, o *strict.Object) { r.Needed(o, "gone") }, "file.missing", "gone"},
		"no number above 0":     {func(r *strict.Reader, o *strict.Object) { r.Positive(o, "gone") }, "file.missing", "gone"},
		"left out":              {func(r *strict.Reader, o *strict.Object) { r.Number(o, "gone") }, "", ""},
		"below 0":               {func(r *strict.Reader, o *strict.Object) { r.Number(o, "below") }, "file.number", "below"},
		"beyond all numbers":    {func(r *strict.Reader, o *strict.Object) { r.Needed(o, "huge") }, "file.number", "huge"},
		"a word for a number":   {func(r *strict.Reader, o *strict.Object) { r.Needed(o, "word") }, "file.type", "word"},
		"null for a number":     {func(r *strict.Reader, o *strict.Object) { r.Number(o, "null") }, "file.type", "null"},
		"below 0, which may be": {func(r *strict.Reader, o *strict.Object) { r.Signed(o.Value("below"), "below") }, "", ""},
		"beyond all, either":    {func(r *strict.Reader, o *strict.Object) { r.Signed(o.Value("huge"), "huge") }, "file.number", "huge"},
		"a word, either":        {func(r *strict.Reader, o *strict.Object) { r.Signed(o.Value("word"), "word") }, "file.type", "word"},
		"yes":                   {func(r *strict.Reader, o *strict.Object) { r.Yes(o, "yes") }, "", ""},
		"yes, left out":         {func(r *strict.Reader, o *strict.Object) { r.Yes(o, "gone") }, "", ""},
		"a number for yes":      {func(r *strict.Reader, o *strict.Object) { r.Yes(o, "number") }, "file.type", "number"},
		"a list":                {func(r *strict.Reader, o *strict.Object) { r.Some(o, "list") }, "", ""},
		"a list left out":       {func(r *strict.Reader, o *strict.Object) { r.List(o, "gone") }, "", ""},
		"some, left out":        {func(r *strict.Reader, o *strict.Object) { r.Some(o, "gone") }, "file.nothing", "gone"},
		"nothing in it":         {func(r *strict.Reader, o *strict.Object) { r.Some(o, "nothing") }, "file.nothing", "nothing"},
		"a word for a list":     {func(r *strict.Reader, o *strict.Object) { r.List(o, "word") }, "file.type", "word"},
		"items":                 {func(r *strict.Reader, o *strict.Object) { r.Items(o.Value("list"), "list") }, "", ""},
		"no items":              {func(r *strict.Reader, o *strict.Object) { r.Items(o.Value("gone"), "gone") }, "file.type", "gone"},
		"words":                 {func(r *strict.Reader, o *strict.Object) { r.Words(o, "words", r.List(o, "words")) }, "file.type", "words[1]"},
		"numbers":               {func(r *strict.Reader, o *strict.Object) { r.Numbers(o, "numbers", r.List(o, "numbers")) }, "file.number", "numbers[1]"},
		"objects":               {func(r *strict.Reader, o *strict.Object) { r.Objects(o, "objects", r.List(o, "objects")) }, "file.type", "objects[1]"},
		"objects of other words": {func(r *strict.Reader, o *strict.Object) {
			r.Objects(o, "objects", r.List(o, "objects")[:1], "y")
		}, "file.unknown_word", "objects[0]"},
		"an object":      {func(r *strict.Reader, o *strict.Object) { r.Object(r.Object(o, "in", "deep"), "deep", "x") }, "", ""},
		"no object":      {func(r *strict.Reader, o *strict.Object) { r.Object(o, "gone") }, "file.missing", "gone"},
		"a list for one": {func(r *strict.Reader, o *strict.Object) { r.Object(o, "list") }, "file.type", "list"},
		"deep down":      {func(r *strict.Reader, o *strict.Object) { r.Needed(r.Object(r.Object(o, "in"), "deep"), "y") }, "file.missing", "in.deep.y"},
		"of other words": {func(r *strict.Reader, o *strict.Object) { r.Known(o, "word") }, "file.unknown_word", "the file"},
		"missing":        {func(r *strict.Reader, o *strict.Object) { r.Missing(r.Object(o, "in"), "y") }, "file.missing", "in.y"},
		"there before": {func(r *strict.Reader, o *strict.Object) {
			seen := map[string]bool{}
			r.Unique(seen, "a", "x")
			r.Unique(seen, "b", "x")
			r.Unique(seen, "a", "y")
		}, "file.twice", "y"},
		"the first that is wrong": {func(r *strict.Reader, o *strict.Object) {
			r.Needed(o, "gone")
			r.Needed(o, "below")
		}, "file.missing", "gone"},
	} {
		r, o := strict.Read([]byte(file))
		c.ask(r, o)
		if rule, about := refusedBy(r.Err); rule != c.rule || c.rule != "" && about != c.about {
			t.Errorf("%s: %q at %q, not %q at %q", name, rule, about, c.rule, c.about)
		}
	}
}

// TestWhatIsRead is what stands there.
func TestWhatIsRead(t *testing.T) {
	r, o := strict.Read([]byte(`{"b":2.5,"a":"x","list":["u","v"],"numbers":[1,2.5],"yes":true,"minus":-7.25,"in":{"c":1}}`))
	if !slices.Equal(o.Words, []string{"b", "a", "list", "numbers", "yes", "minus", "in"}) || !o.Has("a") || o.Has("c") || o.Value("a") != "x" || o.Value("z") != nil {
		t.Errorf("%+v", o)
	}
	in := r.Object(o, "in", "c")
	switch {
	case r.Needed(o, "b") != 2.5, r.Positive(o, "b") != 2.5, r.Number(o, "b") != 2.5, r.Number(o, "z") != 0, r.Word(o, "a") != "x", r.OneOf(o, "a", "x") != "x",
		!slices.Equal(r.Words(o, "list", r.List(o, "list")), []string{"u", "v"}), !slices.Equal(r.Numbers(o, "numbers", r.List(o, "numbers")), []float64{1, 2.5}),
		!r.Yes(o, "yes"), r.Yes(o, "z"), math.Abs(r.Signed(o.Value("minus"), "minus")+7.25) > 0, len(r.Items(o.Value("list"), "list")) != 2, r.Needed(in, "c") != 1,
		in.At("c") != "in.c", o.At("a") != "a":
		t.Error("another thing than stands there")
	case r.Err != nil:
		t.Error(r.Err)
	}
	for want, v := range map[string]any{"null": nil, "[…]": []any{}, "{…}": o, `"x"`: "x", "2.5": o.Value("b"), "true": true} {
		if got := strict.Kind(v); got != want && !strings.Contains(got, want) {
			t.Errorf("%v is %q", v, got)
		}
	}
}
