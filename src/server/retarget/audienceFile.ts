import { createHash } from "node:crypto";
import { normaliseEmail } from "../../core/people";
import { audiences, type Audience } from "../../core/retarget";
import type { DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { audienceAddresses } from "../../store/people/find/audienceByCountry";
import { csvResponse, mustBeAllowed, required } from "../platform";
import { deskLaunch } from "../launch";

/** SHA-256 (FIPS 180-4) of a normalised address, in hex. */
export const hashAddress = (email: string): string => createHash("sha256").update(normaliseEmail(email)).digest("hex");

const atOnce = 20_000;

async function* batches(em: EntityManager, scope: { launchId: string; now: Date }, audience: Audience): AsyncGenerator<Record<string, unknown>[]> {
  for (let after = ""; ;) {
    const rows = await audienceAddresses(em, scope, audience, atOnce, after);
    if (rows.length > 0) yield rows.map(({ email, country }) => ({ email_sha256: hashAddress(email), country: country ?? "" }));
    if (rows.length < atOnce) return;
    after = rows.at(-1)!.email;
  }
}

/** An audience of a launch as a CSV file: hashed address and country. */
export const audienceFile = async (
  em: EntityManager,
  user: DeskUser,
  slug: string | undefined,
  key: string | undefined,
  now: Date,
): Promise<Response> => {
  mustBeAllowed(user, "audience.export");
  const { launch } = await deskLaunch(em, slug);
  const audience = required(
    audiences.find((one) => one.key === key),
    "audience",
  );
  return csvResponse(`${launch.slug}-${audience.key}.csv`, ["email_sha256", "country"], batches(em, { launchId: launch.id, now }, audience));
};
