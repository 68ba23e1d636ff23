import { describe, expect, it } from "vitest";
import { personalClock, sourceFor } from "../../../../tests/support/plans";
import { planOf, type LaunchShape, type LaunchSource } from "../../launch";
import { builder, firstPage, gapHref, idsFrom, launchGaps, pageOf, readyToPublish, templateOf, type PageContent, type ReadinessFacts } from "..";

const at = new Date("2026-11-12T12:00:00Z");
const plain = (kind: Parameters<typeof firstPage>[0]): PageContent => {
  const b = builder(idsFrom(kind));
  const order =
    kind === "checkout" ? [b.made("checkout", {})] : kind === "thanks" ? [b.made("receipt", {})] : kind === "offer" ? [b.made("offer", {})] : [];
  return pageOf([b.section([b.title("A title of our own."), ...order])]);
};
/** A launch whose pages are all published and say words of their own, but for what is named. */
const factsFor = (
  change: {
    shape?: LaunchShape;
    unpublished?: string[];
    settings?: Partial<LaunchSource["settings"]>;
    clock?: LaunchSource["settings"]["clock"];
    content?: Record<string, PageContent>;
    drop?: string[];
    at?: Date;
    product?: Partial<ReadinessFacts["product"]>;
    onPath?: string[];
    unpublishedEmails?: string[];
  } = {},
): ReadinessFacts => {
  const source = sourceFor({ shape: change.shape, clock: change.clock, settings: change.settings, unpublished: change.unpublished });
  source.pages = source.pages.filter(({ key }) => !change.drop?.includes(key));
  const plan = planOf(source);
  return {
    plan,
    pages: plan.pages.map(({ key, kind, published }) => {
      const draft = change.content?.[key] ?? plain(kind);
      return { id: `id-${key}`, key, draft, published: published ? draft : null };
    }),
    onPath: change.onPath ?? ["offer"],
    product: { id: "workshop", name: "The Workshop", digital: true, accessAtOnce: true, ...change.product },
    unpublishedEmails: change.unpublishedEmails ?? [],
    at: change.at ?? at,
  };
};
const codes = (facts: ReadinessFacts) => launchGaps(facts).map(({ code }) => code);
const gap = (facts: ReadinessFacts, code: string) => launchGaps(facts).find((one) => one.code === code)!;
const button = (to: string): PageContent => {
  const b = builder(idsFrom("x"));
  return pageOf([b.section([b.title("A title of our own."), b.button("Go there", { to: "page", page: to })])]);
};

