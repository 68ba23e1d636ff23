import { useState } from "react";
import { personKinds, resolveWallTime, seenAsWords, wallTimeOf, writeSeenAs, type PersonKind, type SeenAs } from "../../core/launch";
import { addressWith, type Seen } from "../kit/data/asSeen";
import { Button } from "../kit/Button";
import { DateTimeField } from "../kit/fields/DateTimeField";
import { PersonFinder } from "../kit/fields/PersonFinder";
import { Select } from "../kit/fields/Select";
import styles from "./BellStrip.module.css";

interface Props {
  seen: Seen;
  zone: string;
  now: number;
  launch?: { slug: string; addresses: string[] };
  onClose: () => void;
}

/** Kinds for whom it matters since when. */
const dated: readonly string[] = ["subscriber", "clock", "buyer"];

/** Chooses the moment and the person that every screen shows, and opens public pages as that person would see them. */
export const AsSeenPanel = ({ seen, zone, now, launch, onClose }: Props) => {
  const at = seen.at ?? new Date(now);
  const [wall, setWall] = useState(wallTimeOf(at, zone));
  const [as, setAs] = useState<SeenAs>(seen.as);
  const [since, setSince] = useState(wallTimeOf("since" in seen.as && seen.as.since ? seen.as.since : at, zone));
  const [wrong, setWrong] = useState<{ at?: string; since?: string }>({});

  const chosen = (): Seen | undefined => {
    const [moment, from] = [resolveWallTime(wall, zone), resolveWallTime(since, zone)];
    const needsSince = dated.includes(as.kind);
    if (!("instant" in moment) || (needsSince && !("instant" in from))) {
      const sentence = "Give a date and a time.";
      setWrong({ ...("instant" in moment ? {} : { at: sentence }), ...(!needsSince || "instant" in from ? {} : { since: sentence }) });
      return undefined;
    }
    // The present minute means now: the screen then goes on with the clock.
    const same = wall === wallTimeOf(new Date(now), zone) && !seen.at;
    const person: SeenAs = needsSince && "instant" in from ? { kind: as.kind as PersonKind, since: from.instant } : as;
    return { at: same ? undefined : moment.instant, as: person };
  };
  const go = (to: Seen) => location.assign(addressWith(new URL(location.href), to));
  const preview = (path: string): void => {
    const to = chosen();
    if (!to || !launch) return;
    const ask = new URLSearchParams({ path, at: (to.at ?? new Date(now)).toISOString() });
    const person = writeSeenAs(to.as);
    if (person) ask.set("as", person);
    window.open(`/desk/${launch.slug}/seen?${ask}`, "_blank", "noopener");
  };
  return (
    <div id="as-seen" className={styles.panel} role="region" aria-label="As seen" onKeyDown={(event) => event.key === "Escape" && onClose()}>
      <form
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          const to = chosen();
          if (to) go(to);
        }}
      >
        <DateTimeField autoFocus label="Moment" value={wall} zone={zone} wrong={wrong.at} onChange={setWall} />
        <Select
          label="Seen by"
          value={as.kind === "person" ? "person" : as.kind}
          options={[
            { value: "everyone" as const, label: "everyone" },
            ...personKinds.map((kind) => ({ value: kind, label: seenAsWords({ kind }) })),
            ...(as.kind === "person" ? [{ value: "person" as const, label: seen.name ?? "one person" }] : []),
          ]}
          onChange={(picked) => picked !== "person" && setAs({ kind: picked })}
        />
        {dated.includes(as.kind) && <DateTimeField label="Since" value={since} zone={zone} wrong={wrong.since} onChange={setSince} />}
        {launch && <PersonFinder slug={launch.slug} onFound={({ id }) => setAs({ kind: "person", id })} />}
        <p className={styles.panelButtons}>
          <Button main type="submit">
            Apply
          </Button>
          <Button onClick={() => go({ as: { kind: "everyone" } })}>Back to now, everyone</Button>
        </p>
      </form>
      {launch && (
        <div>
          <h2>Preview a page</h2>
          <p className="muted">A preview inside the desk. It writes nothing, and nobody else can open it.</p>
          <ul>
            {launch.addresses.map((path) => (
              <li key={path}>
                <button type="button" onClick={() => preview(path)}>
                  /{launch.slug}
                  {path && `/${path}`}
                </button>
              </li>
            ))}
          </ul>
        </div>
      )}
    </div>
  );
};
