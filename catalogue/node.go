package catalogue

// YAML as it was written, with its places, so that a problem can be shown where
// it stands.

import (
	"bytes"
	"errors"
	"slices"
	"strconv"
	"strings"

	"github.com/goccy/go-yaml/ast"
	"github.com/goccy/go-yaml/parser"
)

// node is a piece of YAML that remembers where it was written, so that a
// problem found in a resolved sheet can be told by file and line.
type node struct {
	file    string
	line    int
	keys    []string // of a mapping, in order
	fields  map[string]*node
	items   []*node
	scalar  any
	mapping bool
	list    bool
}

// The most that a sheet may be, in bytes, and the deepest that one may be
// nested in brackets: what is beyond is no sheet, and reading it takes long.
const (
	sheetMost    = 1 << 20
	bracketsMost = 40
)

var (
	errTooLarge = errors.New("a sheet has at most 1 MB")
	errTooDeep  = errors.New("brackets are nested more than 40 deep")
)

// parse reads one YAML document, with or without the mark that some editors put
// before it.
func parse(file string, data []byte) (*node, error) {
	data = bytes.TrimPrefix(data, []byte("\ufeff"))
	if len(data) > sheetMost {
		return nil, errTooLarge
	}
	depth := 0
	for _, b := range data {
		switch b {
		case '[', '{':
			depth++
		case ']', '}':
			depth = max(0, depth-1)
		}
		if depth > bracketsMost {
			return nil, errTooDeep
		}
	}
	f, err := parser.ParseBytes(data, 0)
	if err != nil {
		return nil, err
	}
	if len(f.Docs) == 0 || f.Docs[0].Body == nil {
		return &node{file: file, line: 1, mapping: true, fields: map[string]*node{}}, nil
	}
	return build(file, f.Docs[0].Body), nil
}

func build(file string, n ast.Node) *node {
	out := &node{file: file, line: n.GetToken().Position.Line}
	switch n := n.(type) {
	case *ast.MappingNode:
		out.mapping, out.fields = true, map[string]*node{}
		for _, v := range n.Values {
			out.put(v.Key.GetToken().Value, build(file, v.Value))
			out.fields[v.Key.GetToken().Value].line = v.Key.GetToken().Position.Line
		}
		if len(n.Values) > 0 {
			out.line = n.Values[0].Key.GetToken().Position.Line
		}
	case *ast.MappingValueNode:
		out.mapping, out.fields = true, map[string]*node{}
		out.put(n.Key.GetToken().Value, build(file, n.Value))
		out.line = n.Key.GetToken().Position.Line
	case *ast.SequenceNode:
		out.list = true
		for _, v := range n.Values {
			out.items = append(out.items, build(file, v))
		}
	case *ast.TagNode:
		return build(file, n.Value)
	case ast.ScalarNode:
		out.scalar = n.GetValue()
	}
	return out
}

func (n *node) put(key string, value *node) {
	if _, ok := n.fields[key]; !ok {
		n.keys = append(n.keys, key)
	}
	n.fields[key] = value
}

// drop takes a field out.
func (n *node) drop(key string) {
	delete(n.fields, key)
	n.keys = slices.DeleteFunc(n.keys, func(k string) bool { return k == key })
}

// null reports whether nothing stands here: what is overridden with null is
// taken out.
func (n *node) null() bool { return !n.mapping && !n.list && n.scalar == nil }

// plain is the node as maps, slices and scalars.
func (n *node) plain() any {
	switch {
	case n.mapping:
		out := make(map[string]any, len(n.fields))
		for k, v := range n.fields {
			out[k] = v.plain()
		}
		return out
	case n.list:
		out := make([]any, len(n.items))
		for i, v := range n.items {
			out[i] = v.plain()
		}
		return out
	}
	switch v := n.scalar.(type) {
	case int64:
		return float64(v)
	case uint64:
		return float64(v)
	}
	return n.scalar
}

// at finds the node a JSON pointer leads to, or the deepest one on the way
// that exists.
func (n *node) at(pointer string) *node {
	here := n
	for _, part := range strings.Split(strings.TrimPrefix(pointer, "/"), "/") {
		part = strings.NewReplacer("~1", "/", "~0", "~").Replace(part)
		var next *node
		if here.mapping {
			next = here.fields[part]
		} else if i, err := strconv.Atoi(part); err == nil && here.list && i < len(here.items) {
			next = here.items[i]
		}
		if next == nil {
			break
		}
		here = next
	}
	return here
}

// named is a JSON pointer with the ids of things in the place of their numbers.
func (n *node) named(pointer string) string {
	here, out := n, ""
	for _, part := range strings.Split(strings.TrimPrefix(pointer, "/"), "/") {
		name := part
		var next *node
		if here != nil && here.mapping {
			next = here.fields[part]
		} else if i, err := strconv.Atoi(part); err == nil && here != nil && here.list && i < len(here.items) {
			next = here.items[i]
			if id := next.id(); id != "" {
				name = id
			}
		}
		out += "/" + name
		here = next
	}
	return out
}

// merge lays over on top of n: mappings key by key, lists of things with an id
// by id where over is a mapping of ids, everything else replaced; null takes a
// field or a thing out. It reports the names that n does not have.
func (n *node) merge(over *node) (unknown []*node) {
	switch {
	case n.mapping && over.mapping:
		n.file, n.line = over.file, over.line
		for _, k := range over.keys {
			mine, ok := n.fields[k]
			switch {
			case over.fields[k].null() && ok:
				n.drop(k)
				continue
			case over.fields[k].null():
				missing := *over.fields[k]
				missing.scalar = k
				unknown = append(unknown, &missing)
				continue
			case !ok || !over.fields[k].mapping:
				n.put(k, over.fields[k])
				continue
			}
			unknown = append(unknown, mine.merge(over.fields[k])...)
		}
	case n.list && over.mapping:
		for _, id := range over.keys {
			item := n.byID(id)
			if item == nil {
				missing := *over.fields[id]
				missing.scalar = id
				unknown = append(unknown, &missing)
				continue
			}
			if over.fields[id].null() {
				n.items = slices.DeleteFunc(n.items, func(i *node) bool { return i == item })
				continue
			}
			unknown = append(unknown, item.merge(over.fields[id])...)
		}
	default:
		*n = *over
	}
	return unknown
}

func (n *node) byID(id string) *node {
	for _, item := range n.items {
		if item.id() == id {
			return item
		}
	}
	return nil
}

func (n *node) id() string {
	if f := n.fields["id"]; f != nil {
		s, _ := f.scalar.(string)
		return s
	}
	return ""
}

// copy is a deep copy, so that a kit can be used in many sheets.
func (n *node) copy() *node {
	out := *n
	if n.mapping {
		out.keys = append([]string(nil), n.keys...)
		out.fields = make(map[string]*node, len(n.fields))
		for k, v := range n.fields {
			out.fields[k] = v.copy()
		}
	}
	out.items = nil
	for _, v := range n.items {
		out.items = append(out.items, v.copy())
	}
	return &out
}
