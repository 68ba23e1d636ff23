import { behindAnOrder, gateAnswer, pageOf, subjectOf, type LaunchPage, type LaunchPlan, type WindowPhase } from "../../launch";
import { fullMoment, zoneCity } from "../../words";
import type { LeafBlock } from "../content/blocks";
import { blockKinds } from "../content/blockKinds";
import { missingToCharge, pageLeaves, pageNames, type PageContent } from "../content/content";
import { pageGaps, type GapFacts } from "./gaps";
import { plainOf } from "../content/rich";
import { addressOf, hrefOf } from "../content/target";
import { isStandIn } from "../templates";
import { formsOf, targetsOf } from "../content/tree";

/** Where a gap is mended: a field of a page, a part of the clock's screen, or the path of offers. */
export type GapPlace =
  | { room: "page"; page: string; block?: string; field?: string }
  | { room: "clock"; part: string }
  /** A page, by its id, that waits to be put on the path. */
  | { room: "offers"; page: string }
  | { room: "products"; product: string }
  | { room: "emails"; email: string };

/** Something a launch still lacks as a whole: what, why it matters, and where it is mended. */
export interface LaunchGap {
  code: string;
  /** Visitors meet it: an address that answers nothing, or something that cannot be paid. The others are advice. */
  blocking: boolean;
  says: string;
  why: string;
  at: GapPlace;
}

/** A page with what it says to the public and in its draft. */
export interface ReadyPage {
  id: string;
  key: string;
  draft: PageContent;
  published?: PageContent | null;
}

export interface ReadinessFacts {
  plan: LaunchPlan;
  pages: readonly ReadyPage[];
  /** Pages that stand on a step of the offer path. */
  onPath: readonly string[];
  /** The main product, as far as it is delivered. */
  product: { id: string; name: string; digital: boolean; accessAtOnce: boolean };
  /** Emails that are still to go and are not published, by their keys. */
  unpublishedEmails: readonly string[];
  at: Date;
}

const phases = ["before", "during", "after"] as const;
const phaseWords: Record<WindowPhase, string> = { before: "before the doors open", during: "while the doors are open", after: "after the close" };

/** A page as a person names it. */
const nameOf = (page: Pick<LaunchPage, "kind" | "slug">): string => (page.kind === "content" ? `/${page.slug}` : pageNames[page.kind].toLowerCase());

/** The phases that are still to come, or hold now: what answered before them nobody sees again. */
const phasesFrom = ({ clock }: LaunchPlan, at: Date): readonly WindowPhase[] => {
  if (clock.kind !== "fixed") return phases;
  return at >= clock.window.closes ? ["after"] : at >= clock.window.opens ? ["during", "after"] : phases;
};

const textsOf = (leaf: LeafBlock): { field: string; text: string }[] => {
  const own = Object.entries(leaf).filter((entry): entry is [string, string] => typeof entry[1] === "string");
  // Lists hold texts, or things that do: questions with their answers.
  const words = (one: unknown): string[] =>
    typeof one === "string" ? [one] : typeof one === "object" && one !== null ? Object.values(one).filter((part) => typeof part === "string") : [];
  const listed = Object.entries(leaf).flatMap(([field, value]): [string, string][] =>
    Array.isArray(value) ? value.flatMap((one) => words(one).map((text): [string, string] => [field, text])) : [],
  );
  const rich: [string, string][] = "rich" in leaf ? [["rich", plainOf(leaf.rich)]] : [];
  return [...own, ...listed, ...rich].map(([field, text]) => ({ field, text: text.trim() }));
};
const shortened = (text: string): string => (text.length > 60 ? `${text.slice(0, 57)}…` : text);
const waitingWords = /\b(opens soon|not open yet)\b/i;

/** Addresses that answer with a page that the public cannot see, with the phases in which they do. */
const unanswered = ({ plan, at }: ReadinessFacts): LaunchGap[] => {
  const found = new Map<string, { answer: LaunchPage; of: LaunchPage; phases: WindowPhase[]; rule: number }>();
  // What is public, and the launch's own address, which everybody is sent to.
  for (const page of plan.pages.filter((one) => (one.published || one.slug === "") && !behindAnOrder(one.kind)))
    for (const phase of phasesFrom(plan, at)) {
      const gate = gateAnswer(plan, page, phase);
      const answer = "page" in gate ? pageOf(plan, gate.page) : undefined;
      if (!answer || answer.published) continue;
      const known = found.get(answer.key);
      const rule = plan.settings.gates.findIndex((one) => one[phase].to === "page" && (one[phase] as { page: string }).page === answer.key);
      if (known) known.phases.push(phase);
      else found.set(answer.key, { answer, of: page, phases: [phase], rule });
    }
  return [...found.values()].map(({ answer, of, phases: when, rule }) => ({
    code: "answers_nothing",
    blocking: true,
    says: `/${plan.slug}${of.slug ? `/${of.slug}` : ""} answers with the page “${nameOf(answer)}” ${[...new Set(when)].map((one) => phaseWords[one]).join(", and ")}, which is not published.`,
    why: "Visitors would read that there is nothing at this address.",
    at: rule >= 0 && answer.key !== of.key ? { room: "clock", part: "gates" } : { room: "page", page: answer.key },
  }));
};

