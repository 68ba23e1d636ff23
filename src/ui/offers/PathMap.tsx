import { scaleLinear } from "d3";
import { useMemo } from "react";
import { formatMoney } from "../kit/data/numbers";
import kit from "../kit/kit.module.css";
import { isEnd, layoutOf, takeAt, targetOn, type Economics, type Edge, type PathLayout, type Rail } from "../../core/offers";
import type { OffersView } from "../../core/pages";
import styles from "./offers.module.css";
import { percent } from "./view";

/** Where a new step would stand: on a stretch, or before a step or an end on all that lead there. */
export type Spot = Edge | { before: string };

interface Props {
  view: OffersView;
  economics: Economics;
  /** Whether people who were there are drawn, or buyers as they are estimated. */
  measured: boolean;
  selected: string;
  mayWrite: boolean;
  /** Left out where the map is only looked at. */
  onSelect?: (id: string) => void;
  onAdd?: (spot: Spot) => void;
  name?: string;
}

const lane = 46;
const head = 78;
const [left, right] = [62, 78];
const thickest = 22;

/** How many come along each rail, and to each step: as they were counted, or of a hundred as they are estimated. */
const flowsOf = ({ view, economics, measured }: Pick<Props, "view" | "economics" | "measured">) => {
  const reach = new Map(economics.levers.map((lever) => [lever.id, lever]));
  return (id: string) => {
    if (!measured) {
      const { reach: come = 0, take = 0 } = reach.get(id) ?? {};
      return { come: 100 * come, yes: 100 * come * take, no: 100 * come * (1 - take), here: 0 };
    }
    const { yes = 0, no = 0, here = 0 } = view.figures.steps[id] ?? {};
    return { come: yes + no + here, yes, no, here };
  };
};

/** The offer path as a track map: the trunk that everybody walks, the yes rail above it and the no rail below, as thick as people came. */
export const PathMap = ({ view, economics, measured, selected, mayWrite, onSelect, onAdd, name: called = "The offer path" }: Props) => {
  const layout = useMemo(() => layoutOf(view.path), [view.path]);
  const width = Math.max(766, left + right + layout.columns * 132);
  const height = head + (layout.up + layout.down) * lane + 46;
  const x = scaleLinear([0, layout.columns], [left, width - right]);
  const y = (at: number) => head + (at + layout.up) * lane + 8;
  const all = measured ? Math.max(1, view.figures.paid) : 100;
  const thick = scaleLinear([0, all], [1.5, thickest]).clamp(true);
  const flow = flowsOf({ view, economics, measured });
  const names = new Map(view.path.steps.map(({ id, productId }) => [id, view.products.find((one) => one.id === productId)]));
  const place = placesOf(layout, x, y);
  const figure = (n: number) => (measured ? n.toLocaleString("en") : n.toFixed(n < 10 ? 1 : 0));
  const money = (minor: number) => formatMoney(minor, view.main.currency);
  const broken = new Set(view.findings.filter(({ blocking }) => blocking).map(({ at }) => at));
  // The rails are named where the first of them run.
  const nameAt = (of: "yes" | "no") => layout.rails.find(({ rail }) => rail === of)?.lane ?? 0;
  const bumpTake = view.bumps.length > 0 ? Math.max(...view.bumps.map((id) => takeAt(view, id, measured))) : 0;
  const first = place(view.path.first);
  const stations: { id: string; name: string; under: string; at: { x: number; y: number } }[] = [
    {
      id: "checkout",
      name: "Checkout",
      under: measured ? `${view.figures.paid.toLocaleString("en")} paid` : "of 100 who pay",
      at: place("checkout"),
    },
    ...layout.stations.map(({ id }) => ({
      id,
      name: names.get(id)?.name ?? "a step",
      under: names.get(id) ? money(names.get(id)!.priceMinor) : "",
      at: place(id),
    })),
    { id: "thanks", name: "Thank you", under: measured ? `${view.figures.arrived.toLocaleString("en")} arrived` : "", at: place("thanks") },
  ];
  const spots = mayWrite && onAdd ? spotsOf(view, layout, place, names) : [];
  return (
    <figure className={`${styles.map} ${kit.wide}`} tabIndex={0} aria-label={called}>
      <div style={{ width, height, position: "relative" }}>
        <svg width={width} height={height} viewBox={`0 0 ${width} ${height}`} aria-hidden="true">
          {layout.up > 0 && (
            <text x={0} y={y(nameAt("yes")) + 4} className={styles.yesName}>
              yes rail
            </text>
          )}
          {layout.down > 0 && (
            <text x={0} y={y(nameAt("no")) + 4} className={styles.noName}>
              no rail
            </text>
          )}
          <line x1={place("checkout").x} x2={first.x} y1={y(0)} y2={y(0)} stroke="var(--ink)" strokeWidth={thick(all)} />
          {layout.rails.map((rail) => (
            <RailLine
              key={`${rail.from}${rail.rail}`}
              rail={rail}
              from={place(rail.from)}
              to={place(rail.to)}
              y={y(rail.lane)}
              width={thick(flow(rail.from)[rail.rail])}
            />
          ))}
          {layout.rails.map(({ from, rail, to, lane: at }) => {
            const { come, yes, no, here } = flow(from);
            const start = place(from).x + 34;
            const gross = view.figures.gross[from];
            const half = thick(rail === "yes" ? yes : no) / 2;
            return rail === "yes" ? (
              <text key={from + rail} x={start} y={y(at) - half - 6} className={styles.yesFigure}>
                {come - here > 0
                  ? `${figure(yes)} of ${figure(come - here)}, ${percent(yes / (come - here))}${measured && gross && place(to).x - place(from).x > 230 ? ` · ${money(gross)}` : ""}`
                  : "nobody yet"}
              </text>
            ) : (
              <text key={from + rail} x={start} y={y(at) + half + 15} className={styles.noFigure}>
                {figure(no)} said no{here > 0 ? `, ${figure(here)} undecided` : ""}
              </text>
            );
          })}
          {view.bumps.length > 0 && (
            <g transform={`translate(${(place("checkout").x + first.x) / 2} ${y(0)})`}>
              <rect x={-24} y={-23} width={48} height={46} fill="var(--panel)" stroke="var(--verdigris)" strokeWidth="2" />
              <text y={-3} textAnchor="middle" className={styles.small}>
                {view.bumps.length === 1 ? "bump" : `${view.bumps.length} bumps`}
              </text>
              <text y={14} textAnchor="middle" className={styles.yesFigure}>
                {percent(bumpTake)}
              </text>
            </g>
          )}
          {stations.map(({ id, at }) => (
            <g key={id}>
              <line x1={at.x} x2={at.x} y1={head - 32} y2={at.y - 18} stroke="var(--rule)" strokeDasharray="1 4" />
              <rect
                x={at.x - 7}
                y={at.y - 17}
                width={14}
                height={34}
                rx={2}
                fill={id === selected ? "var(--ink)" : broken.has(id) ? "var(--madder-tint)" : "var(--panel)"}
                stroke={broken.has(id) ? "var(--madder)" : "var(--ink)"}
                strokeWidth="2"
              />
            </g>
          ))}
        </svg>
        {stations.map(({ id, name, under, at }) => (
          <button
            key={id}
            type="button"
            className={styles.station}
            style={{ left: at.x, top: 0, height: at.y + 20 }}
            aria-pressed={id === selected}
            aria-description={broken.has(id) ? "Something is missing here" : undefined}
            data-station={id}
            disabled={!onSelect}
            onClick={() => onSelect?.(id)}
          >
            <b>
              {broken.has(id) && <i aria-hidden="true">! </i>}
              {name}
            </b>
            <span>{under}</span>
          </button>
        ))}
        {spots.map(({ spot, name, at }) => (
          <button
            key={name}
            type="button"
            className={styles.spot}
            style={{ left: at.x, top: at.y }}
            aria-label={name}
            title={name}
            onClick={() => onAdd?.(spot)}
          >
            +
          </button>
        ))}
      </div>
    </figure>
  );
};

