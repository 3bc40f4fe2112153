package machine

// Procedures and events of a sheet, as data: steps over facts. What they mean,
// and that no way through them does harm, is in core/procedure.

import "vespers/core/text"

// Facts is how facts stand, or how something makes them stand: a value each.
type Facts map[string]string

// Needs is what facts have to be: one value, or one of several.
type Needs map[string]Names

// Procedure is what is done with a machine in steps: fuelling, starting, working,
// stopping.
type Procedure struct {
	ID string `json:"id" jsonschema:"enum=fuel,enum=charge,enum=start,enum=work,enum=shutdown,enum=clean,enum=clear,enum=grease,enum=service,enum=backlap,enum=store,enum=load,enum=unload"`
	// Begin is when it may be begun; none is always.
	Begin Needs  `json:"begin,omitempty"`
	Steps []Step `json:"steps" jsonschema:"minItems=1"`
}

// Event is something that happens to a machine or near it, and what is done then,
// the first act first.
type Event struct {
	ID   string    `json:"id" jsonschema:"pattern=^[a-z][a-z0-9_]*$"`
	Name text.Text `json:"name,omitzero"`
	// Occurs is when it can happen; none is always.
	Occurs Needs `json:"occurs,omitempty"`
	// World is what happened, not done by anybody.
	World Facts `json:"world,omitempty"`
	// After is what the machine is from the event's first moment on; left out, on.
	After string `json:"after,omitempty" jsonschema:"enum=on,enum=wait,enum=return_only,enum=halt"`
	// Look are the points that are looked over before it may go on: found sound, what
	// the event left against the machine is gone.
	Look Names `json:"look,omitempty"`
	// Accepts names hazards of walking away that count less than the flight.
	Accepts []string `json:"accepts,omitempty"`
	Steps   []Step   `json:"steps" jsonschema:"minItems=1"`
}

// The kinds of answer that a step takes.
const (
	AnswerDone      = "done"
	AnswerWait      = "wait"
	AnswerYesNo     = "yes_no"
	AnswerReading   = "reading"
	AnswerStopwatch = "stopwatch"
)

// Step is one step of a procedure or event.
type Step struct {
	ID     string     `json:"id" jsonschema:"pattern=^[a-z][a-z0-9_]*$"`
	Do     text.Text  `json:"do"`
	Why    *text.Text `json:"why,omitempty"`
	Hazard *text.Text `json:"hazard,omitempty"`
	// Spot is where it is done: a station or place of the drawing.
	Spot string `json:"spot,omitempty"`
	// When it does not hold, the step is passed over.
	When Needs `json:"when,omitempty"`
	// Needs must all hold before it is offered.
	Needs Needs `json:"needs,omitempty"`
	Wait  *Wait `json:"wait,omitempty"`
	// Answer is how it is answered; left out, by "done".
	Answer string `json:"answer,omitempty" jsonschema:"enum=done,enum=wait,enum=yes_no,enum=reading,enum=stopwatch"`
	Makes  Facts  `json:"makes,omitempty"`
	No     *No    `json:"no,omitempty"`
	// If says with which ways of options the step is there.
	If If `json:"if,omitempty"`
	// School says with which house rule it is there.
	School *School `json:"school,omitempty"`
	// Numbers are those of the sheet that it is done by, shown with it.
	Numbers Names `json:"numbers,omitempty"`
	// Test: it is part of a proof, and may do what otherwise comes after it.
	Test bool `json:"test,omitempty"`
	// Ask: it is never passed over because it is true already.
	Ask string `json:"ask,omitempty" jsonschema:"enum=always"`
	// Seconds is what it takes, for the plan; left out, 15.
	Seconds *float64 `json:"seconds,omitempty" jsonschema:"minimum=0,maximum=3600"`
}

// Wait is a time that has to be over since a fact was last set to a value: one of
// the sheet's numbers, or seconds.
type Wait struct {
	Parameter string  `json:"parameter,omitempty"`
	Seconds   float64 `json:"seconds,omitempty" jsonschema:"exclusiveMinimum=0,maximum=86400"`
	Since     Facts   `json:"since" jsonschema:"minProperties=1,maxProperties=1"`
}

// No is what an answer does that is not the good one.
type No struct {
	// Then is where it leads: stay, next, stop, back:STEP or event:EVENT.
	Then    string       `json:"then" jsonschema:"pattern=^(stay|next|stop|back:[a-z][a-z0-9_]*|event:[a-z][a-z0-9_]*)$"`
	Makes   Facts        `json:"makes,omitempty"`
	Finding *StepFinding `json:"finding,omitempty"`
}

// StepFinding is the fault of a point that an answer finds.
type StepFinding struct {
	Check string `json:"check"`
	Fault string `json:"fault"`
}

// School is a choice of a house rule.
type School struct {
	Question string `json:"question"`
	Choice   string `json:"choice"`
}

// SheetHazard is what must never happen with this machine, besides what must
// never happen with any.
type SheetHazard struct {
	ID string `json:"id" jsonschema:"pattern=^[a-z][a-z0-9_]*$"`
	// At names a fact, or a fact and a value (metal=cool): judged only where an
	// answer sets it.
	At string `json:"at,omitempty"`
	// When is the expression over facts that must never be true.
	When string `json:"when"`
	// House names a house rule and its choice (clearing=lead_off) under which it is
	// one.
	House  string    `json:"house,omitempty"`
	Harm   text.Text `json:"harm"`
	Source Source    `json:"source" jsonschema:"enum=local_code,enum=manual,enum=house_rule,enum=trade_practice"`
	Text   text.Text `json:"text"`
}