/** Buttons and forms of public pages that lead to a page that is not public. */
const leadsNowhere = ({ plan, pages }: ReadinessFacts): LaunchGap[] => {
  const source = { slug: plan.slug, pages: plan.pages, settings: plan.settings };
  const draftAt = (href: string | undefined) => plan.pages.find((page) => !page.published && addressOf(plan.slug, page) === href);
  return pages.flatMap(({ key, published }) => {
    if (!published) return [];
    const links = targetsOf(published).map(({ block, target }) => ({
      block,
      field: block.type === "form" ? "then" : block.type === "video" ? "press" : "target",
      href: hrefOf(source, key, target),
    }));
    const forms = formsOf(published).flatMap((form) =>
      (["checkPage", "confirmedPage"] as const).flatMap((field) =>
        form[field] ? [{ block: form, field: field, href: hrefOf(source, key, { to: "page", page: form[field] }) }] : [],
      ),
    );
    return [...links, ...forms].flatMap(({ block, field, href }): LaunchGap[] => {
      const page = draftAt(href);
      if (!page) return [];
      return [
        {
          code: "leads_to_draft",
          blocking: true,
          says: `On the page “${nameOf(pageOf(plan, key)!)}”, ${blockKinds[block.type].name.toLowerCase()} leads to the page “${nameOf(page)}”, which is not published.`,
          why: "Whoever presses it reads that there is nothing at this address.",
          at: { room: "page", page: key, block: block.id, field },
        },
      ];
    });
  });
};

/** What public pages say that is not so, or was never written. */
const untrueWords = ({ plan, pages, at }: ReadinessFacts): LaunchGap[] =>
  pages.flatMap(({ key, draft, published }) => {
    const page = pageOf(plan, key);
    if (!page) return [];
    const gaps: LaunchGap[] = [];
    for (const leaf of pageLeaves(published ?? draft)) {
      const left = textsOf(leaf).find(({ text }) => isStandIn(text));
      if (left)
        gaps.push({
          code: "template_words",
          blocking: false,
          says: `The page “${nameOf(page)}” still says “${shortened(left.text.split("\n").find(isStandIn)!.trim())}”.`,
          why: "These are the template's words, for you to replace.",
          at: { room: "page", page: key, block: leaf.id, field: left.field },
        });
    }
    const soon = published && pageLeaves(published).find((leaf) => textsOf(leaf).some(({ text }) => waitingWords.test(text)));
    const shownOpen = plan.pages.some((one) => {
      const gate = !behindAnOrder(one.kind) && gateAnswer(plan, one, "during");
      return gate && "page" in gate && gate.page === key;
    });
    if (soon && shownOpen && phasesFrom(plan, at).includes("during"))
      gaps.push({
        code: "says_soon",
        blocking: false,
        says: `The page “${nameOf(page)}” says that the doors are not open yet, and is shown while they are open.`,
        why: "Whoever comes then believes they are too early, and leaves.",
        at: { room: "page", page: key, block: soon.id, field: "text" },
      });
    return gaps;
  });

/** Pages that nobody can come to. */
const neverSeen = ({ plan, pages, onPath }: ReadinessFacts): LaunchGap[] =>
  pages.flatMap(({ id, key, published }): LaunchGap[] => {
    const page = pageOf(plan, key);
    if (!page) return [];
    if (page.kind === "offer")
      return onPath.includes(key)
        ? []
        : [
            {
              code: "offer_on_no_step",
              blocking: false,
              says: `The offer page /${page.slug} stands on no step of the path.`,
              why: "Nobody sees it until it does.",
              at: { room: "offers", page: id },
            },
          ];
    if (!published || page.kind !== "optin") return [];
    const shown = phases.some((phase) =>
      plan.pages.some((one) => {
        const gate = !behindAnOrder(one.kind) && gateAnswer(plan, one, phase);
        return gate && "page" in gate && gate.page === key;
      }),
    );
    return shown
      ? []
      : [
          {
            code: "never_shown",
            blocking: false,
            says: `The opt-in page /${page.slug} is published, but its gate always shows another page.`,
            why: "Nobody can join by it.",
            at: { room: "clock", part: "gates" },
          },
        ];
  });

