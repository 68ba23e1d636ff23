/** A request that is refused: what happened in one sentence, and per field where a field is at fault. */
export class Refusal extends Error {
  override name = "Refusal";
  constructor(
    readonly status: 400 | 401 | 403 | 404 | 405 | 409 | 413 | 415 | 422 | 429,
    readonly code: string,
    message: string,
    readonly fields: Record<string, string> = {},
    /** What else a program that reads the refusal needs to know. */
    readonly more: { permission?: string; retryAfterSeconds?: number } = {},
  ) {
    super(message);
  }
}

/** The row, or a 404 that names what was looked for. */
export const required = <T>(row: T | null | undefined, what: string): T => {
  if (row === null || row === undefined) throw new Refusal(404, "not_found", `There is no such ${what}.`);
  return row;
};
