import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { builder, idsFrom, pageOf } from "../../src/core/pages";
import { signIn } from "../../src/server/platform/access/session";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { choosePassword, decideApplication } from "../../src/server/partners/applications";
import { recordTouch } from "../../src/server/partners/touch";
import { setPartnerWord } from "../../src/server/partners/words";
import { submitForm } from "../../src/server/site/submit";
import { Order, Partner } from "../../src/store/tables";
import { partnerApplications } from "../../src/store/partners/partnerApplications";
import { advance, addPartner, buy, buyer, look, openLaunch, publishAs, clickBy, startWorld, until, withWorker, type World } from "../support/world";

let world: World;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const now = () => world.app.clock.now();
const b = builder(idsFrom("b"));
const send = (context: LaunchContext, action: string, values: Record<string, string>, visitorId: string = randomUUID()) =>
  submitForm(world.app, {
    slug: context.launch.slug,
    action,
    visitorId,
    from: visitorId,
    values: { shownAt: String(now().getTime() - 5_000), ...values },
  });

describe("a partner's version of an opt-in page", () => {
  const withWord = async () => {
    const context = await openLaunch(world, { opensIn: 24, closesIn: 72, offer: false });
    return publishAs(
      world,
      context,
      "optin",
      pageOf([b.section([b.title("T"), b.made("partner", { words: "Sent by" }), b.form("Go", { id: "ask", double: "never" })])]),
    );
  };
  it("shows the partner's name and note to who came by their link, for as long as the credit is theirs, and to nobody else", async () => {
    const context = await withWord();
    const [skerry, loft] = [await addPartner(world, `s-${randomUUID().slice(0, 6)}`), await addPartner(world, `l-${randomUUID().slice(0, 6)}`)];
    await setPartnerWord(
      em(),
      world.owner,
      context.launch.id,
      { partner: skerry.id, name: "Isla", note: "Been to <sea> twice.", media: null },
      now(),
    );
    const visitor = randomUUID();
    expect((await look(world, context, "", visitor)).body).not.toContain("Isla");
    await recordTouch(em(), context.launch.id, clickBy(skerry.code), visitor, now());
    const { body } = await look(world, context, "", visitor);
    expect(body).toContain("Been to &lt;sea&gt; twice.");
    expect(body).toContain("Sent by <strong>Isla</strong>");
    expect((await look(world, context, "", randomUUID())).body).not.toContain("Isla");
    // A later link of another partner takes the credit, and the word with it.
    await advance(world, 2);
    await recordTouch(em(), context.launch.id, clickBy(loft.code), visitor, now());
    expect((await look(world, context, "", visitor)).body).not.toContain("Isla");
    await setPartnerWord(em(), world.owner, context.launch.id, { partner: skerry.id, name: "", note: "", media: null }, now());
    expect(await em().execute("select 1 from partner_word where partner_id = ?", [skerry.id])).toEqual([]);
  });
  it("carries the credit through the opt-in to the order, and on to another site where the form says so", async () => {
    const first = await withWord();
    const then = { to: "outside" as const, url: "https://elsewhere.example/offer?aff={partner}&utm_source=ours", keep: true };
    const content = pageOf([b.section([b.title("T"), b.form("Go", { id: "ask", double: "never", then })])]);
    const context = await publishAs(world, first, "optin", content);
    const partner = await addPartner(world, `c-${randomUUID().slice(0, 6)}`);
    const visitor = randomUUID();
    await recordTouch(em(), context.launch.id, clickBy(partner.code), visitor, now());
    const page = await look(world, context, "", visitor, { utm_source: "letter", utm_campaign: "spring", other: "x" });
    expect(page.body).toContain('name="tracking" value="utm_source=letter&amp;utm_campaign=spring"');
    const person = buyer();
    const sent = await send(
      context,
      "opt-in",
      {
        page: "optin",
        block: "ask",
        consent: "yes",
        email: person.email,
        firstName: "Ada",
        tracking: "utm_source=letter&utm_campaign=spring&evil=1",
      },
      visitor,
    );
    expect(sent.headers["location"]).toBe(`https://elsewhere.example/offer?aff=${partner.code}&utm_source=ours&utm_campaign=spring`);
    await advance(world, 25 * 60);
    const { order } = await buy(world, context, { visitorId: visitor, from: visitor }, person);
    expect((await em().findOneOrFail(Order, { id: order!.id })).partnerId).toBe(partner.id);
  });
});

