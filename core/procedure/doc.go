// Package procedure computes with what is done to a machine in steps: fuelling,
// starting, working, stopping, cleaning, and what is done when something happens.
//
// Steps stand over facts (how the engine, the cap, the cutter, the people round
// it stand): a step needs some and makes others. What must never happen is
// written once, as hazards over the same facts, and Check follows every way
// through every procedure of a sheet, with every answer, everybody leaving and
// every event at every moment, and shows that none reaches one. So a new machine
// is data, and its order of steps is proved and not only written.
//
// The order of the files: fact and expression are the words; house and hazard the
// published lists; problem finds what is wrong in a sheet; model makes it ready to
// compute with, for one way of its options and house rules; turn says what may be
// answered and what an answer does; explore and guard are Check; plan is Plan.
package procedure
