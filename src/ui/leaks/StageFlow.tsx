import { scaleSqrt } from "d3";
import { formatMoney } from "../../core/money";
import type { Stage } from "../../core/retarget";
import styles from "./StageFlow.module.css";

const steps: { stage: Stage; name: string }[] = [
  { stage: "visited", name: "came" }, { stage: "saw_sales", name: "saw the sales page" }, { stage: "began_checkout", name: "began a checkout" }, { stage: "paid", name: "bought" },
];
const [width, height, middle] = [1040, 210, 84];

/** The stream of people through the stages; what leaves it runs off below, each spill with the value it carries away. */
export const StageFlow = ({ funnel, value, currency }: { funnel: Record<Stage, number>; value: number; currency: string }) => {
  const thick = scaleSqrt([0, Math.max(1, funnel.visited)], [0, 108]);
  const x = (index: number) => 20 + index * 262;
  const share = (part: number, whole: number) => (whole > 0 ? `${((100 * part) / whole).toFixed(1)} %` : "");
  return (
    <figure className={styles.figure} tabIndex={0} aria-label="The stream of people through the stages">
      <svg width={width} height={height} viewBox={`0 0 ${width} ${height}`} role="img" aria-label={steps.map(({ stage, name }) => `${funnel[stage]} ${name}`).join(", ")}>
        {steps.slice(0, -1).map(({ stage }, index) => {
          const [here, next] = [funnel[stage], funnel[steps[index + 1]!.stage]];
          const [a, b] = [thick(here) / 2, thick(next) / 2];
          const lost = Math.max(0, here - next);
          const end = x(index + 1);
          return (
            <g key={stage}>
              <path d={`M${x(index)} ${middle - a}C${x(index) + 130} ${middle - a} ${end - 130} ${middle - b} ${end} ${middle - b}V${middle + b}C${end - 110} ${middle + b} ${end - 110} ${middle + a} ${x(index)} ${middle + a}Z`} fill="var(--woad-tint)" />
              <path d={`M${x(index) + 96} ${middle + a - 6}q34 6 40 ${Math.max(20, 150 - middle - a)}`} fill="none" stroke="var(--madder)" strokeWidth={Math.max(1.5, thick(lost) / 9)} strokeLinecap="round" opacity=".75" />
              <text x={x(index) + 120} y={180} className={styles.lost}>{lost.toLocaleString("en")} left here, {share(lost, here)}</text>
              <text x={x(index) + 120} y={197} className={styles.muted}>{index === 2 ? `${formatMoney(lost * value, currency)} on the table` : ""}</text>
            </g>
          );
        })}
        {steps.map(({ stage, name }, index) => (
          <g key={stage}>
            <line x1={x(index)} x2={x(index)} y1={22} y2={middle + 62} stroke="var(--ink)" strokeWidth="2" />
            <text x={x(index) + 7} y={34} className={styles.count}>{funnel[stage].toLocaleString("en")}</text>
            <text x={x(index) + 7} y={50} className={styles.muted}>{name}</text>
          </g>
        ))}
      </svg>
      <figcaption className="muted">The thickness grows with the square root of the number of people. {funnel.opted_in.toLocaleString("en")} of {funnel.visited.toLocaleString("en")} gave their address in the run-up.</figcaption>
    </figure>
  );
};
