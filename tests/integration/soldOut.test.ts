import { countersFor } from "../../src/server/offers/soldCounters";
import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { startCheckout } from "../../src/server/checkout/checkout";
import { payCheckout } from "../../src/server/checkout/paying";
import { refundOrder } from "../../src/server/payments/refunds";
import { optIn } from "../../src/server/people/optIn";
import { Contact, EmailMessage } from "../../src/store/tables";
import { advance, buy, buyer, cardToken, look, openLaunch, sendEmail, sentBy, startWorld, visitor, type World } from "../support/world";

let world: World;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(() => world.stop());

const em = () => world.app.fork();
type SoldOut = NonNullable<LaunchContext["launch"]["settings"]["soldOut"]>;
const full = async (soldOut?: SoldOut, seats = 1) => {
  const context = await openLaunch(world, { offer: false, settings: { seats, ...(soldOut ? { soldOut } : {}) } });
  const sales = [];
  for (let n = 0; n < seats; n += 1) sales.push(await buy(world, context));
  countersFor(world.app).clear();
  return { context, sales };
};
const list = (context: LaunchContext, visitorId: string, email = buyer().email) =>
  optIn(em(), context, { email, firstName: "Ada", answers: {} }, sentBy(visitorId, world.app.clock.now()));
const seen = async (context: LaunchContext, path: string, visitorId: string = randomUUID()) => (await look(world, context, path, visitorId)).body;
const giveBack = async ({ order }: Awaited<ReturnType<typeof full>>["sales"][number]) => {
  const asked = { act: randomUUID(), lines: {}, amount: "149.00", reason: "Changed their mind" };
  expect((await refundOrder(world.app, em(), world.owner, order!.id, asked)).refunds).toMatchObject([{ state: "succeeded" }]);
  countersFor(world.app).clear();
};
const code = (work: Promise<unknown>) =>
  work.then(
    () => "done",
    (error: { code: string }) => error.code,
  );

describe("a launch whose seats are all taken", () => {
  it("sells nowhere: sales page and checkout answer with the waiting list, and no order can be begun", async () => {
    const { context } = await full();
    for (const path of ["", "join", "checkout"]) {
      const body = await seen(context, path);
      expect(body, path).toContain("The only seat is taken.");
      expect(body, path).toContain("/do/opt-in");
      expect(body, path).not.toContain("/do/start");
    }
    expect(await code(startCheckout(world.app, em(), context, buyer(), visitor()))).toBe("sold_out");
  });
  it("answers with the closed page where the vendor chose that", async () => {
    const { context } = await full({ answer: "closed", reopens: "everyone" });
    const title = (body: string) => /<title>(.*?)<\/title>/.exec(body)![1];
    const body = await seen(context, "join");
    expect(body).toContain("The only seat is taken.");
    expect(title(body)).toBe(title(await seen(context, context.pages.find(({ kind }) => kind === "closed")!.slug)));
  });
  it("leaves who has paid, or is paying, at their own checkout and its end", async () => {
    const { context, sales } = await full();
    expect(await seen(context, "checkout", sales[0]!.who.visitorId)).not.toContain("The only seat is taken.");
  });
  it("sends nobody to a seat that is not there: emails and the email to a lost buyer are dropped, and say why", async () => {
    const context = await openLaunch(world, { offer: false, settings: { seats: 1 } });
    const [lost, lostWho] = [buyer(), visitor()];
    const checkout = await startCheckout(world.app, em(), context, lost, lostWho);
    await buy(world, context);
    countersFor(world.app).clear();
    const reminder = await em().findOneOrFail(EmailMessage, { kind: "recovery", checkoutId: checkout.id });
    await advance(world, 31);
    await sendEmail(world, reminder.id);
    expect(await em().findOneOrFail(EmailMessage, { id: reminder.id })).toMatchObject({ state: "stopped", stoppedBecause: "sold_out" });
    const late = buyer().email;
    await list(context, randomUUID(), late);
    const { id: contactId } = await em().findOneOrFail(Contact, { email: late });
    const welcome = await em().findOneOrFail(EmailMessage, { contactId, kind: "welcome" });
    await sendEmail(world, welcome.id);
    const [email] = await world.inbox(late);
    expect(email!.text).toContain("The only seat is taken; you are on the list.");
    expect(email!.text).not.toContain("are open to you now");
  });
});

describe("a seat that comes back", () => {
  it("opens the launch again for everyone: once all its money has gone back, it can be bought", async () => {
    const { context, sales } = await full();
    await giveBack(sales[0]!);
    expect(await em().execute("select n from seats_taken where launch_id = ?", [context.launch.id])).toEqual([{ n: "0" }]);
    expect(await seen(context, "join")).not.toContain("seats are taken");
    expect((await buy(world, context)).charge.state).toBe("succeeded");
    countersFor(world.app).clear();
    expect(await seen(context, "join")).toContain("The only seat is taken.");
  });
  it("opens it for those on the list alone, where the vendor chose that, on pages and at the press that pays", async () => {
    const { context, sales } = await full({ answer: "waiting_list", reopens: "list" });
    const [listed, stranger] = [visitor(), visitor()];
    const [known, unknown] = [buyer(), buyer()];
    await list(context, listed.visitorId, known.email);
    await giveBack(sales[0]!);
    expect(await seen(context, "join", stranger.visitorId)).toContain("The seats that came back are for those on the list.");
    expect(await seen(context, "join", listed.visitorId)).not.toContain("are for those on the list");
    expect(await code(startCheckout(world.app, em(), context, unknown, stranger))).toBe("list_only");
    const checkout = await startCheckout(world.app, em(), context, known, listed);
    const pay = { ...known, checkout: checkout.id, cardToken: await cardToken(world), waiver: "yes" as const };
    expect((await payCheckout(world.app, em(), context, pay, listed)).state).toBe("succeeded");
  });
});