const ofTheClock = ({ plan, at }: ReadinessFacts): LaunchGap[] => {
  const gaps: LaunchGap[] = [];
  const { clock } = plan;
  const begun = plan.pages.some(({ published }) => published);
  if (clock.kind === "fixed" && clock.window.closes <= at && (!begun || missingToCharge(plan).length > 0))
    gaps.push({
      code: "past_dates",
      blocking: true,
      says: `The doors closed on ${fullMoment(clock.window.closes, plan.zone)}, ${zoneCity(plan.zone)} time, before anything was published.`,
      why: "Nobody can buy or join on dates that are over.",
      at: { room: "clock", part: "deadline" },
    });
  if (clock.kind !== "personal" && !plan.pages.some(({ kind }) => kind === "closed") && plan.settings.gates.length === 0)
    gaps.push({
      code: "no_closed_page",
      blocking: false,
      says: "The launch has no page for after the close.",
      why: "Addresses go on showing what they showed while the doors were open.",
      at: { room: "clock", part: "gates" },
    });
  return gaps;
};

/**
 * All that a launch lacks as a whole, what visitors meet first. A page's own gaps (an empty headline, a missing picture)
 * are `pageGaps`.
 */
export const launchGaps = (facts: ReadinessFacts): LaunchGap[] => {
  const { plan, product } = facts;
  const missing = missingToCharge(plan).map((kind): LaunchGap => ({
    code: "not_published",
    blocking: true,
    says: `The ${pageNames[kind].toLowerCase()} page is not published.`,
    why: "Nothing can be charged without it.",
    at: { room: "page", page: plan.pages.find((page) => page.kind === kind)?.key ?? kind },
  }));
  const delivery: LaunchGap[] =
    product.digital && !product.accessAtOnce && plan.shape !== "list"
      ? [
          {
            code: "not_delivered",
            blocking: false,
            says: `${product.name} delivers nothing by itself yet.`,
            why: "Buyers get a receipt and no access: give it by a way of your own, and say so with the product. Until then the checkout takes no waiver of the right of withdrawal.",
            at: { room: "products", product: product.id },
          },
        ]
      : [];
  const emails = facts.unpublishedEmails.map((email): LaunchGap => ({
    code: "email_not_published",
    blocking: false,
    says: `The email “${subjectOf(plan, email)}” is not published.`,
    why: "It goes to nobody until it is.",
    at: { room: "emails", email },
  }));
  const all = [
    ...ofTheClock(facts),
    ...unanswered(facts),
    ...missing,
    ...leadsNowhere(facts),
    ...neverSeen(facts),
    ...untrueWords(facts),
    ...emails,
    ...delivery,
  ];
  // An unpublished page that several things point to is one thing to mend.
  const seen = new Set<string>();
  const key = ({ at }: LaunchGap) => (at.room === "page" && !at.block ? `page ${at.page}` : undefined);
  return all
    .filter((gap) => {
      const one = gap.blocking ? key(gap) : undefined;
      if (one === undefined) return true;
      if (seen.has(one)) return false;
      seen.add(one);
      return true;
    })
    .sort((a, b) => Number(b.blocking) - Number(a.blocking));
};

/** Where a gap is mended, as an address of the desk. */
export const gapHref = (launch: string, { at }: LaunchGap): string => {
  switch (at.room) {
    case "page":
      return `/desk/${launch}/pages/${at.page}${at.block ? `?block=${at.block}${at.field ? `&field=${at.field}` : ""}` : ""}`;
    case "clock":
      return `/desk/${launch}/clock#${at.part}`;
    case "offers":
      return `/desk/${launch}/offers?page=${at.page}`;
    case "products":
      return `/desk/products?at=${at.product}`;
    case "emails":
      return `/desk/${launch}/emails/${at.email}`;
  }
};

/** Pages whose draft can be made public as it stands: nothing blocks them, and it says something else than the public sees. */
export const readyToPublish = (
  pages: readonly (ReadyPage & Pick<GapFacts, "kind">)[],
  facts: Omit<GapFacts, "key" | "kind">,
  onPath: readonly string[],
): string[] =>
  pages
    .filter(({ published, draft }) => !published || JSON.stringify(published) !== JSON.stringify(draft))
    .filter(({ key, kind }) => kind !== "offer" || onPath.includes(key))
    .filter(({ key, kind, draft }) => !pageGaps(draft, { ...facts, key, kind }).some(({ blocking }) => blocking))
    .map(({ key }) => key);
