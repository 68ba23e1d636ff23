import type { Fault, Faults, RefusalCode, RefusalData, Thing } from "../../core/words";

/** The HTTP status of each refusal; what is not named here stands against the state of things (409). */
const statuses: Partial<Record<RefusalCode, number>> = {
  odd_address: 400,
  not_a_form: 400,
  not_text: 400,
  not_json: 400,
  unreadable_header: 400,
  signed_out: 401,
  stale_notice: 401,
  bad_signature: 401,
  not_allowed: 403,
  wrong_origin: 403,
  link_over: 403,
  not_found: 404,
  no_page: 404,
  no_pages_here: 404,
  sells_nothing: 404,
  method: 405,
  too_large: 413,
  takes_a_form: 415,
  condition: 422,
  fields: 422,
  wrong_login: 422,
  too_many: 429,
};

/**
 * A request that is refused: why, and per field where a field is at fault. It carries data alone; sentences are made of it where somebody reads
 * them, in their language (`core/words`).
 */
export class Refusal extends Error {
  override name = "Refusal";
  constructor(
    readonly data: RefusalData,
    readonly faults: Readonly<Faults> = {},
  ) {
    super(data.code);
  }
  get code(): RefusalCode {
    return this.data.code;
  }
  get status(): number {
    return statuses[this.code] ?? 409;
  }
}

type Outcome = Extract<RefusalData, { code: "fields" }>["outcome"];

/** The refusal of a request whose fields are wrong, and what did not happen because of them. */
export const wrongFields = (outcome: Outcome, faults: Readonly<Faults>): Refusal => new Refusal({ code: "fields", outcome }, faults);

/** The same of one field. */
export const wrongField = (outcome: Outcome, field: string, fault: Fault): Refusal => wrongFields(outcome, { [field]: fault });

/** The row, or a 404 that names what was looked for. */
export const required = <T>(row: T | null | undefined, what: Thing): T => {
  if (row === null || row === undefined) throw new Refusal({ code: "not_found", what });
  return row;
};
