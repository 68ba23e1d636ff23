import { rateWords } from "../../core/figures";
import { behindAnOrder, gateAnswer, pageOf, unlocksAt, windowFor, type LaunchPage, type LaunchPlan, type WindowPhase } from "../../core/launch";
import { changesBetween, goalOf, headlineOf, pageNames, type PageContent } from "../../core/pages";
import { counted, shortMoment } from "../../core/words";

interface SheetPage {
  id: string;
  key: string;
  kind: LaunchPage["kind"];
  slug: string;
  version: number;
  draft: PageContent;
  published?: PageContent | null;
  publishedAt?: Date | null;
}

interface PageGapLine {
  says: string;
  blocking: boolean;
  block?: string;
  field?: string;
}

interface Facts {
  plan: LaunchPlan;
  pages: SheetPage[];
  /** Keys of pages of which several versions are tested. */
  tested: ReadonlySet<string>;
  figures: { page: string; variant: string; people: number; optedIn: number; began: number; paid: number }[];
  films: { page: string; reached: [number, number, number, number] }[];
  gaps: (page: SheetPage) => PageGapLine[];
}

/** How a page is called where it stands among others. */
export const pageName = (page: Pick<LaunchPage, "kind" | "slug">): string => (page.kind === "content" ? `/${page.slug}` : pageNames[page.kind]);

/** Which page answers at an address before, while and after the doors are open. */
export const gateWords = (plan: LaunchPlan, page: LaunchPage): string => {
  if (behindAnOrder(page.kind)) return "with an order, at any time";
  const at = (phase: WindowPhase) => {
    const answer = gateAnswer(plan, page, phase);
    if ("address" in answer) return answer.address;
    return answer.page === page.key ? "this page" : pageName(pageOf(plan, answer.page)!).toLowerCase();
  };
  const [before, during, after] = [at("before"), at("during"), at("after")];
  return before === "this page" && during === before && after === before
    ? "always open"
    : `before: ${before} · while open: ${during} · after: ${after}`;
};

/** Which episode a page is, and when it opens for somebody who has done nothing yet; empty for other pages. */
export const episodeWords = (plan: LaunchPlan, page: LaunchPage, at: Date): string => {
  const index = plan.episodes.findIndex((episode) => episode.page.key === page.key);
  if (index < 0) return "";
  const opens = unlocksAt(plan, plan.episodes[index]!.unlock, {}, windowFor(plan, {}, at));
  const awaits = opens.awaits === "opt_in" ? "opens by the opt-in" : opens.awaits ? "opens by their clock" : "open";
  return `episode ${index + 1} of ${plan.episodes.length}, ${opens.at ? `opens ${shortMoment(opens.at, plan.zone)}` : awaits}`;
};

/** The pages of a launch in visiting order, each with its state, its gate, what came of it and its first gaps. */
export const contactSheet = ({ plan, pages, tested, figures, films, gaps }: Facts, at: Date) =>
  pages.map((page) => {
    const planned = pageOf(plan, page.key)!;
    const changed = page.published && changesBetween(page.published, page.draft).length > 0;
    const mine = figures.filter((row) => row.page === page.key);
    const people = mine.reduce((sum, row) => sum + row.people, 0);
    const manyVersions = tested.has(page.key);
    const editor = `/desk/${plan.slug}/pages/${page.key}`;
    return {
      id: page.id,
      key: page.key,
      version: page.version,
      editor,
      name: pageName(planned),
      title: page.kind === "content" ? headlineOf(page.draft) : pageNames[page.kind],
      address: `/${plan.slug}${page.slug ? `/${page.slug}` : ""}`,
      state: !page.published ? "not published" : changed ? "changed since it was published" : "published",
      live: Boolean(page.published) && !changed,
      publishedAt: page.published && page.publishedAt ? shortMoment(page.publishedAt, plan.zone) : "",
      gate: [episodeWords(plan, planned, at), gateWords(plan, planned)].filter(Boolean).join(" · "),
      came: mine
        .filter((row) => manyVersions || row.variant === "A")
        .map((row) => {
          const goal = goalOf(page.kind, row);
          return {
            variant: manyVersions ? `${row.variant}: ` : "",
            words: goal ? `${goal.says}: ${rateWords(goal.people, row.people)}` : counted(row.people, "person", "people"),
          };
        }),
      watched: films
        .filter((film) => film.page === page.key && people > 0)
        .map(({ reached }) => `watched half: ${rateWords(reached[1], people)}; to the end: ${reached[3].toLocaleString("en")}`),
      gaps: gaps(page)
        .slice(0, 3)
        .map(({ says, blocking, block, field }) => ({
          says,
          blocking,
          href: `${editor}${block ? `?block=${block}${field ? `&field=${field}` : ""}` : ""}`,
        })),
    };
  });
