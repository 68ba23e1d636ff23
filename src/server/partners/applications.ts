import { fault } from "../../core/words";
import type { BodyOf } from "../../contract/endpoint";
import type * as contract from "../../contract/partners";
import { LockMode } from "@mikro-orm/core";
import { addApplication } from "../../store/partners/addApplication";
import { formatBasisPoints } from "../../core/money";
import {
  type App,
  endSessions,
  hashPassword,
  limitSender,
  mustBeAllowed,
  mustBePassword,
  queue,
  readLink,
  Refusal,
  type Sender,
  sendAccountEmail,
  signLink,
} from "../platform";
import { hash } from "@node-rs/argon2";
import { randomBytes, randomUUID } from "node:crypto";
import { z } from "zod";
import { partnerWelcomeWords } from "../../core/emails";
import { slugOf } from "../../core/launch";
import { email, sentByProgram, isName } from "../../core/people";
import { Partner, type DeskUser, PartnerApplication } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import type { LaunchContext } from "../launch";
import { writeEvents } from "../../store/events/writeEvents";

const application = z.object({
  email,
  name: z.string().trim().min(1, fault("name_missing")).max(80).refine(isName, fault("not_a_name")),
  words: z.string().trim().min(1, fault("application_words_missing")).max(1000),
  website: z.string().optional(),
});

/** Takes an application to become a partner. The answer is the same for an address that is a partner's already. */
export const applyAsPartner = async (
  em: EntityManager,
  context: LaunchContext,
  post: Sender & { values: Record<string, string>; now: Date },
): Promise<void> => {
  const { values, now } = post;
  const sent = application.parse(values);
  await limitSender(em, now, "partner", post, 20, 3600);
  if (sent.website || sentByProgram(values["shownAt"], now)) return;
  if (await em.findOne(Partner, { email: sent.email })) return;
  await em.transactional(async (tx) => {
    const { email, name, words } = sent;
    if (!(await addApplication(tx, { id: randomUUID(), launchId: context.launch.id, email, name, words, at: now }))) return;
    await writeEvents(tx, [
      { launchId: context.launch.id, visitorId: post.visitorId, kind: "applied", at: now, page: values["page"] ?? "", data: {} },
    ]);
  });
};

/** A code for links that no partner has, made from a name. */
const freeCode = async (em: EntityManager, name: string): Promise<string> => {
  const stem = (slugOf(name) || "partner").slice(0, 30).padEnd(2, "0");
  for (let n = 1; ; n += 1) {
    const code = n === 1 ? stem : `${stem}-${n}`;
    if (!(await em.findOne(Partner, { code }))) return code;
  }
};

/** Takes an applicant as a partner, who is written to, or declines. An application is decided once. */
export const decideApplication = async (
  em: EntityManager,
  user: DeskUser,
  { id, take, rate }: BodyOf<typeof contract.decideApplication>,
  now: Date,
): Promise<void> => {
  mustBeAllowed(user, "partner.edit");
  await em.transactional(async (tx) => {
    const asked = await tx.findOne(PartnerApplication, { id }, { lockMode: LockMode.PESSIMISTIC_WRITE });
    if (!asked) throw new Refusal({ code: "not_found", what: "application" });
    if (asked.state !== "waiting") throw new Refusal({ code: "decided" });
    if (!take) {
      await tx.nativeUpdate(PartnerApplication, { id }, { state: "declined", decidedAt: now, decidedBy: user.id });
      return;
    }
    const known = await tx.findOne(Partner, { email: asked.email });
    // Nobody knows this password: the partner chooses one by the link in the email.
    const partner = known ?? {
      id: randomUUID(),
      email: asked.email,
      name: asked.name,
      passwordHash: await hash(randomBytes(32)),
      code: await freeCode(tx, asked.name),
      rateBp: Math.round(rate * 100),
    };
    if (!known) await tx.insert(Partner, partner);
    await tx.nativeUpdate(PartnerApplication, { id }, { state: "taken", decidedAt: now, decidedBy: user.id, partnerId: partner.id });
    await queue(tx, "welcome_partner", { id }, now, `partner:${id}`);
  });
};

/** Writes to a new partner: where the portal is, and a link to choose a password. Sent again after a crash, it carries the same Message-ID. */
export const welcomePartner = async (app: App, id: string): Promise<void> => {
  const em = app.fork();
  const asked = await em.findOne(PartnerApplication, { id });
  const partner = asked?.partnerId ? await em.findOne(Partner, { id: asked.partnerId }) : null;
  if (!asked || !partner || asked.welcomedAt) return;
  const { origin, INKBELL_SECRET } = app.config;
  const now = app.clock.now();
  const words = partnerWelcomeWords({
    name: partner.name,
    vendor: app.vendor.name,
    rate: formatBasisPoints(partner.rateBp),
    code: partner.code,
    link: `${origin}/partner/welcome?t=${signLink(INKBELL_SECRET, "partner_welcome", partner.id, now, 7)}`,
  });
  await sendAccountEmail(app, asked.email, words, id);
  await em.nativeUpdate(PartnerApplication, { id }, { welcomedAt: now });
};

/** Sets a partner's password by the link of their email, and ends every session of theirs. A used link sets it again until it expires. */
export const choosePassword = async (app: App, token: string | null, password: string): Promise<void> => {
  const now = app.clock.now();
  const id = readLink(app.config.INKBELL_SECRET, "partner_welcome", token, now);
  if (!id) throw new Refusal({ code: "link_over", to: "partner" });
  mustBePassword(password);
  const passwordHash = await hashPassword(password);
  await app.fork().transactional(async (tx) => {
    await tx.nativeUpdate(Partner, { id }, { passwordHash });
    await endSessions(tx, "partner", id, { butToken: undefined });
  });
};
