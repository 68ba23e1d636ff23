import { bin, max, scaleBand, scaleLinear } from "d3";
import { useEffect, useMemo, useRef, useState } from "react";
import {
  economicsInput,
  endPage,
  estimate,
  isTried,
  measuredAt,
  noTrial,
  paymentsOf,
  removeStep,
  takeAt,
  type Economics,
  type OfferPath,
  type Simulation,
  type Trial,
} from "../../core/offers";
import { wilson } from "../../core/figures";
import type { OffersView } from "../../core/pages";
import { Button } from "../kit/Button";
import { formatAmount, formatMoney, formatRoughly, readAmount } from "../kit/data/numbers";
import { Select } from "../kit/fields/Select";
import styles from "./offers.module.css";
import { PathMap } from "./PathMap";
import { percent } from "./view";

interface Props {
  view: OffersView;
  measured: boolean;
  selected: string;
  trial: Trial;
  onTrial: (trial: Trial) => void;
  onKeep?: () => void;
  onPayments?: LeverProps["onPayments"];
}

const [width, height, base] = [766, 132, 108];
const mostBars = 26;

interface Bar {
  low: number;
  high: number;
  chance: number;
}
/** One bar for each order value; where there are too many of them, for each stretch of values. */
const barsOf = (distribution: Economics["distribution"]): Bar[] => {
  if (distribution.length <= mostBars) return distribution.map(({ pays, chance }) => ({ low: pays, high: pays, chance }));
  return bin<(typeof distribution)[number], number>()
    .value(({ pays }) => pays)
    .thresholds(mostBars)(distribution)
    .filter((group) => group.length > 0)
    .map((group) => ({ low: group[0]!.pays, high: group.at(-1)!.pays, chance: group.reduce((sum, { chance }) => sum + chance, 0) }));
};

/** What an order comes to, with its chances. */
const Distribution = ({ economics, currency }: { economics: Economics; currency: string }) => {
  const bars = barsOf(economics.distribution);
  const x = scaleBand(
    bars.map((_, index) => String(index)),
    [0, width],
  ).padding(0.45);
  const top = max(bars, ({ chance }) => chance) ?? 1;
  const y = scaleLinear([0, top], [base, 26]);
  const every = Math.ceil(bars.length / 11);
  const round = (minor: number) => formatRoughly(minor, currency);
  // The average stands between the bars as far along as its value.
  const middle = (index: number) => x(String(index))! + x.bandwidth() / 2;
  const bar = Math.min(x.bandwidth(), 22);
  const after = bars.findIndex(({ low }) => low >= economics.pays);
  const at =
    after <= 0
      ? middle(0)
      : middle(after - 1) +
        ((middle(after) - middle(after - 1)) * (economics.pays - bars[after - 1]!.high)) / Math.max(1, bars[after]!.low - bars[after - 1]!.high);
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      width="100%"
      role="img"
      aria-label={`Order values and their chances: ${bars.map(({ low, chance }) => `${round(low)} ${percent(chance)}`).join(", ")}. Average ${formatMoney(Math.round(economics.pays), currency)}.`}
    >
      {bars.map(({ low, high, chance }, index) => (
        <g key={low}>
          <rect className={styles.bar} x={middle(index) - bar / 2} y={y(chance)} width={bar} height={Math.max(0.8, base - y(chance))} />
          {index % every === 0 && (
            <text className={styles.axis} x={middle(index)} y={base + 16} textAnchor="middle">
              {low === high ? round(low) : `from ${round(low)}`}
            </text>
          )}
        </g>
      ))}
      <line x1={0} x2={width} y1={base} y2={base} stroke="var(--ink)" />
      <line x1={at} x2={at} y1={8} y2={base} stroke="var(--ink)" strokeWidth="2" strokeDasharray="5 3" />
      {/* Over the line, which may pass through a bar's figure. */}
      {bars.length <= 16 &&
        bars.map(({ low, chance }, index) =>
          chance < 0.005 ? null : (
            <text key={low} className={`${styles.axis} ${styles.over}`} x={middle(index)} y={y(chance) - 5} textAnchor="middle">
              {percent(chance)}
            </text>
          ),
        )}
      <text className={styles.mean} x={at + 6} y={17}>
        average {formatMoney(Math.round(economics.pays), currency)}
      </text>
    </svg>
  );
};

