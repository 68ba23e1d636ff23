import { useEffect, useMemo, useRef, useState } from "react";
import {
  economicsInput,
  endPage,
  estimate,
  isTried,
  noTrial,
  removeStep,
  type Economics,
  type OfferPath,
  type Simulation,
  type Trial,
} from "../../core/offers";
import type { OffersView } from "../../core/pages";
import { Button } from "../kit/Button";
import { formatMoney } from "../kit/data/numbers";
import { Select } from "../kit/fields/Select";
import { Levers, type LeverProps } from "./Levers";
import styles from "./offers.module.css";
import { OrderValues } from "./OrderValues";
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
        {sum("average order value", ({ pays }) => pays)}
        {sum("net per order", ({ keeps }) => keeps)}
        {sum("net per visitor", ({ perVisitor }) => perVisitor.keeps)}
      </dl>
      <p className="muted">
        Net is after tax, fees, {percent(view.deductions.commission)} commission and {percent(view.deductions.refunds)} refunds. Adverts break even at{" "}
        {money(economics.keeps)} an order or {money(economics.perVisitor.keeps)} a click. Conversion rate {percent(view.conversion)}.
        {ends.length > 1 &&
          ` Ends: ${ends.map((end) => `${view.ends.find(({ id }) => id === endPage(end))?.name ?? "thank you"} ${percent(economics.ends[end]!)}`).join(", ")}.`}
        {compared && ` The figures behind a sign are against ${other ? other.label : "the path as it stands"}.`}
      </p>
      {!other && <OrderValues economics={economics} currency={currency} />}
      {other &&
        compared &&
        [
          { name: "This path", path: view.path, of: economics },
          { name: sentence(other.label), path: other.path, of: compared },
        ].map(({ name, path, of }) => (
          <section key={name} className={styles.beside} aria-label={name}>
            <h3>{name}</h3>
            <p className="muted">
              Average order value {money(of.pays)}, net {money(of.keeps)}.
            </p>
            <PathMap view={{ ...view, path, findings: [] }} economics={of} measured={false} selected="" mayWrite={false} name={`${name}, drawn`} />
            <OrderValues economics={of} currency={currency} />
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
        {tried && <Button onClick={() => onTrial(noTrial)}>Reset</Button>}
        {tried && onKeep && <Button onClick={onKeep}>Save these rates as assumptions</Button>}
        <Button disabled={busy} onClick={send}>
          {busy ? "Simulating…" : "Simulate 1,000,000 buyers"}
        </Button>
        <p role="status">
          {simulation &&
            `Simulated average ${formatMoney(Math.round(simulation.pays), currency)}, give or take ${formatMoney(Math.ceil(simulation.within), currency)}: ${
              Math.abs(simulation.pays - economics.pays) <= 1.6 * simulation.within + 1
                ? "agrees with the exact figure"
                : "further from the exact figure than chance allows"
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