type Place = (id: string) => { x: number; y: number };
const placesOf = ({ stations, columns }: PathLayout, x: (column: number) => number, y: (lane: number) => number): Place => {
  const known = new Map(stations.map(({ id, column, lane: at }) => [id, { x: x(column), y: y(at) }]));
  return (id) => (id === "checkout" ? { x: x(0), y: y(0) } : (known.get(id) ?? { x: x(columns), y: y(0) }));
};

/** A rail leaves its station slantwise, runs along its lane, and comes down where it leads. */
const RailLine = ({
  rail,
  from,
  to,
  y,
  width,
}: {
  rail: Rail;
  from: { x: number; y: number };
  to: { x: number; y: number };
  y: number;
  width: number;
}) => {
  const slant = Math.min(26, (to.x - from.x) / 4);
  const ends = isEnd(rail.to) ? to.x - 6 : to.x;
  return (
    <path
      d={`M${from.x} ${from.y}L${from.x + slant} ${y}H${ends - slant}L${ends} ${to.y}`}
      fill="none"
      strokeLinejoin="round"
      stroke={rail.rail === "yes" ? "var(--verdigris)" : "var(--ink-2)"}
      strokeWidth={width}
    />
  );
};

/** Every place where a step can be put, named as a hand would be told. */
const spotsOf = (view: OffersView, layout: PathLayout, place: Place, names: Map<string, { name: string } | undefined>) => {
  const nameOf = (id: string) => (id === "thanks" || isEnd(id) ? "the thank-you page" : (names.get(id)?.name ?? "a step"));
  const spots: { spot: Spot; name: string; at: { x: number; y: number } }[] = [];
  const first = place(view.path.first);
  const checkout = place("checkout");
  const room = view.bumps.length > 0 ? 0.82 : 0.5;
  spots.push({
    spot: { from: "checkout" },
    name: "Add a step after the checkout",
    at: { x: checkout.x + (first.x - checkout.x) * room, y: checkout.y },
  });
  for (const rail of layout.rails) {
    const [from, to] = [place(rail.from), place(rail.to)];
    const y = checkout.y + rail.lane * lane;
    spots.push({
      spot: { from: rail.from, rail: rail.rail },
      name: `Add a step on the ${rail.rail} rail of ${nameOf(rail.from)}`,
      at: { x: to.x - Math.min(44, (to.x - from.x) / 3), y },
    });
  }
  // Before what several stretches lead to: there everybody passes.
  const targets = new Map<string, number>();
  for (const { to } of layout.rails) targets.set(to, (targets.get(to) ?? 0) + 1);
  for (const [to, n] of targets)
    if (n > 1 && targetOn(view.path, { from: "checkout" }) !== to)
      spots.push({ spot: { before: to }, name: `Add a step for everybody before ${nameOf(to)}`, at: { x: place(to).x - 18, y: place(to).y } });
  return spots;
};
