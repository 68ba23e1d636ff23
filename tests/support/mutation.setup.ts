import fc from "fast-check";

// A broken line is met by a few cases or by none: a hundred for each of some thousand mutants would take hours.
// A property that asks for more runs by itself is ended by the time.
fc.configureGlobal({ numRuns: 25, interruptAfterTimeLimit: 500, markInterruptAsFailure: false });
