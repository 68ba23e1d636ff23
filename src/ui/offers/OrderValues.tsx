import { bin, max, scaleBand, scaleLinear } from "d3";
import type { Economics } from "../../core/offers";
import { BandAxis } from "../kit/charts/axes";
import { Chart } from "../kit/charts/Chart";
import { useWidth } from "../kit/charts/useWidth";
import { formatMoney, formatRoughly } from "../kit/data/numbers";
import styles from "./offers.module.css";
import { percent } from "./view";

const [height, base] = [132, 108];
/** Room for a label under a bar. */
const labelRoom = 66;
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
export const OrderValues = ({ economics, currency }: { economics: Economics; currency: string }) => {
  const { ref, width } = useWidth(766, 260);
  const bars = barsOf(economics.distribution);
  const x = scaleBand(
    bars.map((_, index) => String(index)),
    [0, width],
  ).padding(0.45);
  const top = max(bars, ({ chance }) => chance) ?? 1;
  const y = scaleLinear([0, top], [base, 26]);
  const every = Math.ceil((bars.length * labelRoom) / width);
  const round = (minor: number) => formatRoughly(minor, currency);
  const exactly = ({ low, high }: Bar) =>
    low === high ? formatMoney(low, currency) : `${formatMoney(low, currency)} to ${formatMoney(high, currency)}`;
  // The average stands between the bars as far along as its value.
  const middle = (index: number) => x(String(index))! + x.bandwidth() / 2;
  const bar = Math.min(x.bandwidth(), 22);
  const after = bars.findIndex(({ low }) => low >= economics.pays);
  const at =
    after <= 0
      ? middle(0)
      : middle(after - 1) +
        ((middle(after) - middle(after - 1)) * (economics.pays - bars[after - 1]!.high)) / Math.max(1, bars[after]!.low - bars[after - 1]!.high);
  const average = formatMoney(Math.round(economics.pays), currency);
  return (
    <div ref={ref}>
      <Chart
        name="Order values"
        summary={`${bars.length} values, average ${average}.`}
        width={width}
        height={height}
        points={bars.map((one, index) => ({ x: middle(index), words: `${exactly(one)}: ${percent(one.chance)} of orders` }))}
        table={{ columns: ["Order value", "Share of orders"], rows: bars.map((one) => [exactly(one), percent(one.chance)]) }}
      >
        {bars.map(({ low, chance }, index) => (
          <rect key={low} className={styles.bar} x={middle(index) - bar / 2} y={y(chance)} width={bar} height={Math.max(0.8, base - y(chance))} />
        ))}
        <BandAxis
          width={width}
          y={base}
          labels={bars.flatMap(({ low, high }, index) =>
            index % every === 0 ? [{ x: middle(index), text: low === high ? round(low) : `from ${round(low)}` }] : [],
          )}
        />
        <line x1={at} x2={at} y1={8} y2={base} stroke="var(--ink)" strokeWidth="2" strokeDasharray="5 3" />
        {/* Over the line, which may pass through a bar's figure. */}
        {bars.length * 36 <= width &&
          bars.map(({ low, chance }, index) =>
            chance < 0.005 ? null : (
              <text key={low} className={`${styles.axis} ${styles.over}`} x={middle(index)} y={y(chance) - 5} textAnchor="middle">
                {percent(chance)}
              </text>
            ),
          )}
        <text className={styles.mean} x={at > width - 130 ? at - 6 : at + 6} y={17} textAnchor={at > width - 130 ? "end" : "start"}>
          average {average}
        </text>
      </Chart>
    </div>
  );
};
