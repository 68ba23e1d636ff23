import { randomUUID } from "node:crypto";
import { planNewLaunch, slugOf, type NewLaunchRequest } from "../../core/launch";
import { pageKinds } from "../../core/launch";
import { pageSlugs, templates } from "../../core/pages";
import { Launch, Page, Product, type DeskUser } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import { Refusal } from "../app/refusal";
import { mustWrite } from "../app/session";

const freeSlug = async (em: EntityManager, name: string): Promise<string> => {
  const wanted = slugOf(name);
  const taken = new Set((await em.find(Launch, { slug: { $like: `${wanted}%` } })).map(({ slug }) => slug));
  if (!taken.has(wanted)) return wanted;
  let n = 2;
  while (taken.has(`${wanted}-${n}`)) n += 1;
  return `${wanted}-${n}`;
};

/** Starts a launch with its main product and the ready pages, all unpublished. Refuses field by field. */
export const createLaunch = async (em: EntityManager, user: DeskUser, request: NewLaunchRequest, now: Date): Promise<Launch> => {
  mustWrite(user);
  const planned = planNewLaunch(request);
  if ("errors" in planned) throw new Refusal(422, "fields", "Some fields need another look. Nothing was saved yet.", planned.errors);
  const { opens, closes, priceMinor } = planned.plan;
  return em.transactional(async (tx) => {
    const product = tx.create(Product, {
      id: randomUUID(),
      name: request.productName,
      privateLabel: request.productName,
      taxClass: "standard",
      refundDays: 30,
      description: "",
      priceMinor,
      currency: request.currency,
      taxMode: request.taxMode,
    });
    const launch = tx.create(Launch, {
      id: randomUUID(),
      slug: await freeSlug(tx, request.name),
      name: request.name,
      zone: request.zone,
      runUpFrom: now < opens.instant ? now : opens.instant,
      opensAt: opens.instant,
      closesAt: closes.instant,
      opensWall: opens.becomes,
      closesWall: closes.becomes,
      graceMinutes: 10,
      mainProductId: product.id,
      creditWindowDays: 60,
      recoveryDelayMinutes: 30,
      createdAt: now,
    });
    await tx.persist([product]).flush();
    await tx.persist([launch]).flush();
    const words = templates(request.productName);
    for (const kind of pageKinds) {
      tx.persist(
        tx.create(Page, {
          id: randomUUID(),
          launchId: launch.id,
          kind,
          slug: pageSlugs[kind],
          draft: words[kind],
          published: null,
          compiled: null,
          publishedAt: null,
          version: 1,
        }),
      );
    }
    await tx.flush();
    return launch;
  });
};