/** What an order on this path is worth, exactly; what would change it; and simulated buyers for whoever doubts. */
export const EconomicsPane = ({ view, measured, selected, trial, onTrial, onKeep, onPayments }: Props) => {
  const { currency } = view.main;
  const money = (minor: number) => formatMoney(Math.round(minor), currency);
  const tried = isTried(trial);
  const [beside, setBeside] = useState("");
  const now = useMemo(() => estimate(view, view.path, noTrial, measured), [view, measured]);
  const economics = useMemo(() => estimate(view, view.path, trial, measured), [view, trial, measured]);
  const others = useMemo(() => othersOf(view, selected), [view, selected]);
  const other = others.find(({ id }) => id === beside);
  const compared = useMemo(
    () => (other ? estimate(view, other.path, trial, measured) : tried ? now : undefined),
    [view, other, trial, measured, tried, now],
  );
  const [simulation, setSimulation] = useState<Simulation & { ms: number }>();
  const [busy, setBusy] = useState(false);
  const worker = useRef<Worker>(undefined);
  useEffect(() => () => worker.current?.terminate(), []);
  useEffect(() => setSimulation(undefined), [view, trial, measured]);
  const send = () => {
    setBusy(true);
    worker.current ??= new Worker(new URL("./simulate.worker.ts", import.meta.url), { type: "module" });
    worker.current.onmessage = ({ data }: MessageEvent<{ simulation: Simulation; ms: number }>) => {
      setBusy(false);
      setSimulation({ ...data.simulation, ms: data.ms });
    };
    worker.current.postMessage({ input: economicsInput(view, view.path, trial, measured), buyers: 1_000_000, seed: Math.floor(Date.now() / 1000) });
  };
  const difference = (mine: number, theirs: number) => (
    <em data-less={mine < theirs || undefined}>
      {mine >= theirs ? "+" : "−"}
      {money(Math.abs(mine - theirs))}
    </em>
  );
  const sum = (name: string, pick: (of: Economics) => number) => (
    <div>
      <dt>{name}</dt>
      <dd>
        {money(pick(economics))} {compared && difference(pick(economics), pick(compared))}
      </dd>
    </div>
  );
  const ends = Object.keys(economics.ends);
  return (
    <section className={styles.economics} aria-label="What an order is worth">
      <hr className="oxford" />
      <header>
        <h2>What an order is worth</h2>
        <span className="muted">{measured ? "with what was measured so far" : "as assumed"}, exact for this path</span>
      </header>
      <dl className={styles.sums}>
        {sum("a buyer pays", ({ pays }) => pays)}
        {sum("net per order", ({ keeps }) => keeps)}
        {sum("kept per visitor", ({ perVisitor }) => perVisitor.keeps)}
      </dl>
      <p className="muted">
        Kept: after tax, fees, {percent(view.deductions.commission)} commission and {percent(view.deductions.refunds)} refunds. An order may cost{" "}
        {money(economics.keeps)} in adverts and a click {money(economics.perVisitor.keeps)} before they lose money; {percent(view.conversion)} of
        visitors buy.
        {ends.length > 1 &&
          ` Ends: ${ends.map((end) => `${view.ends.find(({ id }) => id === endPage(end))?.name ?? "thank you"} ${percent(economics.ends[end]!)}`).join(", ")}.`}
        {compared && ` The figures behind a sign are against ${other ? other.label : "the path as it stands"}.`}
      </p>
      {!other && <Distribution economics={economics} currency={currency} />}
      {other &&
        compared &&
        [
          { name: "This path", path: view.path, of: economics },
          { name: sentence(other.label), path: other.path, of: compared },
        ].map(({ name, path, of }) => (
          <section key={name} className={styles.beside} aria-label={name}>
            <h3>{name}</h3>
            <p className="muted">
              A buyer pays {money(of.pays)}, of which {money(of.keeps)} are kept.
            </p>
            <PathMap view={{ ...view, path, findings: [] }} economics={of} measured={false} selected="" mayWrite={false} name={`${name}, drawn`} />
            <Distribution economics={of} currency={currency} />
          </section>
        ))}
      <Levers view={view} economics={economics} trial={trial} measured={measured} onTrial={onTrial} onPayments={onPayments} />
      <div className={styles.foot}>
        <Select
          label="Compare with"
          hideLabel
          value={beside}
          options={[{ value: "", label: "compare with another path" }, ...others.map(({ id, label }) => ({ value: id, label }))]}
          onChange={(picked) => setBeside(picked)}
        />
        {tried && <Button onClick={() => onTrial(noTrial)}>Put it back</Button>}
        {tried && onKeep && <Button onClick={onKeep}>Keep these rates as assumed</Button>}
        <Button disabled={busy} onClick={send}>
          {busy ? "They are on their way…" : "Send 1,000,000 simulated buyers"}
        </Button>
        <p role="status">
          {simulation &&
            `They paid ${formatMoney(Math.round(simulation.pays), currency)} each, give or take ${formatMoney(Math.ceil(simulation.within), currency)}: ${
              Math.abs(simulation.pays - economics.pays) <= 1.6 * simulation.within + 1
                ? "the exact answer holds"
                : "further from the exact answer than chance allows"
            }.`}
        </p>
      </div>
    </section>
  );
};

const sentence = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1);

/** Paths to set beside this one: its earlier versions, and itself without the step that is looked at. */
const othersOf = (view: OffersView, selected: string): { id: string; label: string; path: OfferPath }[] => {
  const step = view.path.steps.find(({ id }) => id === selected);
  const name = step && view.products.find(({ id }) => id === step.productId)?.name;
  return [
    ...(step ? [{ id: "without", label: `this path without ${name ?? "this step"}`, path: removeStep(view.path, step.id) }] : []),
    ...view.versions
      .filter(({ version }) => version !== view.version)
      .map(({ version, what, path }) => ({ id: String(version), label: `version ${version}: ${what}`, path })),
    ...(view.path.steps.length > 0 ? [{ id: "none", label: "no offers at all", path: { first: "thanks", steps: [] } }] : []),
  ];
};

