import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { importChoices } from "../../src/core/people";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import {
  checkImport,
  erasePerson,
  importPeople,
  importRecord,
  listPeople,
  optIn,
  personRecordOf,
  startImport,
  tagPeople,
} from "../../src/server/people";
import { erasureOf } from "../../src/server/people/erasePerson";
import { buyerOf } from "../../src/server/delivery/buyers";
import { orderRecord } from "../../src/server/checkout/orderRecord";
import { changeRetention } from "../../src/server/settings/retention";
import { orderPage } from "../../src/store/checkout/orderList";
import { sweepRetention } from "../../src/store/settings/retention";
import { Contact, RecurringPayment } from "../../src/store/tables";
import { beginSession } from "../../src/server/platform/access/session";
import { buy, buyer, openLaunch, sentBy, someone, startWorld, visitor, type World } from "../support/world";

let world: World;
let context: LaunchContext;
beforeAll(async () => {
  world = await startWorld();
  context = await openLaunch(world);
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const now = () => world.app.clock.now();
const contactOf = (email: string) => em().findOneOrFail(Contact, { email, test: false });

/** Every table, but for those of the log, whose rows hold a text. */
const tablesHolding = async (text: string): Promise<string[]> => {
  const tables = await em().execute<{ name: string }[]>(
    "select c.relname as name from pg_class c where c.relnamespace = 'public'::regnamespace and c.relkind in ('r', 'p') and not c.relispartition",
  );
  const holding: string[] = [];
  for (const { name } of tables) {
    const [row] = await em().execute<{ n: string }[]>(`select count(*) as n from "${name}" t where position(? in lower(to_jsonb(t)::text)) > 0`, [
      text,
    ]);
    if (Number(row!.n) > 0) holding.push(name);
  }
  return holding.sort();
};

/** Somebody with an order, a tag, a comment and answers, whose names nobody else has. */
const somebody = async () => {
  const mark = randomUUID().slice(0, 8);
  const email = `orla.${mark}@heddle.example`;
  const firstName = `Orla${mark}`;
  const who = visitor();
  await optIn(
    em(),
    context,
    { email, firstName, lastName: `Weaver${mark}`, phone: `+353 ${mark}`, answers: { Needles: `bone ${mark}` } },
    sentBy(who.visitorId, now(), { page: "" }),
  );
  const { order } = await buy(world, context, who, { ...buyer("IE"), email, firstName });
  const contact = await contactOf(email);
  await tagPeople(em(), world.owner, { people: [contact.personId], tag: `tag ${mark}`, set: true }, now());
  await em().execute(
    "insert into page_comment (id, launch_id, page, person_id, name, body, at) values (?, ?, 'sales', ?, ?, 'How long does it take', ?)",
    [randomUUID(), context.launch.id, contact.personId, firstName, now()],
  );
  await em().execute("insert into notice (id, source, message_id, body, received_at, applied_at, outcome) values (?, 'card', ?, ?, ?, ?, 'done')", [
    randomUUID(),
    randomUUID(),
    JSON.stringify({ email, name: firstName }),
    now(),
    now(),
  ]);
  return { mark, email, firstName, contact, order: order!, visitorId: who.visitorId };
};
/** As if everything that waits had come to its end. */
const settle = () =>
  em().execute("update charge set state = 'succeeded', settled_at = coalesce(settled_at, now()) where state in ('pending', 'authorized')");

describe("a person who asks to be erased", () => {
  it("stands in no table any more but in the book of erased buyers, and nobody can sign in as them", async () => {
    const { mark, email, contact, order, visitorId } = await somebody();
    await settle();
    const token = await beginSession(em(), "buyer", contact.id, now());
    expect(await buyerOf(em(), token, now())).toMatchObject({ id: contact.id });
    expect(await tablesHolding(mark)).toEqual(expect.arrayContaining(["contact", "checkout", "notice", "page_comment", "person_tag"]));
    expect(await erasureOf(em(), world.owner, contact.personId)).toMatchObject({ orders: 1, comments: 1, blocked: null });
    await erasePerson(world.app, em(), world.owner, contact.personId, now());
    expect(await tablesHolding(mark)).toEqual(["erased_buyer"]);
    expect(await buyerOf(em(), token, now())).toBeUndefined();
    // What they did is counted still, and their browser is somebody who is new here.
    const [{ person_id: fresh } = { person_id: "" }] = await em().execute<{ person_id: string }[]>("select person_id from visitor where id = ?", [
      visitorId,
    ]);
    expect(fresh).not.toBe(contact.personId);
    expect((await personRecordOf(em(), contact.personId, now())).contact).toBeNull();
    expect((await listPeople(em(), { find: "", who: "", sort: "name" }, { now: now() })).people.map(({ id }) => id)).not.toContain(contact.personId);
    // Whoever keeps the books sees whose the order was.
    expect((await orderRecord(em(), order.id))!.buyer).toEqual({ name: expect.stringContaining(mark) as string, email });
    const named = async (books: boolean) =>
      (await orderPage(em(), {}, new Date(now().getTime() + 1_000), { most: 100, books })).orders.find(({ id }) => id === order.id)!;
    expect((await named(true)).email).toBe(email);
    expect(await named(false)).toMatchObject({ buyer: "erased", email: "" });
    await expect(erasePerson(world.app, em(), world.owner, contact.personId, now())).rejects.toMatchObject({
      data: { code: "not_found", what: "person" },
    });
  });

  it("is not erased while money of theirs is on its way or to come", async () => {
    const { contact, order } = await somebody();
    await settle();
    await em().execute(
      `insert into recurring_payment (id, order_id, line_id, product_id, kind, minor, quantity, every, payments_left, paid, tries, begun_at, first_at, next_at, state)
       select gen_random_uuid(), n.order_id, n.id, n.product_id, 'subscription', 1200, 1, '{"months":1}', null, 1, 0, ?, ?, ?, 'active' from order_line n where n.order_id = ? limit 1`,
      [now(), now(), now(), order.id],
    );
    await expect(erasePerson(world.app, em(), world.owner, contact.personId, now())).rejects.toMatchObject({
      data: { code: "erasure_blocked", by: "recurring_payment" },
    });
    expect((await contactOf(contact.email)).firstName).toBe(contact.firstName);
    await em().nativeUpdate(RecurringPayment, { orderId: order.id }, { state: "ended", endedAt: now(), endedBecause: "cancelled" });
    await em().execute("insert into notice (id, source, message_id, body, received_at) values (?, 'card', ?, ?, ?)", [
      randomUUID(),
      randomUUID(),
      JSON.stringify({ email: contact.email }),
      now(),
    ]);
    await expect(erasePerson(world.app, em(), world.owner, contact.personId, now())).rejects.toMatchObject({ data: { by: "payment" } });
  });

  it("is not brought back by a file, and can come back by themselves", async () => {
    const { email, contact } = await somebody();
    await settle();
    const { id: waiting } = await startImport(world.app, em(), world.owner, "waits.csv", Buffer.from(`Email\n${email}\nbram@post.example\n`), now());
    await erasePerson(world.app, em(), world.owner, contact.personId, now());
    // A file that was uploaded before loses their line alone.
    expect((await importRecord(em(), waiting)).sample).toEqual([["bram@post.example"]]);
    const choices = importChoices.parse({ columns: [{ is: "email" }], known: "fill", consent: null, tag: "" });
    const count = async () => {
      const { id } = await startImport(world.app, em(), world.owner, "old.csv", Buffer.from(`Email\n${email.toUpperCase()}\n`), now());
      await checkImport(em(), world.owner, id, choices, now());
      await importPeople(world.app, id);
      return importRecord(em(), id);
    };
    const refused = await count();
    expect(refused).toMatchObject({ counts: { added: 0, refused: 1 } });
    expect(refused.refused[0]!.faults[0]!.says).toContain("asked to be erased");
    await optIn(em(), context, { email, firstName: "Orla", answers: {} }, sentBy(visitor().visitorId, now(), { page: "" }));
    expect((await contactOf(email)).personId).not.toBe(contact.personId);
    expect(await count()).toMatchObject({ counts: { added: 0, refused: 0, unchanged: 1 } });
  });

  it("leaves the books, too, once the law has them kept no longer", async () => {
    const { mark, contact } = await somebody();
    await settle();
    await erasePerson(world.app, em(), world.owner, contact.personId, now());
    await changeRetention(em(), world.owner, { what: "buyers", days: 3_650 });
    await sweepRetention(em(), new Date(now().getTime() + 3_649 * 86_400_000));
    expect(await tablesHolding(mark)).toEqual(["erased_buyer"]);
    await sweepRetention(em(), new Date(now().getTime() + 3_651 * 86_400_000));
    expect(await tablesHolding(mark)).toEqual([]);
  });

  it("is erased by the owner alone", async () => {
    const { contact } = await somebody();
    for (const role of ["editor", "finance", "viewer"] as const)
      await expect(erasePerson(world.app, em(), someone(role), contact.personId, now())).rejects.toMatchObject({ code: "not_allowed" });
  });
});
