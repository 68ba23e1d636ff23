import { useEffect, useState, type ReactNode } from "react";
import {
  countdownFigure,
  nextChange,
  phaseWords,
  scarcity,
  writeSeenAs,
  type AddressView,
  type LaunchPlan,
  type LaunchView,
  type Viewer,
  type SeenAs,
} from "../../../core/launch";
import { shortMoment } from "../../../core/words";
import { formatMoney } from "../../kit/data/numbers";
import { pageNames } from "../../../core/pages";
import styles from "./Score.module.css";

const nameOf = (page: { kind: keyof typeof pageNames; title: string }) =>
  page.kind === "content" ? `“${page.title}”` : `the ${pageNames[page.kind].toLowerCase()} page`;

const says = ({ answer, owner }: AddressView, plan: LaunchPlan): { text: string; loss?: boolean } => {
  if ("redirect" in answer) {
    if (answer.redirect === "home") return { text: `without an order: goes on to /${plan.slug}`, loss: true };
    if (answer.redirect === "checkout") return { text: "without an order: its own checkout", loss: false };
    return { text: `goes on to ${answer.redirect === "launch" ? `/${answer.launch}` : answer.address}`, loss: true };
  }
  const { page } = answer;
  if (!page.published) return { text: `${nameOf(page)} is not published: “not open to the public yet”`, loss: true };
  return { text: page.key === owner.key ? "its own page" : `answers with ${nameOf(page)}` };
};

/** A value that follows another only when it has rested: pictures are not drawn for every step on the way. */
const useRested = <T,>(value: T, ms: number): T => {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setRested(value), ms);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return rested;
};

interface Props {
  plan: LaunchPlan;
  who: Viewer;
  as: SeenAs;
  seen: LaunchView;
  at: Date;
  isNow: boolean;
  children: ReactNode;
}

/** What each public address answers at an instant, from the same function that answers visitors, with small pictures of the pages. */
export const SeenPane = ({ plan, who, as, seen, at, isNow, children }: Props) => {
  // While the clock runs on, the pictures are made anew at changes and once a minute, not every second.
  const moment = useRested(isNow ? Math.floor(at.getTime() / 60_000) * 60_000 : at.getTime(), 350);
  const person = writeSeenAs(as);
  const picture = (path: string) =>
    `/desk/${plan.slug}/seen?${new URLSearchParams({ path, at: new Date(moment).toISOString(), ...(person ? { as: person } : {}) })}`;
  const next = nextChange(plan, who, at);
  return (
    <aside className={styles.pane} aria-label="Seen at this instant">
      <h2>Seen at this instant</h2>
      <p className="muted">
        {isNow ? "Now" : shortMoment(at, plan.zone)} · {phaseWords(plan, at, who)}
      </p>
      {children}
      <ul className={styles.addresses}>
        {seen.addresses.map((address) => {
          const { text, loss } = says(address, plan);
          const { answer } = address;
          // Where something can be bought, the price belongs beside the page.
          const price = "page" in answer && (answer.page.kind === "sales" || answer.page.kind === "checkout") ? address.price : undefined;
          const counts = seen.countdown && address.countdown.length > 0;
          return (
            <li key={address.slug} data-address={address.slug} data-answer={"redirect" in answer ? "redirect" : answer.page.key}>
              <a className={styles.proof} href={picture(address.slug)} target="_blank" rel="noopener" tabIndex={-1} aria-hidden="true">
                <iframe src={picture(address.slug)} title={`/${plan.slug}/${address.slug}, small`} loading="lazy" sandbox="" tabIndex={-1} />
              </a>
              <div>
                <p>
                  <strong>
                    /{plan.slug}
                    {address.slug ? `/${address.slug}` : ""}
                  </strong>
                  {price && <span className={styles.price}> {formatMoney(price.minor, price.currency)}</span>}
                </p>
                <p className={loss ? styles.loss : undefined}>{text}</p>
                {counts && (
                  <p className={styles.time}>
                    <b data-countdown={seen.countdown!.until.getTime()}>{countdownFigure(seen.countdown!.until.getTime() - at.getTime())}</b>{" "}
                    <span>
                      to the {seen.countdown!.to}
                      {seen.countdown!.stage ? `, look: ${seen.countdown!.stage.words}` : ""}
                    </span>
                  </p>
                )}
                {price && scarcity(price, seen.seats, plan.zone).map((claim) => <p key={claim}>{claim}</p>)}
              </div>
            </li>
          );
        })}
      </ul>
      <p className={`muted ${styles.next}`}>
        {next ? `Next change for this person: ${next.label}, ${shortMoment(next.at, plan.zone)}.` : "Nothing changes for this person any more."}
      </p>
    </aside>
  );
};
