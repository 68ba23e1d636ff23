import { z } from "zod";
import { mediaHref } from "../../core/pages";
import { creditFor } from "../../core/partners";
import { Media, Partner, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { mustBeAllowed, Refusal, required } from "../platform";
import type { LaunchContext } from "../launch";

export const wordRequest = z.object({
  partner: z.uuid(),
  name: z.string().trim().max(80, "80 characters at most."),
  note: z.string().trim().max(600, "600 characters at most."),
  media: z.uuid().nullable(),
});

/** What the pages of a launch say in a partner's name. An empty note takes it away. */
export const setPartnerWord = async (
  em: EntityManager,
  user: DeskUser,
  launchId: string,
  { partner: id, name, note, media }: z.infer<typeof wordRequest>,
  now: Date,
): Promise<void> => {
  mustBeAllowed(user, "partner.edit");
  const partner = required(await em.findOne(Partner, { id }), "partner");
  if (media && !(await em.findOne(Media, { id: media, kind: "picture" })))
    throw new Refusal(422, "fields", "Nothing was changed.", { media: "This picture is not there any more." });
  if (!note) return void (await em.execute("delete from partner_word where launch_id = ? and partner_id = ?", [launchId, id]));
  await em.execute(
    `insert into partner_word (launch_id, partner_id, name, note, media_id, at) values (?, ?, ?, ?, ?, ?)
     on conflict (launch_id, partner_id) do update set name = excluded.name, note = excluded.note, media_id = excluded.media_id, at = excluded.at`,
    [launchId, id, name || partner.name, note, media, now],
  );
};

/** A partner's word as a page shows it. */
export interface PartnerWord {
  name: string;
  note: string;
  picture?: string;
}

/** The partner who would be credited if this visitor ordered now. */
const creditedPartner = async (em: EntityManager, { launch }: LaunchContext, visitorId: string, now: Date): Promise<string | undefined> => {
  const touches = await em.execute<{ id: string; partner_id: string; at: string }[]>(
    "select t.id, t.partner_id, t.at from visitor v join touch_person tp on tp.person_id = v.person_id join touch t on t.id = tp.touch_id where v.id = ? and t.launch_id = ?",
    [visitorId, launch.id],
  );
  const seen = touches.map((touch) => ({ id: touch.id, partnerId: touch.partner_id, partnerName: "", at: new Date(touch.at) }));
  return creditFor(seen, now, launch.creditWindowDays).partnerId;
};

/** The word of the partner who sent this visitor, where there is one. */
export const partnerWordFor = async (
  em: EntityManager,
  context: LaunchContext,
  visitorId: string | undefined,
  now: Date,
): Promise<PartnerWord | undefined> => {
  const partner = visitorId && (await creditedPartner(em, context, visitorId, now));
  return partner ? partnerWord(em, context.launch.id, partner) : undefined;
};

/** The code of the partner who sent this visitor. */
export const partnerCodeFor = async (em: EntityManager, context: LaunchContext, visitorId: string, now: Date): Promise<string | undefined> => {
  const id = await creditedPartner(em, context, visitorId, now);
  return id ? (await em.findOne(Partner, { id }))?.code : undefined;
};

/** The word of a partner on a launch's pages. */
const partnerWord = async (em: EntityManager, launchId: string, partnerId: string): Promise<PartnerWord | undefined> => {
  const [row] = await em.execute<{ name: string; note: string; media_id: string | null }[]>(
    "select name, note, media_id from partner_word where launch_id = ? and partner_id = ?",
    [launchId, partnerId],
  );
  if (!row) return undefined;
  const media = row.media_id ? await em.findOne(Media, { id: row.media_id }) : null;
  return { name: row.name, note: row.note, ...(media ? { picture: mediaHref(media, `${media.widths[0]!}.webp`) } : {}) };
};
