// Package yard is the one gate through which everything that is recorded goes:
// the crew, the machines, their defects and what is said in outings.
//
// A person says a Command; Decide looks at the yard through a View and answers
// with the events to be recorded, each whole, or with a *record.Refused. Who may
// say what is a rule of package operator and is asked here. The package changes
// nothing and knows no database: State is the same yard in memory.
package yard
