import { publishPages } from "../../contract/pages";
import { useState } from "react";
import { counted } from "../../core/words";
import { Button } from "../kit/Button";
import { call } from "../kit/data/call";
import { reloadSaying, say } from "../kit/notices";
import { useReady } from "../kit/data/useReady";
import styles from "./Readiness.module.css";

interface Props {
  slug: string;
  gaps: { code: string; blocking: boolean; says: string; why: string; href: string }[];
  ready: { id: string; key: string; version: number; title: string; changes: string[] }[];
  mayPublish: boolean;
}

/** What the launch still lacks, each with the way to mend it, and all that can be made public by one press. */
export const Readiness = ({ slug, gaps, ready, mayPublish }: Props) => {
  const isReady = useReady();
  const [open, setOpen] = useState(false);
  const [busy, setBusy] = useState(false);
  const blocking = gaps.filter((gap) => gap.blocking);
  const pages = counted(ready.length, "page");
  const publish = async () => {
    setBusy(true);
    const answer = await call(publishPages, { params: { slug }, request: { pages: ready.map(({ id, version }) => ({ id, version })) } });
    if (answer.ok) return reloadSaying(`${counted(answer.value.published, "page is", "pages are")} public now.`);
    setBusy(false);
    say(answer.message, true);
  };
  return (
    <section className={styles.readiness} aria-label="Readiness" inert={!isReady}>
      <div className={styles.head}>
        <h2>
          {blocking.length > 0
            ? `${counted(blocking.length, "gap")} that visitors would meet`
            : gaps.length > 0
              ? `Ready, with advice on ${counted(gaps.length, "point")}`
              : "Ready: nothing is missing"}
        </h2>
        {mayPublish && ready.length > 0 && !open && <Button onClick={() => setOpen(true)}>Publish all that is ready: {pages}</Button>}
      </div>
      {open && (
        <div className={styles.ready}>
          <ul>
            {ready.map(({ id, key, title, changes }) => (
              <li key={id}>
                <a href={`/desk/${slug}/pages/${key}`}>{title || key}</a>
                <span className="muted">{changes.length === 0 ? ", for the first time" : `: ${changes.join("; ")}`}</span>
              </li>
            ))}
          </ul>
          <p className={styles.acts}>
            <Button main disabled={busy} onClick={() => void publish()}>
              Publish {pages}
            </Button>
            <Button onClick={() => setOpen(false)}>Not now</Button>
          </p>
        </div>
      )}
      {gaps.length > 0 && (
        <ul className={styles.gaps}>
          {gaps.map(({ code, blocking: stops, says, why, href }, index) => (
            <li key={index} data-gap={code} className={stops ? styles.stops : undefined}>
              <a href={href}>{says}</a> <span className="muted">{why}</span>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
};
