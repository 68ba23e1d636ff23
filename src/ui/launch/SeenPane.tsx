import type { ReactNode } from "react";
import { countdownFigure, countdownKinds, phaseWords, shortMoment, type AddressView, type LaunchPlan, type LaunchView } from "../../core/launch";
import { formatMoney } from "../../core/money";
import { pageNames } from "../../core/pages";
import styles from "./Score.module.css";

const says = (address: AddressView, plan: LaunchPlan): { text: string; loss?: boolean } => {
  if ("redirect" in address.answer) return { text: `without an order: goes on to /${plan.slug}`, loss: true };
  if (!address.answer.published)
    return { text: `${pageNames[address.answer.kind].toLowerCase()} page, not published: “not open to the public yet”`, loss: true };
  const own = address.answer.kind === address.owner;
  return {
    text: own
      ? `its own page, ${pageNames[address.answer.kind].toLowerCase()}`
      : `answers with the ${pageNames[address.answer.kind].toLowerCase()} page`,
  };
};

/** What each public address answers at an instant, from the same function that answers visitors. */
export const SeenPane = ({
  plan,
  seen,
  at,
  isNow,
  children,
}: {
  plan: LaunchPlan;
  seen: LaunchView;
  at: Date;
  isNow: boolean;
  children: ReactNode;
}) => (
  <aside className={styles.pane} aria-label="Seen at this instant">
    <h2>Seen at this instant</h2>
    <p className="muted">
      {isNow ? "Now" : shortMoment(at, plan.zone)} · {phaseWords(plan, at).toLowerCase()}
    </p>
    {children}
    <ul className={styles.addresses}>
      {seen.addresses.map((address) => {
        const { text, loss } = says(address, plan);
        const kind = "redirect" in address.answer ? undefined : address.answer.kind;
        const counts = seen.countdown && kind && countdownKinds.includes(kind);
        return (
          <li key={address.slug} data-address={address.slug} data-answer={kind ?? "redirect"}>
            <p>
              <strong>
                /{plan.slug}
                {address.slug ? `/${address.slug}` : ""}
              </strong>
              {address.price && <span className={styles.price}> {formatMoney(address.price.minor, address.price.currency)}</span>}
            </p>
            <p className={loss ? styles.loss : undefined}>{text}</p>
            {counts && (
              <p className={styles.time}>
                {countdownFigure(seen.countdown!.until.getTime() - at.getTime())} <span>to the {seen.countdown!.to}</span>
              </p>
            )}
          </li>
        );
      })}
    </ul>
    <p className={`muted ${styles.next}`}>
      {seen.nextBell
        ? `Next change: ${seen.nextBell.label.toLowerCase()}, ${shortMoment(seen.nextBell.at, plan.zone)}.`
        : "Nothing changes any more."}
    </p>
  </aside>
);
