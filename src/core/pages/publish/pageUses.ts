import { behindAnOrder, gateAnswer, planOf, settingFaults, type LaunchSource, type WindowPhase } from "../../launch";
import { neededToCharge, sells, type PageContent } from "../content/content";
import { formsOf, targetsOf } from "../content/tree";

/** Something of a launch that would be without its page if one were taken away. */
export type PageUse =
  /** It stands at the launch's own address, which everybody is sent to. */
  | { by: "own_address" }
  /** Orders need a page of this kind, and there is no other. */
  | { by: "orders" }
  /** Another public address answers with it, before, while or after the doors are open. */
  | { by: "answer"; page: string; phase: WindowPhase }
  /** Other versions are tested beside it. */
  | { by: "test" }
  /** A setting of the clock's screen, by the first word of its path: gates, countdowns, episodes, stops, clock. */
  | { by: "setting"; part: string }
  /** A step of the offer path. */
  | { by: "step"; step: string }
  /** A button or a form of another page, in its draft or as the public sees it. */
  | { by: "link"; page: string; block: string };

/** A page of a launch with what it says. */
export interface UsedPage {
  id: string;
  key: string;
  draft: PageContent;
  published?: PageContent | null;
}

const leadsTo = (content: PageContent, key: string): string[] => [
  ...targetsOf(content).flatMap(({ block, target }) =>
    (target.to === "page" && target.page === key) || (target.to === "calendar" && target.of === key) ? [block.id] : [],
  ),
  ...formsOf(content).flatMap((form) => (form.checkPage === key || form.confirmedPage === key ? [form.id] : [])),
];

/** All that hangs on a page: while there is anything, it cannot be archived. */
export const pageUses = (
  source: LaunchSource,
  pages: readonly UsedPage[],
  steps: readonly { id: string; pageId: string }[],
  key: string,
  tested: boolean,
): PageUse[] => {
  const page = source.pages.find((one) => one.key === key);
  const id = pages.find((one) => one.key === key)?.id;
  if (!page) return [];
  const without = { ...source, pages: source.pages.filter((one) => one !== page) };
  const alone = sells(source) && neededToCharge.includes(page.kind) && !without.pages.some(({ kind }) => kind === page.kind);
  const plan = planOf(source);
  const answers = plan.pages
    .filter((one) => one.key !== key && one.published && !behindAnOrder(one.kind))
    .flatMap((one) =>
      (["before", "during", "after"] as const).flatMap((phase) => {
        const answer = gateAnswer(plan, one, phase);
        return "page" in answer && answer.page === key ? [{ by: "answer", page: one.key, phase } as const] : [];
      }),
    );
  const wrong = settingFaults(source);
  const parts = Object.keys(settingFaults(without)).flatMap((path) => (path in wrong ? [] : [path.split(".")[0]!]));
  return [
    ...(page.slug === "" ? [{ by: "own_address" } as const] : []),
    ...(alone ? [{ by: "orders" } as const] : []),
    ...(tested ? [{ by: "test" } as const] : []),
    ...answers,
    ...[...new Set(parts)].map((part) => ({ by: "setting", part }) as const),
    ...steps.filter(({ pageId }) => pageId === id).map((step) => ({ by: "step", step: step.id }) as const),
    ...pages
      .filter((one) => one.key !== key)
      .flatMap((one) => {
        const blocks = [one.draft, ...(one.published ? [one.published] : [])].flatMap((content) => leadsTo(content, key));
        return [...new Set(blocks)].map((block) => ({ by: "link", page: one.key, block }) as const);
      }),
  ];
};
