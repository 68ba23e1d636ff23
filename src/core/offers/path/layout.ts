import { inOrder, isEnd, meetingOf, rails, type Decision, type OfferPath } from "./path";

/** Where a step stands in the drawing: the column counts from the checkout (0) on, the lane from the trunk, yes upwards (negative). */
export interface Station {
  id: string;
  column: number;
  lane: number;
}
/** One rail of a step: from its station along a lane to where it leads. */
export interface Rail {
  from: string;
  rail: Decision;
  to: string;
  lane: number;
}
export interface PathLayout {
  stations: Station[];
  rails: Rail[];
  /** The last column, where every route ends. */
  columns: number;
  /** How far the drawing reaches above and below the trunk, in lanes. */
  up: number;
  down: number;
}

interface Extent {
  up: number;
  down: number;
}

/**
 * Lays a path out: a column for each step, in an order in which every rail leads to the right, so that no station and no
 * name of one covers another; lanes so that what stands
 * on the yes rail of a step is drawn above it and what stands on its no rail below, and both meet again on its own.
 */
export const layoutOf = (path: OfferPath): PathLayout => {
  const order = inOrder(path) ?? [];
  const steps = new Map(order.map((step) => [step.id, step]));
  const column = new Map(order.map(({ id }, index) => [id, index + 1]));
  const placed = new Map<string, Station>();
  const drawn: Rail[] = [];

  // How much room a stretch needs, before it is placed: what stands on a rail of a step pushes that rail away from the trunk.
  const measure = (at: string, stop: string | undefined, seen: Set<string>): Extent => {
    const step = steps.get(at);
    if (!step || at === stop || seen.has(at)) return { up: 0, down: 0 };
    seen.add(at);
    const meeting = meetingOf(path, at);
    const [yes, no] = [measure(step.yesTo, meeting, seen), measure(step.noTo, meeting, seen)];
    const rest = meeting === undefined ? { up: 0, down: 0 } : measure(meeting, stop, seen);
    return { up: Math.max(1 + yes.down + yes.up, rest.up), down: Math.max(1 + no.up + no.down, rest.down) };
  };
  const place = (at: string, stop: string | undefined, lane: number): void => {
    const step = steps.get(at);
    if (!step || at === stop || placed.has(at)) return;
    placed.set(at, { id: at, column: column.get(at)!, lane });
    const meeting = meetingOf(path, at);
    for (const rail of rails) {
      const to = rail === "yes" ? step.yesTo : step.noTo;
      const room = to === meeting ? { up: 0, down: 0 } : measure(to, meeting, new Set(placed.keys()));
      const along = rail === "yes" ? lane - 1 - room.down : lane + 1 + room.up;
      drawn.push({ from: at, rail, to, lane: along });
      if (!isEnd(to)) place(to, meeting, along);
    }
    if (meeting !== undefined) place(meeting, stop, lane);
  };
  place(path.first, undefined, 0);
  const lanes = [0, ...[...placed.values()].map(({ lane }) => lane), ...drawn.map(({ lane }) => lane)];
  return {
    stations: [...placed.values()],
    rails: drawn,
    columns: order.length + 1,
    up: 0 - Math.min(...lanes),
    down: Math.max(...lanes),
  };
};