describe("what a launch lacks as a whole", () => {
  it("is nothing where every page is public, in its own words, and what is sold is delivered", () => {
    for (const shape of ["full", "short", "list"] as const) expect(codes(factsFor({ shape })), shape).toEqual([]);
    expect(codes(factsFor({ clock: personalClock }))).toEqual([]);
  });
  it("are emails that would go to nobody, as advice, where they are written", () => {
    const [one] = launchGaps(factsFor({ unpublishedEmails: ["last-day"] }));
    expect(one).toMatchObject({ code: "email_not_published", blocking: false });
    expect(gapHref("gansey", one!)).toBe("/desk/gansey/emails/last-day");
  });
  it("are pages that addresses answer with and nobody can see: the run-up and the close of a short launch", () => {
    const facts = factsFor({ shape: "short", unpublished: ["optin", "closed"] });
    expect(launchGaps(facts).map(({ code, at: where }) => [code, where])).toEqual([
      ["answers_nothing", { room: "page", page: "optin" }],
      ["answers_nothing", { room: "page", page: "closed" }],
    ]);
    expect(gap(facts, "answers_nothing").says).toContain("before the doors open");
    // Once the doors are open nobody meets the run-up any more.
    const later = factsFor({ shape: "short", unpublished: ["optin", "closed"], at: new Date("2026-11-21T12:00:00Z") });
    expect(launchGaps(later).map(({ at: where }) => where)).toEqual([{ room: "page", page: "closed" }]);
  });
  it("is the launch's own address, where its page is a draft", () => {
    const facts = factsFor({ shape: "list", unpublished: ["optin"] });
    expect(gap(facts, "answers_nothing")).toMatchObject({ blocking: true, at: { room: "page", page: "optin" } });
    expect(gapHref("gansey", gap(facts, "answers_nothing"))).toBe("/desk/gansey/pages/optin");
  });
  it("is a gate that answers with a draft, at the gates", () => {
    const to = (page: string) => ({ to: "page" as const, page });
    const gates = [
      {
        id: "g",
        covers: { mode: "only" as const, pages: ["optin"], folders: [] },
        before: { to: "itself" as const },
        during: to("episodes/1"),
        after: to("closed"),
      },
    ];
    const facts = factsFor({ settings: { gates }, unpublished: ["episodes/1"] });
    expect(gap(facts, "answers_nothing")).toMatchObject({ at: { room: "clock", part: "gates" } });
    expect(gapHref("gansey", gap(facts, "answers_nothing"))).toBe("/desk/gansey/clock#gates");
  });
  it("is a page without which nothing can be charged, once for each", () => {
    expect(codes(factsFor({ unpublished: ["sales", "checkout", "thanks"] })).filter((code) => code === "not_published")).toHaveLength(2);
    expect(codes(factsFor({ unpublished: ["checkout"] }))).toEqual(["not_published"]);
  });
  it("is a button or a form of a public page that leads to a draft, at its field", () => {
    const facts = factsFor({ content: { sales: button("episodes/2") }, unpublished: ["episodes/2"] });
    expect(gap(facts, "leads_to_draft")).toMatchObject({ blocking: true, at: { room: "page", page: "sales", field: "target" } });
    expect(gapHref("gansey", gap(facts, "leads_to_draft"))).toMatch(/^\/desk\/gansey\/pages\/sales\?block=[\w-]+&field=target$/);
    const b = builder(idsFrom("f"));
    const asks = pageOf([b.section([b.title("A title."), b.form("Join", { confirmedPage: "episodes/2" })])]);
    expect(gap(factsFor({ content: { optin: asks }, unpublished: ["episodes/2"] }), "leads_to_draft").at).toMatchObject({ field: "confirmedPage" });
    // To a public page it leads somewhere.
    expect(codes(factsFor({ content: { sales: button("episodes/2") } }))).toEqual([]);
  });
  it("are the words of a template that still stand there, at their block", () => {
    const facts = factsFor({ content: { sales: firstPage("sales", "The Workshop") } });
    const words = launchGaps(facts).filter(({ code }) => code === "template_words");
    expect(words.length).toBeGreaterThan(1);
    expect(words[0]).toMatchObject({ blocking: false, at: { room: "page", page: "sales", block: expect.any(String) as string } });
    expect(words.some(({ says }) => says.includes("Say here"))).toBe(true);
  });
  it("are all the words of every template that the vendor is to replace, a made-up voice among them", () => {
    const saysOf = (content: PageContent) =>
      launchGaps(factsFor({ content: { sales: content } }))
        .filter(({ code }) => code === "template_words")
        .map(({ says }) => says);
    const letter = saysOf(templateOf("sales-letter")!.make("The Workshop"));
    for (const words of ["Say here what the buyer", "What somebody said who has done it.", "Part by part:", "Who it is not for"])
      expect(
        letter.some((says) => says.includes(words)),
        words,
      ).toBe(true);
    expect(saysOf(templateOf("sales-poster")!.make("The Workshop")).some((says) => says.includes("Say for whom it is"))).toBe(true);
    // A page of the vendor's own words is finished, whatever it has of the template's form.
    const b = builder(idsFrom("q"));
    const own = b.section([
      b.title("Ours."),
      b.questions([["Is it for me?", "For whoever can knit and purl."]]),
      b.benefits(["The first yoke you draw"]),
    ]);
    expect(saysOf(pageOf([own]))).toEqual([]);
  });
  it("is an offer page on no step, with the way to put it there", () => {
    const facts = factsFor({ onPath: [] });
    expect(gapHref("gansey", gap(facts, "offer_on_no_step"))).toBe("/desk/gansey/offers?page=id-offer");
  });
  it("is a list page that says “opens soon” while the doors are open", () => {
    const b = builder(idsFrom("s"));
    const soon = pageOf([b.section([b.title("The Workshop opens soon.")])]);
    expect(gap(factsFor({ shape: "list", content: { optin: soon } }), "says_soon")).toMatchObject({ blocking: false, at: { page: "optin" } });
    // Of a full launch the sales page answers then.
    expect(codes(factsFor({ content: { optin: soon } }))).not.toContain("says_soon");
  });
  it("is an opt-in page that no gate ever shows", () => {
    const closed = { to: "page" as const, page: "closed" };
    const gates = [{ id: "g", covers: { mode: "only" as const, pages: ["optin"], folders: [] }, before: closed, during: closed, after: closed }];
    expect(gap(factsFor({ shape: "list", settings: { gates } }), "never_shown")).toMatchObject({ at: { room: "clock", part: "gates" } });
    // The run-up of a short launch is its opt-in, whatever its own address says.
    expect(codes(factsFor({ shape: "short", settings: { gates } }))).not.toContain("never_shown");
  });
  it("are dates that are over before anything was public, and a launch without a page for after the close", () => {
    const past = factsFor({ unpublished: ["checkout"], at: new Date("2026-12-05T12:00:00Z") });
    expect(gap(past, "past_dates")).toMatchObject({ blocking: true, at: { room: "clock", part: "deadline" } });
    expect(codes(factsFor({ at: new Date("2026-12-05T12:00:00Z") }))).toEqual([]);
    expect(codes(factsFor({ shape: "short", drop: ["closed"] }))).toContain("no_closed_page");
  });
  it("is access that nobody gives, as advice", () => {
    const delivers = gap(factsFor({ product: { accessAtOnce: false } }), "not_delivered");
    expect(delivers).toMatchObject({ blocking: false });
    expect(gapHref("gansey", delivers)).toBe("/desk/products?at=workshop");
    expect(codes(factsFor({ product: { accessAtOnce: false, digital: false } }))).toEqual([]);
  });
  it("names what visitors meet before what is advice", () => {
    const all = launchGaps(factsFor({ unpublished: ["sales"], onPath: [], product: { accessAtOnce: false } }));
    const firstAdvice = all.findIndex(({ blocking }) => !blocking);
    expect(all.slice(firstAdvice).every(({ blocking }) => !blocking)).toBe(true);
    for (const { says, why } of all) expect(Math.min(says.length, why.length)).toBeGreaterThan(10);
  });
});

describe("pages that can be published by one press", () => {
  const source = { ...sourceFor(), shape: "full" as const };
  const facts = { source, launches: [], products: [] };
  const page = (key: string, kind: "sales" | "offer" | "optin", draft: PageContent, published: PageContent | null) => ({
    id: key,
    key,
    kind,
    draft,
    published,
  });
  it("are those that say something else than the public sees, lack nothing that stops them, and offers that stand on the path", () => {
    const b = builder(idsFrom("n"));
    const titleless = pageOf([b.section([b.lead("No title here.")])]);
    const pages = [
      page("sales", "sales", plain("sales"), null),
      page("same", "sales", plain("sales"), plain("sales")),
      page("changed", "sales", button("sales"), plain("sales")),
      page("broken", "optin", titleless, null),
      page("offer", "offer", plain("offer"), null),
      page("loose", "offer", plain("offer"), null),
    ];
    expect(readyToPublish(pages, facts, ["offer"])).toEqual(["sales", "changed", "offer"]);
  });
});
