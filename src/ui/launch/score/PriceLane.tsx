import { line, scaleLinear } from "d3";
import { priceAt, seatsLeft, soldAt, type LaunchPlan, type SaleSteps } from "../../../core/launch";
import { formatMoney } from "../../kit/data/numbers";
import styles from "./Score.module.css";

interface PriceProps {
  plan: LaunchPlan;
  windows: { opens: Date; closes: Date }[];
  sales: SaleSteps;
  x: (at: Date) => number;
  top: number;
  from: Date;
  to: Date;
  now: number;
}

/** The price as a stair while the doors are open, and the seats that are left, up to now. */
export const PriceLane = ({ plan, windows, sales, x, top, from, to, now }: PriceProps) => {
  const { rising } = plan.settings;
  const raising = rising && rising.by !== "time" ? sales.at.filter((_, index) => sales.sold[index]! % rising.every === 0) : [];
  const cuts = [...plan.prices.map((price) => price.from.getTime()), ...raising];
  const steps = windows.flatMap(({ opens, closes }) => {
    const [a, b] = [Math.max(opens.getTime(), from.getTime()), Math.min(closes.getTime(), to.getTime())];
    const inside = [a, ...cuts.filter((ms) => ms > a && ms < b).sort((p, q) => p - q), b];
    return inside
      .slice(0, -1)
      .map((ms, index) => ({ from: ms, to: inside[index + 1]!, minor: priceAt(plan, new Date(ms), { sold: soldAt(sales, ms) }).minor }));
  });
  const prices = [...new Set(steps.map(({ minor }) => minor))];
  const y = scaleLinear([Math.min(...prices), Math.max(...prices)], [top + 44, prices.length > 1 ? top + 24 : top + 44]);
  const { currency } = plan.price;
  const seats = seatsLeft(plan, { sold: soldAt(sales, now) });
  const upTo = Math.min(now, to.getTime());
  const stair = sales.at.flatMap((ms, index) => (ms >= from.getTime() && ms <= upTo ? [{ ms, sold: sales.sold[index]! }] : []));
  const ySeats = scaleLinear([0, plan.settings.seats ?? 1], [top + 48, top + 10]);
  const path = line<{ ms: number; left: number }>()
    .x((p) => x(new Date(p.ms)))
    .y((p) => ySeats(p.left));
  return (
    <g>
      {seats && stair.length > 0 && (
        <>
          <path
            d={path(stair.map(({ ms, sold }) => ({ ms, left: Math.max(0, seats.of - sold) }))) ?? ""}
            fill="none"
            stroke="var(--ink-3)"
            strokeWidth="1.2"
          />
          <text x={x(new Date(upTo)) + 6} y={ySeats(seats.left) + 4} className={styles.day}>
            {seats.left} of {seats.of} seats left
          </text>
        </>
      )}
      {steps.map((step, index) => {
        const before = steps[index - 1];
        const first = before?.minor !== step.minor || before.to !== step.from;
        return (
          <g key={step.from}>
            {before && before.to === step.from && before.minor !== step.minor && (
              <line
                x1={x(new Date(step.from))}
                x2={x(new Date(step.from))}
                y1={y(before.minor)}
                y2={y(step.minor)}
                stroke="var(--verdigris)"
                strokeWidth="2.5"
              />
            )}
            <line
              x1={x(new Date(step.from))}
              x2={x(new Date(step.to))}
              y1={y(step.minor)}
              y2={y(step.minor)}
              stroke="var(--verdigris)"
              strokeWidth="2.5"
            />
            {first && (
              <text x={x(new Date(step.from)) + 5} y={y(step.minor) - 6} className={styles.price}>
                {formatMoney(step.minor, currency)}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
};
