package procedure

// The expressions of hazards: comparisons of facts, of the answer, and of what was
// waited for, joined by && before ||, with ! and parentheses.

import (
	"fmt"
	"strings"
	"unicode"
)

// expression is a parsed one.
type expression struct {
	kind  byte // '&', '|', '!', '=' a comparison, 'w' waited
	terms []expression
	name  string   // the fact, or "answer"
	is    []string // any of these
}

// answerNames are what a step is answered with.
var answerNames = []string{"done", "waited", "yes", "no", "within", "past"}

// parse reads an expression.
func parse(s string) (expression, error) {
	p := parser{text: s}
	p.next()
	e, err := p.or()
	if err == nil && p.token != "" {
		err = fmt.Errorf("%q is too much", p.token)
	}
	return e, err
}

type parser struct {
	text  string
	token string
}

// next reads a word, an operator or a mark.
func (p *parser) next() {
	p.text = strings.TrimLeftFunc(p.text, unicode.IsSpace)
	n := 0
	for n < len(p.text) && (p.text[n] == '_' || p.text[n] >= 'a' && p.text[n] <= 'z' || p.text[n] >= '0' && p.text[n] <= '9') {
		n++
	}
	if n == 0 {
		for _, operator := range []string{"==", "!=", "&&", "||"} {
			if strings.HasPrefix(p.text, operator) {
				n = 2
			}
		}
		if n == 0 && p.text != "" {
			n = len(string([]rune(p.text)[:1]))
		}
	}
	p.token, p.text = p.text[:n], p.text[n:]
}

func word(s string) bool {
	return s != "" && (s[0] >= 'a' && s[0] <= 'z' || s[0] == '_' || s[0] >= '0' && s[0] <= '9')
}

func (p *parser) take(token string) error {
	if p.token != token {
		if p.token == "" {
			return fmt.Errorf("%q is missing at the end", token)
		}
		return fmt.Errorf("%q stands where %q should", p.token, token)
	}
	p.next()
	return nil
}

func (p *parser) name() (string, error) {
	name := p.token
	if !word(name) {
		return "", fmt.Errorf("a word is missing before %q", name+p.text)
	}
	p.next()
	return name, nil
}

func (p *parser) or() (expression, error)  { return p.list("||", '|', p.and) }
func (p *parser) and() (expression, error) { return p.list("&&", '&', p.not) }

func (p *parser) list(operator string, kind byte, part func() (expression, error)) (expression, error) {
	first, err := part()
	if err != nil || p.token != operator {
		return first, err
	}
	all := expression{kind: kind, terms: []expression{first}}
	for p.token == operator {
		p.next()
		term, err := part()
		if err != nil {
			return all, err
		}
		all.terms = append(all.terms, term)
	}
	return all, nil
}

func (p *parser) not() (expression, error) {
	switch p.token {
	case "!":
		p.next()
		e, err := p.not()
		return expression{kind: '!', terms: []expression{e}}, err
	case "(":
		p.next()
		e, err := p.or()
		if err != nil {
			return e, err
		}
		return e, p.take(")")
	}
	return p.comparison()
}

func (p *parser) comparison() (e expression, err error) {
	if e.name, err = p.name(); err != nil {
		return e, err
	}
	e.kind = '='
	switch p.token {
	case "==", "!=":
		unequal := p.token == "!="
		p.next()
		is, err := p.name()
		if e.is = []string{is}; unequal {
			e = expression{kind: '!', terms: []expression{e}}
		}
		return e, err
	case "in":
		p.next()
		if err = p.take("("); err != nil {
			return e, err
		}
		for {
			is, err := p.name()
			if err != nil {
				return e, err
			}
			if e.is = append(e.is, is); p.token != "," {
				return e, p.take(")")
			}
			p.next()
		}
	case "(":
		if e.name != "waited" {
			return e, fmt.Errorf("%q is no function; there is waited(fact=value)", e.name)
		}
		p.next()
		e.kind = 'w'
		if e.name, err = p.name(); err != nil {
			return e, err
		}
		if err = p.take("="); err != nil {
			return e, err
		}
		is, err := p.name()
		if err != nil {
			return e, err
		}
		e.is = []string{is}
		return e, p.take(")")
	}
	return e, fmt.Errorf("after %q there must be ==, != or in", e.name)
}

// each calls see with every comparison of the expression.
func (e expression) each(see func(expression)) {
	if e.kind == '=' || e.kind == 'w' {
		see(e)
	}
	for _, t := range e.terms {
		t.each(see)
	}
}

// test is an expression that has been fitted to the facts of a machine.
type test struct {
	kind  byte // as of expression; 'a' compares the answer
	terms []test
	fact  int
	any   uint64 // a bit for each value that will do
	since value  // of 'w'
}

// moment is what a test is held against: how facts stand after an answer, the
// answer, and the wait that was over when it was given.
type moment struct {
	after  world
	answer answer
	waited *value
}

// fit turns an expression into a test; it fails at a name that the machine has not.
func (l *layout) fit(e expression) (t test, unknown string) {
	t.kind = e.kind
	for _, term := range e.terms {
		fitted, unknown := l.fit(term)
		if unknown != "" {
			return t, unknown
		}
		t.terms = append(t.terms, fitted)
	}
	switch e.kind {
	case '=', 'w':
		for _, is := range e.is {
			if e.name == "answer" && e.kind == '=' {
				a, ok := answerOf(is)
				if !ok {
					return t, "answer == " + is
				}
				t.kind = 'a'
				t.any |= 1 << a
				continue
			}
			v, ok := l.lookup(e.name, is)
			if !ok {
				if !l.has(e.name) {
					return t, e.name
				}
				return t, e.name + " == " + is
			}
			t.fact, t.since = v.fact, v
			t.any |= 1 << v.is
		}
	}
	return t, ""
}

// holds reports whether a test is true at a moment.
func (t *test) holds(l *layout, m *moment) bool {
	switch t.kind {
	case '&':
		for i := range t.terms {
			if !t.terms[i].holds(l, m) {
				return false
			}
		}
		return true
	case '|':
		for i := range t.terms {
			if t.terms[i].holds(l, m) {
				return true
			}
		}
		return false
	case '!':
		return !t.terms[0].holds(l, m)
	case 'a':
		return t.any>>m.answer&1 == 1
	case 'w':
		return m.waited != nil && *m.waited == t.since
	}
	return t.any>>l.get(m.after, t.fact)&1 == 1
}
