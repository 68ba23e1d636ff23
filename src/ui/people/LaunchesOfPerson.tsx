import { optOutOfLaunch } from "../../contract/people";
import type { PersonRecord } from "../../core/people";
import { counted, shortMoment } from "../../core/words";
import { call } from "../kit/data/call";
import { say } from "../kit/notices";
import styles from "./people.module.css";

interface Props {
  person: PersonRecord;
  zone: string;
  mayEdit: boolean;
  onChange: () => Promise<void>;
}

const byWhom = { rule: "by a rule", desk: "from the desk", reader: "as they asked" } as const;

/** What a person may still expect of each launch: their deadline, who would be credited, and whether its emails go to them. */
export const LaunchesOfPerson = ({ person: { id, contact, launches }, zone, mayEdit, onChange }: Props) => {
  if (launches.length === 0) return null;
  const put = async (slug: string, name: string, out: boolean) => {
    const answer = await call(optOutOfLaunch, { params: { id, slug }, request: { out } });
    if (!answer.ok) return say(answer.message, true);
    await onChange();
    say(out ? `No more emails of ${name} go to them.` : `Emails of ${name} go to them again.`);
  };
  return (
    <section aria-label="Launches">
      <h2>Launches</h2>
      {launches.map((one) => (
        <div key={one.slug} className={styles.launch}>
          <a href={`/desk/${one.slug}/score`}>{one.name}</a>
          <p>
            {one.closes ? (
              <>
                doors close for them <b className={styles.time}>{shortMoment(one.closes, one.zone)}</b>
              </>
            ) : (
              <span className="muted">no deadline ahead</span>
            )}
          </p>
          <p className="muted">
            {one.credited
              ? `Credit: ${one.credited}, by the last of ${counted(one.touches, "touch", "touches")}.`
              : one.touches > 0
                ? `Credit: nobody; ${counted(one.touches, "touch is", "touches are")} older than the window.`
                : "Credit: nobody; came through no partner's link."}
          </p>
          {one.optedOut && (
            <p className={styles.loss}>
              Its emails were stopped {byWhom[one.optedOut.by]}, {shortMoment(one.optedOut.at, zone)}.
            </p>
          )}
          <p className={styles.acts}>
            {contact && <a href={`/desk/${one.slug}/score?as=person@${contact.id}`}>See the launch as them</a>}
            {contact && mayEdit && !contact.unsubscribedAt && one.optedOut?.by !== "reader" && (
              <button type="button" onClick={() => void put(one.slug, one.name, one.optedOut === null)}>
                {one.optedOut ? "Let its emails go again" : "Stop its emails"}
              </button>
            )}
          </p>
        </div>
      ))}
    </section>
  );
};
