import { isEnd, stepAfter, type Decision, type OfferPath } from "./path";

/** Buyers who gave the same answers on the same version of a path. */
export interface SameWalk {
  version: number;
  answers: Record<string, Decision>;
  orders: number;
}
/** How buyers answered a step: those who stand before it have not. */
export interface StepFigure {
  yes: number;
  no: number;
  here: number;
}

/** What came of each step, over all versions of a path; `paths` are those versions. A step that nobody saw is missing. */
export const walkedSteps = (walks: readonly SameWalk[], paths: ReadonlyMap<number, OfferPath>): Record<string, StepFigure> => {
  const figures: Record<string, StepFigure> = {};
  const at = (id: string): StepFigure => (figures[id] ??= { yes: 0, no: 0, here: 0 });
  for (const { version, answers, orders } of walks) {
    for (const [id, decision] of Object.entries(answers)) at(id)[decision] += orders;
    const next = stepAfter(paths.get(version) ?? { first: "thanks", steps: [] }, new Map(Object.entries(answers)));
    if (!isEnd(next)) at(next).here += orders;
  }
  return figures;
};