interface LeverProps {
  /** Keeps how many payments of a subscription are assumed. */
  onPayments?: (product: string, payments: number) => void;
  view: OffersView;
  economics: Economics;
  trial: Trial;
  measured: boolean;
  onTrial: (trial: Trial) => void;
}

/** A lever for each take rate and price, with what one more point of acceptance brings to an order. */
const Levers = ({ view, economics, trial, measured, onTrial, onPayments }: LeverProps) => {
  const { currency } = view.main;
  const productAt = (id: string) => view.products.find((one) => one.id === (view.path.steps.find((step) => step.id === id)?.productId ?? id));
  const money = (minor: number) => `${minor < 0 ? "−" : ""}${formatMoney(Math.abs(Math.round(minor)), currency)}`;
  if (economics.levers.length === 0) return <p className="muted">Add a step or a bump, and its assumptions stand here.</p>;
  return (
    <div className={styles.wide} tabIndex={0} role="group" aria-label="Levers">
      <table className={styles.levers}>
        <thead>
          <tr>
            <th scope="col">Bump or offer</th>
            <th scope="col">Taken by</th>
            <th scope="col" className={styles.figure}>
              Rate
            </th>
            <th scope="col" className={styles.figure}>
              Price
            </th>
            <th scope="col" className={styles.figure}>
              Value of +1 point
            </th>
          </tr>
        </thead>
        <tbody>
          {economics.levers.map(({ id, take, onePoint }) => {
            const product = productAt(id);
            const seen = measuredAt(view, id);
            const { low, high } = wilson(seen);
            const name = product?.name ?? "A step";
            return (
              <tr key={id}>
                <td>
                  {name}
                  {view.bumps.includes(id) && <span className="muted"> bump</span>}
                  {product?.paid && (
                    <>
                      <br />
                      <span className="muted">{product.paid}</span>
                    </>
                  )}
                  {product?.terms.kind === "subscription" && product.terms.times === null && (
                    <label className={styles.payments}>
                      payments to expect after the first{" "}
                      <input
                        type="number"
                        min={1}
                        max={120}
                        defaultValue={paymentsOf(view, product)}
                        disabled={!onPayments}
                        onBlur={(event) => onPayments?.(product.id, Math.min(120, Math.max(1, Number(event.currentTarget.value) || 1)))}
                      />
                    </label>
                  )}
                </td>
                <td>
                  <div className={styles.track}>
                    {seen.of > 0 && (
                      <span
                        className={styles.band}
                        style={{ left: `${100 * low}%`, width: `${Math.max(0.5, 100 * (high - low))}%` }}
                        title={`Measured: ${seen.yes} of ${seen.of}, between ${percent(low)} and ${percent(high)} (95 %)`}
                      />
                    )}
                    <input
                      type="range"
                      min={0}
                      max={100}
                      step={0.5}
                      aria-label={`${name}: taken by, in percent`}
                      value={100 * take}
                      onChange={(event) => onTrial({ ...trial, take: { ...trial.take, [id]: Number(event.currentTarget.value) / 100 } })}
                    />
                  </div>
                </td>
                <td className={styles.figure}>
                  {percent(take)}
                  {seen.of > 0 && (
                    <>
                      <br />
                      <span className="muted">
                        {seen.yes} of {seen.of}, {percent(seen.yes / seen.of)}
                      </span>
                    </>
                  )}
                </td>
                <td className={styles.figure}>
                  <PriceTrial
                    key={`${id} ${trial.priceMinor[id] ?? "own"}`}
                    name={name}
                    minor={trial.priceMinor[id] ?? product?.priceMinor ?? 0}
                    currency={currency}
                    onTry={(minor) =>
                      onTrial({ ...trial, priceMinor: { ...trial.priceMinor, [id]: minor === product?.priceMinor ? undefined : minor } })
                    }
                  />
                </td>
                <td className={`${styles.figure} ${onePoint.keeps < 0 ? styles.loss : styles.gain}`}>
                  {money(onePoint.keeps)}
                  {trial.take[id] !== undefined && <span className="muted"> from {percent(takeAt(view, id, measured))}</span>}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
};

/** A price to try out; it changes nothing but the figures. */
const PriceTrial = ({ name, minor, currency, onTry }: { name: string; minor: number; currency: string; onTry: (minor: number) => void }) => {
  const [typed, setTyped] = useState(formatAmount(minor, currency));
  const read = readAmount(typed, currency);
  const settle = () => typeof read === "number" && read !== minor && onTry(read);
  return (
    <input
      type="text"
      inputMode="decimal"
      aria-label={`${name}: price to try, ${currency}`}
      aria-invalid={typeof read !== "number" || undefined}
      value={typed}
      onChange={(event) => setTyped(event.currentTarget.value)}
      onBlur={settle}
      onKeyDown={(event) => event.key === "Enter" && settle()}
    />
  );
};
