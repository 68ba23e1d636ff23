import fc from "fast-check";

// A broken line is met by a few cases or by none: a hundred for each of some thousand mutants would take hours.
fc.configureGlobal({ numRuns: 25 });
