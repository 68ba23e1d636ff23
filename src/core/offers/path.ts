/** One offer after the checkout, with where *yes* and *no* lead. `thanks` is the end of the path. */
export interface PathStep {
  id: string;
  productId: string;
  pageSlug: string;
  yesTo: string;
  noTo: string;
}
export const pathEnd = "thanks";

/** An offer path: the first step after the first payment (or the end) and all its steps. */
export interface OfferPath {
  first: string;
  steps: PathStep[];
}

export type PathGap =
  { code: "edge_to_nothing"; from: string; to: string } | { code: "cycle"; through: string[] } | { code: "unreachable"; step: string };

export type Decision = "yes" | "no";

/** Everything that makes a path unable to run. An empty list is a path on which every route ends on a thank-you page. */
export const pathGaps = (path: OfferPath): PathGap[] => {
  const byId = new Map(path.steps.map((step) => [step.id, step]));
  const gaps: PathGap[] = [];
  const seen = new Set<string>();
  const visit = (id: string, from: string, trail: string[]): void => {
    if (id === pathEnd) return;
    if (trail.includes(id)) return void gaps.push({ code: "cycle", through: [...trail.slice(trail.indexOf(id)), id] });
    const step = byId.get(id);
    if (!step) return void gaps.push({ code: "edge_to_nothing", from, to: id });
    if (seen.has(id)) return;
    for (const next of new Set([step.yesTo, step.noTo])) visit(next, id, [...trail, id]);
    seen.add(id);
  };
  visit(path.first, "checkout", []);
  for (const { id } of path.steps)
    if (!seen.has(id) && !gaps.some((gap) => gap.code === "cycle" && gap.through.includes(id))) gaps.push({ code: "unreachable", step: id });
  return gaps;
};

/** Where a person stands who has made these decisions in order: the step to show, or the end. */
export const stepAfter = (path: OfferPath, decisions: ReadonlyMap<string, Decision>): string => {
  const byId = new Map(path.steps.map((step) => [step.id, step]));
  let at = path.first;
  for (let walked = 0; walked <= path.steps.length; walked += 1) {
    const step = byId.get(at);
    const decision = decisions.get(at);
    if (!step || !decision) return step ? at : pathEnd;
    at = decision === "yes" ? step.yesTo : step.noTo;
  }
  return pathEnd;
};
