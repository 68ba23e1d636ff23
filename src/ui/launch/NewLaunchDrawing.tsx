import { bells, planOf, type LaunchSource } from "../../core/launch";
import { counted } from "../../core/words";
import { ScoreLanes } from "./score/ScoreLanes";
import { scoreRange } from "./score/timeAxis";
import styles from "./NewLaunchForm.module.css";

const nothingSold = { at: [], sold: [] };
const width = 586;

/** The score of a launch that is being drafted: its bells, the page behind each address, looks of the countdown, price and emails. */
export const NewLaunchDrawing = ({ source, now }: { source: LaunchSource; now: number }) => {
  const plan = planOf(source);
  const personal = plan.clock.kind === "personal";
  // A personal clock is drawn as that of somebody who starts it now.
  const who = personal ? { starts: [new Date(now)], subscribedAt: new Date(now) } : {};
  const [from, to] = scoreRange(plan, who, plan.clock.kind === "fixed" ? plan.clock.runUp.getTime() : now);
  const rung = bells(plan, who, { from, to }).length;
  return (
    <>
      <div
        className={styles.drawing}
        role="img"
        aria-label={`The launch on a time axis: ${counted(rung, "bell")} between its first and its last moment.`}
      >
        <ScoreLanes plan={plan} who={who} sales={nothingSold} sequences={[]} from={from} to={to} width={width} now={now} run={new Set()} />
      </div>
      {personal && <p className="muted">Drawn for somebody whose clock starts now.</p>}
    </>
  );
};
