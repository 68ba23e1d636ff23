/** What a step is: an offer after the payment, or the cheaper one that stands where an offer was declined. */
export const stepKinds = ["offer", "downsell"] as const;
export type StepKind = (typeof stepKinds)[number];

/** One offer after the checkout, with where *yes* and *no* lead. */
export interface PathStep {
  id: string;
  kind: StepKind;
  productId: string;
  pageId: string;
  /** Whether *yes* is asked once more before the card is charged. */
  sure: boolean;
  /** A step's id, or an end. */
  yesTo: string;
  noTo: string;
}

/** The end of a path on the launch's own thank-you page; `thanks:<page id>` is the end on another. */
export const pathEnd = "thanks";
export const isEnd = (target: string): boolean => target === pathEnd || target.startsWith(`${pathEnd}:`);
/** The page of an end, where it is not the launch's own. */
export const endPage = (target: string): string | undefined => (target.startsWith(`${pathEnd}:`) ? target.slice(pathEnd.length + 1) : undefined);

/** An offer path: the first step after the first payment (or an end) and all its steps. A graph without cycles. */
export interface OfferPath {
  first: string;
  steps: PathStep[];
}
export const emptyPath: OfferPath = { first: pathEnd, steps: [] };

export type Decision = "yes" | "no";
export const rails = ["yes", "no"] as const satisfies Decision[];

/** A stretch of the path: from the checkout, or from a step on one of its rails. */
export type Edge = { from: "checkout" } | { from: string; rail: Decision };
export const targetOn = (path: OfferPath, edge: Edge): string => {
  if (!("rail" in edge)) return path.first;
  const step = path.steps.find(({ id }) => id === edge.from)!;
  return edge.rail === "yes" ? step.yesTo : step.noTo;
};

const byId = ({ steps }: OfferPath): Map<string, PathStep> => new Map(steps.map((step) => [step.id, step]));

/** Where a person stands who has made these decisions: the step to show, or an end. */
export const stepAfter = (path: OfferPath, decisions: ReadonlyMap<string, Decision>): string => {
  const steps = byId(path);
  let at = path.first;
  for (let walked = 0; walked <= path.steps.length; walked += 1) {
    const step = steps.get(at);
    const decision = decisions.get(at);
    if (!step) return isEnd(at) ? at : pathEnd;
    if (!decision) return at;
    at = decision === "yes" ? step.yesTo : step.noTo;
  }
  return pathEnd;
};

/** The steps that buyers can reach, each before those it leads to; undefined where they go in a circle. */
export const inOrder = (path: OfferPath): PathStep[] | undefined => {
  const steps = byId(path);
  const done: PathStep[] = [];
  const state = new Map<string, "open" | "done">();
  const visit = (id: string): boolean => {
    const step = steps.get(id);
    if (!step || state.get(id) === "done") return true;
    if (state.get(id) === "open") return false;
    state.set(id, "open");
    if (!visit(step.noTo) || !visit(step.yesTo)) return false;
    state.set(id, "done");
    done.unshift(step);
    return true;
  };
  return visit(path.first) ? done : undefined;
};

/** Where everybody goes on who has come to a step, whatever they answer; undefined where the rails end on different pages. */
export const meetingOf = (path: OfferPath, id: string): string | undefined => {
  const order = inOrder(path) ?? [];
  // All that lies on every route from a place to its end, the nearest first (post-dominators).
  const certain = new Map<string, string[]>();
  const onward = (target: string): string[] => [target, ...(certain.get(target) ?? [])];
  for (const step of [...order].reverse()) {
    const no = new Set(onward(step.noTo));
    certain.set(
      step.id,
      onward(step.yesTo).filter((target) => no.has(target)),
    );
  }
  return certain.get(id)?.[0];
};

/** The steps between a step and where its rails meet again, the step first: they stand and fall with it. */
export const blockOf = (path: OfferPath, id: string): string[] => {
  const steps = byId(path);
  const stop = meetingOf(path, id);
  const found: string[] = [];
  const walk = (at: string) => {
    const step = steps.get(at);
    if (!step || at === stop || found.includes(at)) return;
    found.push(at);
    walk(step.yesTo);
    walk(step.noTo);
  };
  walk(id);
  return found;
};

const redirect = (path: OfferPath, to: (target: string, from: string) => string): OfferPath => ({
  first: to(path.first, "checkout"),
  steps: path.steps.map((step) => ({ ...step, yesTo: to(step.yesTo, step.id), noTo: to(step.noTo, step.id) })),
});

/** Drops the steps that no buyer can reach. */
const reachable = (path: OfferPath): OfferPath => {
  const kept = new Set((inOrder(path) ?? path.steps).map(({ id }) => id));
  return { ...path, steps: path.steps.filter(({ id }) => kept.has(id)) };
};

type NewStep = Omit<PathStep, "yesTo" | "noTo">;

/** A step put on one stretch: who comes along there meets it first and goes on, either way, where the stretch led. */
export const insertOn = (path: OfferPath, edge: Edge, made: NewStep): OfferPath => {
  const target = targetOn(path, edge);
  const step: PathStep = { ...made, yesTo: target, noTo: target };
  if (!("rail" in edge)) return { first: step.id, steps: [step, ...path.steps] };
  return {
    ...path,
    steps: [...path.steps.map((one) => (one.id === edge.from ? { ...one, [edge.rail === "yes" ? "yesTo" : "noTo"]: step.id } : one)), step],
  };
};