describe("an invitation to partners", () => {
  const invite = async () => {
    const context = await openLaunch(world, { offer: false });
    return publishAs(world, context, "sales", pageOf([b.section([b.title("S"), b.price("Buy"), b.made("invitation", { id: "ask" })])]));
  };
  const apply = (context: LaunchContext, values: Record<string, string>) =>
    send(context, "partner", { page: "sales", block: "ask", name: "Hilda", words: "My readers.", ...values });

  it("is answered by the vendor once; who is taken gets one email, a code of their own and a password that they choose", async () => {
    const context = await invite();
    const email = `hilda.${randomUUID().slice(0, 6)}@spin.example`;
    const sent = await apply(context, { email: ` ${email.toUpperCase()}` });
    expect(sent.headers["location"]).toContain("said=ask");
    await apply(context, { email });
    const mine = (await partnerApplications(em())).filter((one) => one.email === email);
    expect(mine).toHaveLength(1);
    await addPartner(world, "hilda");
    const decide = () => decideApplication(em(), world.owner, { id: mine[0]!.id, take: true, rate: 42.5 }, now());
    const done = await Promise.allSettled([decide(), decide()]);
    expect(done.filter(({ status }) => status === "fulfilled")).toHaveLength(1);
    const partner = await em().findOneOrFail(Partner, { email });
    expect(partner).toMatchObject({ code: "hilda-2", rateBp: 4_250, name: "Hilda" });
    const [received] = await withWorker(world, () => until(async () => ((await world.inbox(email)).length > 0 ? world.inbox(email) : undefined)));
    expect(received!.subject).toContain("partner");
    const token = /welcome\?t=([\w.-]+)/.exec(received!.text)![1]!;
    await expect(choosePassword(world.app, token, "short")).rejects.toMatchObject({ faults: { password: { code: "too_short", least: 10 } } });
    await expect(choosePassword(world.app, `${token}x`, "a long password")).rejects.toMatchObject({ status: 403 });
    await choosePassword(world.app, token, "a long password");
    expect(await signIn(world.app, em(), "partner", email, "a long password", "here")).toBeTruthy();
    expect(await world.inbox(email)).toHaveLength(1);
  });
  it("says the same to an address that is a partner's already, and keeps what was typed when something is missing", async () => {
    const context = await invite();
    const known = await addPartner(world, `k-${randomUUID().slice(0, 6)}`);
    expect((await apply(context, { email: known.email })).headers["location"]).toContain("said=ask");
    expect((await partnerApplications(em())).some(({ email }) => email === known.email)).toBe(false);
    const wrong = await apply(context, { email: "not an address", words: "Kept words" });
    expect(wrong.status).toBe(422);
    expect(wrong.body).toContain("Kept words");
    expect(wrong.body).toContain("does not look like an email address");
  });
  it("is decided only by who may write, and declined leaves no partner", async () => {
    const context = await invite();
    const email = `d.${randomUUID().slice(0, 6)}@spin.example`;
    await apply(context, { email });
    const [one] = (await partnerApplications(em())).filter((other) => other.email === email);
    const viewer = { ...world.owner, role: "viewer" as const };
    await expect(decideApplication(em(), viewer, { id: one!.id, take: true, rate: 40 }, now())).rejects.toMatchObject({ status: 403 });
    await decideApplication(em(), world.owner, { id: one!.id, take: false, rate: 0 }, now());
    expect(await em().count(Partner, { email })).toBe(0);
  });
});

describe("the page after an order", () => {
  it("shows another launch while it can be bought, and is still there after one of its forms was sent", async () => {
    const other = await openLaunch(world, { offer: false, closesIn: 1, price: "9.00" });
    const first = await openLaunch(world, { offer: false });
    const thanks = pageOf([
      b.section([
        b.title("Thank you"),
        b.made("receipt", {}),
        b.made("cross", { launch: other.launch.slug }),
        b.form("Write to me", { id: "more", double: "never" }),
      ]),
    ]);
    const context = await publishAs(world, first, "thanks", thanks);
    const { order, who, person } = await buy(world, context);
    const { signLink } = await import("../../src/server/platform/access/signedLink");
    const o = signLink(world.app.config.INKBELL_SECRET, "order", order!.id, now(), 1);
    const page = await look(world, context, "thank-you", who.visitorId, { o });
    expect(page.body).toContain(other.launch.name);
    expect(page.body).toContain("€9.00 tax included");
    const sent = await send(
      context,
      "opt-in",
      { page: "thanks", block: "more", consent: "yes", email: person.email, firstName: "Ada", o },
      who.visitorId,
    );
    const back = new URL(sent.headers["location"]!, "http://x");
    expect(back.searchParams.get("o")).toBe(o);
    const again = await look(world, context, "thank-you", who.visitorId, Object.fromEntries(back.searchParams));
    expect(again.body).toContain("You are on the list.");
    await advance(world, 61);
    expect((await look(world, context, "thank-you", who.visitorId, { o })).body).not.toContain(other.launch.name);
  });
});
