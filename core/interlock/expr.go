// Package interlock computes with a machine's safety circuit: which effects
// (cranking, running, moving) its permits allow in every state of the
// switches, which contact faults are dangerous, and the smallest round of
// tests that shows every one of them that can be shown.
package interlock

import (
	"fmt"
	"strings"
)

// Expr is a Boolean expression over switches; a name is true when the switch
// is made. String prints it so that Parse reads the same expression back.
type Expr interface {
	fmt.Stringer
	// Eval gives the truth for the given switch positions.
	Eval(made func(name string) bool) bool
	// precedence orders printing: or 1, and 2, not 3, leaf 4.
	precedence() int
}

// Name is a switch, true when made.
type Name string

// Const is true or false.
type Const bool

// Not is the negation of X.
type Not struct{ X Expr }

// And is true when every term is.
type And struct{ Terms []Expr }

// Or is true when some term is.
type Or struct{ Terms []Expr }

// Eval implements Expr.
func (e Name) Eval(made func(string) bool) bool { return made(string(e)) }

// Eval implements Expr.
func (e Const) Eval(func(string) bool) bool { return bool(e) }

// Eval implements Expr.
func (e Not) Eval(made func(string) bool) bool { return !e.X.Eval(made) }

// Eval implements Expr.
func (e And) Eval(made func(string) bool) bool {
	for _, t := range e.Terms {
		if !t.Eval(made) {
			return false
		}
	}
	return true
}

// Eval implements Expr.
func (e Or) Eval(made func(string) bool) bool {
	for _, t := range e.Terms {
		if t.Eval(made) {
			return true
		}
	}
	return false
}

func (e Name) precedence() int  { return 4 }
func (e Const) precedence() int { return 4 }
func (e Not) precedence() int   { return 3 }
func (e And) precedence() int   { return 2 }
func (e Or) precedence() int    { return 1 }

func (e Name) String() string { return string(e) }
func (e Const) String() string {
	if e {
		return "true"
	}
	return "false"
}
func (e Not) String() string { return "!" + within(e.X, 3) }
func (e And) String() string { return join(e.Terms, " && ", 2) }
func (e Or) String() string  { return join(e.Terms, " || ", 1) }

func join(terms []Expr, operator string, precedence int) string {
	parts := make([]string, len(terms))
	for i, t := range terms {
		parts[i] = within(t, precedence+1)
	}
	return strings.Join(parts, operator)
}

func within(e Expr, least int) string {
	if e.precedence() < least {
		return "(" + e.String() + ")"
	}
	return e.String()
}

// SyntaxError says where an expression cannot be read. Offset counts bytes
// from 0.
type SyntaxError struct {
	Offset int
	Got    string // what stands there, "" at the end
}

func (e *SyntaxError) Error() string {
	if e.Got == "" {
		return "expression ends where a switch or ( should follow"
	}
	return fmt.Sprintf("cannot read %q at column %d", e.Got, e.Offset+1)
}

// Parse reads an expression: names, true, false, !, && (binds tighter), || and
// parentheses. The error is a *SyntaxError.
func Parse(source string) (Expr, error) {
	p := &parser{source: source}
	p.next()
	e, err := p.or()
	if err == nil && p.token != "" {
		err = p.wrong()
	}
	if err != nil {
		return nil, err
	}
	return e, nil
}

// deepest is how far an expression may be nested: far beyond what anybody
// writes, and far from what the stack holds.
const deepest = 100

type parser struct {
	source string
	depth  int
	pos    int // after the token
	start  int // of the token
	token  string
}

func (p *parser) next() {
	for p.pos < len(p.source) && strings.IndexByte(" \t\r\n", p.source[p.pos]) >= 0 {
		p.pos++
	}
	p.start = p.pos
	switch {
	case p.pos == len(p.source):
	case strings.HasPrefix(p.source[p.pos:], "&&"), strings.HasPrefix(p.source[p.pos:], "||"):
		p.pos += 2
	case isName(p.source[p.pos]):
		for p.pos < len(p.source) && isName(p.source[p.pos]) {
			p.pos++
		}
	default:
		p.pos++
	}
	p.token = p.source[p.start:p.pos]
}

func isName(b byte) bool {
	return b == '_' || 'a' <= b && b <= 'z' || 'A' <= b && b <= 'Z' || '0' <= b && b <= '9'
}

func (p *parser) wrong() error { return &SyntaxError{Offset: p.start, Got: p.token} }

func (p *parser) or() (Expr, error) {
	return p.chain("||", (*parser).and, func(t []Expr) Expr { return Or{t} })
}

func (p *parser) and() (Expr, error) {
	return p.chain("&&", (*parser).unary, func(t []Expr) Expr { return And{t} })
}

// chain reads terms separated by one operator.
func (p *parser) chain(operator string, term func(*parser) (Expr, error), build func([]Expr) Expr) (Expr, error) {
	first, err := term(p)
	if err != nil {
		return nil, err
	}
	terms := []Expr{first}
	for p.token == operator {
		p.next()
		t, err := term(p)
		if err != nil {
			return nil, err
		}
		terms = append(terms, t)
	}
	if len(terms) == 1 {
		return first, nil
	}
	return build(terms), nil
}

func (p *parser) unary() (Expr, error) {
	if p.depth++; p.depth > deepest {
		return nil, p.wrong()
	}
	defer func() { p.depth-- }()
	switch {
	case p.token == "!":
		p.next()
		x, err := p.unary()
		if err != nil {
			return nil, err
		}
		return Not{x}, nil
	case p.token == "(":
		p.next()
		e, err := p.or()
		if err != nil {
			return nil, err
		}
		if p.token != ")" {
			return nil, p.wrong()
		}
		p.next()
		return e, nil
	case p.token == "true" || p.token == "false":
		e := Const(p.token == "true")
		p.next()
		return e, nil
	case p.token != "" && p.token[0] >= 'a' && p.token[0] <= 'z' && isName(p.token[0]):
		e := Name(p.token)
		p.next()
		return e, nil
	}
	return nil, p.wrong()
}

// names adds the switches that e names to set.
func names(e Expr, set map[string]bool) {
	switch e := e.(type) {
	case Name:
		set[string(e)] = true
	case Not:
		names(e.X, set)
	case And:
		for _, t := range e.Terms {
			names(t, set)
		}
	case Or:
		for _, t := range e.Terms {
			names(t, set)
		}
	}
}
