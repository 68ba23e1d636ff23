import type { BodyOf } from "../../contract/endpoint";
import type * as contract from "../../contract/partners";
import { touchesOfVisitor } from "../../store/partners/touches";
import { mediaHref } from "../../core/pages";
import { creditOf } from "./earn";
import { touchesOfPerson } from "../../store/partners/touchesOfPerson";
import { creditFor } from "../../core/partners";
import { Media, Partner, type DeskUser, PartnerWordRow } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { mustBeAllowed, required, wrongField } from "../platform";
import type { LaunchContext } from "../launch";

/** What the pages of a launch say in a partner's name. An empty note takes it away. */
export const setPartnerWord = async (
  em: EntityManager,
  user: DeskUser,
  launchId: string,
  { partner: id, name, note, media }: BodyOf<typeof contract.setEndorsement>,
  now: Date,
): Promise<void> => {
  mustBeAllowed(user, "partner.edit");
  const partner = required(await em.findOne(Partner, { id }), "partner");
  if (media && !(await em.findOne(Media, { id: media, kind: "picture" }))) throw wrongField("nothing_changed", "media", { code: "picture_gone" });
  if (!note) return void (await em.nativeDelete(PartnerWordRow, { launchId, partnerId: id }));
  await em.upsert(PartnerWordRow, { launchId, partnerId: id, name: name || partner.name, note, mediaId: media, at: now });
};

/** A partner's word as a page shows it. */
export interface PartnerWord {
  name: string;
  note: string;
  picture?: string;
}

/** The partner who would be credited if this visitor ordered now. */
const creditedPartner = async (em: EntityManager, { launch }: LaunchContext, visitorId: string, now: Date): Promise<string | undefined> => {
  const seen = (await touchesOfVisitor(em, visitorId, launch.id)).map((touch) => ({ ...touch, partnerName: "" }));
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

/** The word of the partner who sent this person, whichever device they came on. */
export const partnerWordOfPerson = async (
  em: EntityManager,
  { launch }: LaunchContext,
  personId: string,
  now: Date,
): Promise<PartnerWord | undefined> => {
  const { partnerId } = creditOf(await touchesOfPerson(em, launch.id, personId, ""), launch, now);
  return partnerId ? partnerWord(em, launch.id, partnerId) : undefined;
};

/** The code of the partner who sent this visitor. */
export const partnerCodeFor = async (em: EntityManager, context: LaunchContext, visitorId: string, now: Date): Promise<string | undefined> => {
  const id = await creditedPartner(em, context, visitorId, now);
  return id ? (await em.findOne(Partner, { id }))?.code : undefined;
};

/** The word of a partner on a launch's pages. */
const partnerWord = async (em: EntityManager, launchId: string, partnerId: string): Promise<PartnerWord | undefined> => {
  const row = await em.findOne(PartnerWordRow, { launchId, partnerId });
  if (!row) return undefined;
  const media = row.mediaId ? await em.findOne(Media, { id: row.mediaId }) : null;
  return { name: row.name, note: row.note, ...(media ? { picture: mediaHref(media, `${media.widths[0]!}.webp`) } : {}) };
};
