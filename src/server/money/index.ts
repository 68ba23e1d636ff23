/** The ledger: journals whose postings sum to zero. */

export { book, journalRows } from "./book";