/** A step put before another, or before an end, on every stretch that leads there. */
export const insertBefore = (path: OfferPath, target: string, made: NewStep): OfferPath => {
  const moved = redirect(path, (to) => (to === target ? made.id : to));
  return { ...moved, steps: [...moved.steps, { ...made, yesTo: target, noTo: target }] };
};

/** The path without a step: who came to it goes on where its rails met. What stood between them, such as its downsell, goes too. */
export const removeStep = (path: OfferPath, id: string): OfferPath => {
  const step = path.steps.find((one) => one.id === id);
  if (!step) return path;
  const gone = new Set(blockOf(path, id));
  const next = meetingOf(path, id);
  // Rails that end apart have no meeting: the no rail goes on, as for those who were not asked.
  if (next === undefined)
    return reachable(redirect({ ...path, steps: path.steps.filter((one) => one.id !== id) }, (to) => (to === id ? step.noTo : to)));
  const rest = { ...path, steps: path.steps.filter((one) => !gone.has(one.id)) };
  return reachable(redirect(rest, (to) => (gone.has(to) ? next : to)));
};

/** The path without the steps that cannot be shown now: buyers pass them over. */
export const without = (path: OfferPath, ids: readonly string[]): OfferPath => ids.reduce(removeStep, path);

/** Whether a step is come to from the block of another alone: both stand one after the other on the same stretch. */
const follows = (path: OfferPath, id: string, before: string): boolean => {
  const block = new Set(blockOf(path, before));
  return path.first !== id && path.steps.every(({ id: from, yesTo, noTo }) => block.has(from) || (yesTo !== id && noTo !== id));
};

/** A step, with what stands between its rails, after the next one on its stretch instead of before it; the path itself where none follows. */
export const moveLater = (path: OfferPath, id: string): OfferPath => {
  const next = meetingOf(path, id);
  if (next === undefined || isEnd(next) || !follows(path, next, id)) return path;
  const after = meetingOf(path, next);
  if (after === undefined) return path;
  const [mine, theirs] = [new Set(blockOf(path, id)), new Set(blockOf(path, next))];
  return redirect(path, (to, from) => {
    if (mine.has(from)) return to === next ? after : to;
    if (theirs.has(from)) return to === after ? id : to;
    return to === id ? next : to;
  });
};

/** A step before the one it stands behind, the other way round. */
export const moveEarlier = (path: OfferPath, id: string): OfferPath => {
  const before = path.steps.find((step) => meetingOf(path, step.id) === id && follows(path, id, step.id));
  return before ? moveLater(path, before.id) : path;
};

export type RewireRefusal = { code: "cycle"; through: string[] } | { code: "edge_to_nothing"; to: string };

/** One rail of a step led somewhere else. Refused where it would lead back to the step, or nowhere. */
export const rewire = (path: OfferPath, id: string, rail: Decision, to: string): OfferPath | RewireRefusal => {
  if (!isEnd(to) && !path.steps.some((step) => step.id === to)) return { code: "edge_to_nothing", to };
  const next = { ...path, steps: path.steps.map((step) => (step.id === id ? { ...step, [rail === "yes" ? "yesTo" : "noTo"]: to } : step)) };
  const [cycle] = cyclesOf(next);
  return cycle ? { code: "cycle", through: cycle } : next;
};

/** Circles in a path, each as the steps it goes through, the first again at the end. */
export const cyclesOf = (path: OfferPath): string[][] => {
  const steps = byId(path);
  const found: string[][] = [];
  const clean = new Set<string>();
  const visit = (id: string, trail: string[]): void => {
    if (trail.includes(id)) return void found.push([...trail.slice(trail.indexOf(id)), id]);
    const step = steps.get(id);
    if (!step || clean.has(id)) return;
    for (const next of new Set([step.yesTo, step.noTo])) visit(next, [...trail, id]);
    clean.add(id);
  };
  for (const { id } of path.steps) visit(id, []);
  return found;
};

/** One way through a path: the answers in order, and the end they lead to. */
export interface Route {
  answers: { step: string; decision: Decision }[];
  end: string;
}

/** Every way through a path, the all-yes one first; at most so many. */
export const routesOf = (path: OfferPath, most = 200): Route[] => {
  const steps = byId(path);
  const routes: Route[] = [];
  const walk = (at: string, answers: Route["answers"]): void => {
    if (routes.length >= most || answers.length > path.steps.length) return;
    const step = steps.get(at);
    if (!step) return void routes.push({ answers, end: isEnd(at) ? at : pathEnd });
    for (const decision of rails) walk(decision === "yes" ? step.yesTo : step.noTo, [...answers, { step: at, decision }]);
  };
  walk(path.first, []);
  return routes;
};

/** The same path with other steps, pages and products, as a copy needs them. */
export const renamePath = (
  path: OfferPath,
  names: { step: (id: string) => string; page: (id: string) => string; product: (id: string) => string },
): OfferPath => {
  const target = (to: string): string => {
    const page = endPage(to);
    return page !== undefined ? `${pathEnd}:${names.page(page)}` : isEnd(to) ? to : names.step(to);
  };
  return {
    first: target(path.first),
    steps: path.steps.map((step) => ({
      ...step,
      id: names.step(step.id),
      pageId: names.page(step.pageId),
      productId: names.product(step.productId),
      yesTo: target(step.yesTo),
      noTo: target(step.noTo),
    })),
  };
};
