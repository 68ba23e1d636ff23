import { useState } from "react";
import { measuredAt, paymentsOf, takeAt, type Economics, type Trial } from "../../core/offers";
import { wilson } from "../../core/figures";
import type { OffersView } from "../../core/pages";
import { formatAmount, formatMoney, readAmount } from "../kit/data/numbers";
import styles from "./offers.module.css";
import { percent } from "./view";

export interface LeverProps {
  /** Keeps how many payments of a subscription are assumed. */
  onPayments?: (product: string, payments: number) => void;
  view: OffersView;
  economics: Economics;
  trial: Trial;
  measured: boolean;
  onTrial: (trial: Trial) => void;
}

/** A lever for each take rate and price, with what one more point of acceptance brings to an order. */
export const Levers = ({ view, economics, trial, measured, onTrial, onPayments }: LeverProps) => {
  const { currency } = view.main;
  const productAt = (id: string) => view.products.find((one) => one.id === (view.path.steps.find((step) => step.id === id)?.productId ?? id));
  const money = (minor: number) => `${minor < 0 ? "−" : ""}${formatMoney(Math.abs(Math.round(minor)), currency)}`;
  if (economics.levers.length === 0) return <p className="muted">Add a step or a bump, and its assumptions stand here.</p>;
  return (
    <div className={styles.wide} tabIndex={0} role="group" aria-label="Assumptions">
      <table className={styles.levers}>
        <thead>
          <tr>
            <th scope="col">Bump or offer</th>
            <th scope="col">Take rate</th>
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
                      aria-label={`${name}: take rate, in percent`}
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
