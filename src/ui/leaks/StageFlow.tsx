import { scaleLinear } from "d3";
import kit from "../kit/kit.module.css";
import { ChartTable } from "../kit/charts/ChartTable";
import { formatMoney } from "../kit/data/numbers";
import type { Stage } from "../../core/events";
import { mailStages, peopleAtStage, peopleLost, type MailStage } from "../../core/figures";
import { Fragment } from "react";
import { peopleHref } from "../people/peopleHref";
import styles from "./StageFlow.module.css";

const steps: { stage: Stage; name: string }[] = [
  { stage: "visited", name: "visited" },
  { stage: "saw_sales", name: "saw the sales page" },
  { stage: "began_checkout", name: "began a checkout" },
  { stage: "paid", name: "bought" },
];
const [width, height, top, depth] = [1040, 250, 62, 108];

interface Props {
  slug: string;
  funnel: Record<Stage, number>;
  /** How many were sent emails of the launch, opened one, clicked in one. */
  reach: Record<MailStage, number>;
  value: number;
  currency: string;
}

const reachNames: Record<MailStage, string> = { sent: "were sent an email", opened: "opened one", clicked: "clicked in one" };

/** The stream of people through the stages, drawn to scale: what goes on keeps to the top, what is lost runs off below. */
export const StageFlow = ({ slug, funnel, reach, value, currency }: Props) => {
  const thick = scaleLinear([0, Math.max(1, funnel.visited)], [0, depth]);
  const x = (index: number) => 20 + index * 262;
  const share = (part: number, whole: number) => (whole > 0 ? `${((100 * part) / whole).toFixed(1)} %` : "");
  return (
    <figure className={styles.figure}>
      <div className={kit.wide} tabIndex={0} role="group" aria-label="The stream of people through the stages">
        <svg
          width={width}
          height={height}
          viewBox={`0 0 ${width} ${height}`}
          role="group"
          aria-label={steps.map(({ stage, name }) => `${funnel[stage]} ${name}`).join(", ")}
        >
          {steps.slice(0, -1).map(({ stage }, index) => {
            const [here, next] = [funnel[stage], Math.min(funnel[stage], funnel[steps[index + 1]!.stage])];
            const lost = here - next;
            const [from, to, bend] = [x(index), x(index + 1), top + thick(next)];
            const below = bend + thick(lost);
            const [left, right] = [from + 168 - thick(lost) / 2, from + 168 + thick(lost) / 2];
            return (
              <g key={stage}>
                <rect
                  x={from}
                  y={top}
                  width={to - from}
                  height={Math.max(1, thick(next))}
                  fill="var(--woad-tint)"
                  stroke="var(--woad)"
                  strokeWidth=".8"
                />
                <path
                  d={`M${from} ${bend}H${from + 70}C${right} ${bend} ${right} ${bend} ${right} 192H${left}C${left} ${below} ${left} ${below} ${from + 50} ${below}H${from}Z`}
                  fill="var(--madder-tint)"
                  stroke="var(--madder)"
                  strokeWidth=".8"
                />
                <a href={peopleHref(slug, peopleLost(stage, steps[index + 1]!.stage))}>
                  <text x={from + 168} y={210} textAnchor="middle" className={styles.lost}>
                    {lost.toLocaleString("en")} left here, {share(lost, here)}
                  </text>
                </a>
                <text x={from + 168} y={227} textAnchor="middle" className={styles.muted}>
                  {index === 2 ? `${formatMoney(lost * value, currency)} at stake` : ""}
                </text>
              </g>
            );
          })}
          {steps.map(({ stage, name }, index) => (
            <g key={stage}>
              <line x1={x(index)} x2={x(index)} y1={18} y2={top + depth + 8} stroke="var(--ink)" strokeWidth="2" />
              <a href={peopleHref(slug, peopleAtStage(stage))}>
                <text x={x(index) + 7} y={32} className={styles.count}>
                  {funnel[stage].toLocaleString("en")}
                </text>
              </a>
              <text x={x(index) + 7} y={49} className={styles.muted}>
                {name}
              </text>
            </g>
          ))}
        </svg>
      </div>
      <figcaption className="muted">
        Drawn to scale. {funnel.opted_in.toLocaleString("en")} of {funnel.visited.toLocaleString("en")} opted in during the run-up.
        {reach.sent > 0 && (
          <>
            {" "}
            Emails:{" "}
            {mailStages.map((stage, index) => (
              <Fragment key={stage}>
                {["", ", ", " and "][index]}
                <a href={peopleHref(slug, { mailed: stage })}>{reach[stage].toLocaleString("en")}</a> {stage === "sent" ? "people " : ""}
                {reachNames[stage]}
              </Fragment>
            ))}
            .
          </>
        )}
      </figcaption>
      <ChartTable
        name="People by stage"
        columns={["Stage", "People", "Of all visitors", "Left before the next stage"]}
        rows={[
          ...steps.map(({ stage, name }, index) => {
            const next = steps[index + 1];
            const lost = next ? funnel[stage] - Math.min(funnel[stage], funnel[next.stage]) : undefined;
            return [
              name,
              funnel[stage].toLocaleString("en"),
              share(funnel[stage], funnel.visited),
              lost === undefined ? "" : `${lost.toLocaleString("en")} of ${funnel[stage].toLocaleString("en")}, ${share(lost, funnel[stage])}`,
            ];
          }),
          ...mailStages.map((stage) => [reachNames[stage], reach[stage].toLocaleString("en"), share(reach[stage], funnel.visited), ""]),
        ]}
      />
    </figure>
  );
};
