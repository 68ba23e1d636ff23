// Thousands of rows go to the database as a few arrays. As JSON, the database would take four times as long to read them as to keep them.

/** Ids as an array of PostgreSQL. */
export const uuids = (ids: readonly (string | undefined)[]): string => `{${ids.map((id) => id ?? "NULL").join(",")}}`;

/** Instants as an array of PostgreSQL. */
export const instants = (all: readonly (Date | undefined)[]): string => `{${all.map((at) => at?.toISOString() ?? "NULL").join(",")}}`;

/** What many rows have in common is sent once, and each row says which it is by its number. */
export class Dictionary<Row> {
  private readonly known = new Map<string, number>();
  private readonly entries: object[] = [];
  /** `keyOf` is the same text for rows that have the same in common, which `entryOf` tells. */
  constructor(
    private readonly keyOf: (row: Row) => string,
    private readonly entryOf: (row: Row) => object,
  ) {}

  private numberOf(row: Row): number {
    const key = this.keyOf(row);
    let n = this.known.get(key);
    if (n === undefined) {
      n = this.entries.push({ n: this.entries.length, ...this.entryOf(row) }) - 1;
      this.known.set(key, n);
    }
    return n;
  }

  /** The numbers of these rows, as an array of PostgreSQL. */
  numbers(rows: readonly Row[]): string {
    return `{${rows.map((row) => this.numberOf(row)).join(",")}}`;
  }

  /** What the numbers so far stand for, as JSON: objects with their number as `n`. */
  json(): string {
    return JSON.stringify(this.entries);
  }
}
