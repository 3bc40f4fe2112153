// Package grade judges one machine from a written case: what was found now, what it
// carries, what came before, and what it is meant for today. It is the grading of an
// outing without the outing, for a file, for tables of worked findings and for tests.
package grade
