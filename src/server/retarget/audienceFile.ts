import { createHash } from "node:crypto";
import { stringify } from "csv-stringify/sync";
import { normaliseEmail } from "../../core/people";
import type { Audience } from "../../core/retarget";
import type { EntityManager } from "../../store/orm";
import { audienceAddresses } from "../../store/reports/audienceByCountry";

/** SHA-256 (FIPS 180-4) of a normalised address, in hex. */
export const hashAddress = (email: string): string => createHash("sha256").update(normaliseEmail(email)).digest("hex");

/** The audience as CSV (RFC 4180): hashed address and country. Cells that a spreadsheet would run are neutralised. */
export const audienceFile = async (em: EntityManager, launchId: string, audience: Audience): Promise<string> => {
  const rows = await audienceAddresses(em, launchId, audience);
  return stringify(
    rows.map(({ email, country }) => [hashAddress(email), country ?? ""]),
    {
      header: true,
      columns: ["email_sha256", "country"],
      escape_formulas: true,
      record_delimiter: "windows",
    },
  );
};
