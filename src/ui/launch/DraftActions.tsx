import { Button } from "../kit/Button";
import { ChangeView } from "./ChangeView";
import styles from "./clock/Clock.module.css";
import type { SettingsDraft } from "./useSettingsDraft";

interface Props {
  draft: SettingsDraft;
  /** What is changed, over what it would do. */
  title: string;
  zone: string;
  currency: string;
  mayChange: boolean;
}

/** What can be done with a draft of a launch's settings: see what it changes, make it, go back to what holds, or bring back what was before. */
export const DraftActions = ({ draft, title, zone, currency, mayChange }: Props) => {
  const objections = Object.values(draft.errors);
  if (draft.proposal)
    return (
      <ChangeView
        what={title}
        summary={draft.proposal.summary}
        zone={zone}
        currency={currency}
        busy={draft.busy}
        onApply={() => void draft.apply()}
        onLeave={draft.leave}
      />
    );
  if (draft.dirty)
    return (
      <section className={styles.dirty} aria-label="Not made yet">
        <h3>Changed here, not made yet</h3>
        {objections.length > 0 && (
          <p role="alert">
            {objections.length === 1 ? "One field needs" : `${objections.length} fields need`} another look: {objections[0]}
          </p>
        )}
        <p className={styles.actions}>
          <Button main disabled={draft.busy || objections.length > 0 || !mayChange} onClick={() => void draft.propose()}>
            See what that changes
          </Button>
          <Button onClick={draft.reset}>Back to what holds</Button>
        </p>
        {!mayChange && <p className="muted">You may look and try here; changing needs an owner or editor.</p>}
      </section>
    );
  return draft.undoable ? (
    <p className={styles.actions}>
      <Button onClick={() => void draft.undo()}>Undo the newest change</Button>
    </p>
  ) : null;
};
