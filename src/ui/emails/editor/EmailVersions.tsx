import { useState } from "react";
import { varyEmail, weighEmail } from "../../../contract/emails";
import { variantKey, type EmailVariant } from "../../../core/emails";
import { Button } from "../../kit/Button";
import { call } from "../../kit/data/call";
import { Dialog } from "../../kit/Dialog";
import kit from "../../kit/kit.module.css";
import { say } from "../../kit/notices";
import styles from "../emails.module.css";

interface Props {
  slug: string;
  /** The key of the first version. */
  first: string;
  /** Which one is open. */
  open: EmailVariant;
  /** How many readers in a hundred get the second; undefined where there is none. */
  second: number | undefined;
  /** Whether both are published: else everybody gets the first. */
  both: boolean;
  mayWrite: boolean;
}

/** A second version of an email beside the first: added, weighed against it, and removed. */
export const EmailVersions = ({ slug, first, open, second, both, mayWrite }: Props) => {
  const [share, setShare] = useState(String(second ?? 50));
  const [asks, setAsks] = useState(false);
  const params = { slug, email: first };
  const at = (key: string) => `/desk/${slug}/emails/${key}`;
  const change = async (to: "add" | "remove") => {
    setAsks(false);
    const answer = await call(varyEmail, { params, request: { to } });
    if (!answer.ok) return say(answer.message, true);
    location.assign(at(to === "add" ? variantKey(first) : first));
  };
  const wrong = /^\d{1,3}$/.test(share) && Number(share) <= 100 ? undefined : "A number from 0 to 100.";
  const weigh = async () => {
    if (wrong || Number(share) === second) return;
    const answer = await call(weighEmail, { params, request: { second: Number(share) } });
    say(answer.ok ? `Version B goes to ${share} of 100 from now on.` : answer.message, !answer.ok);
  };
  if (second === undefined)
    return mayWrite ? (
      <p className={styles.versions}>
        <Button onClick={() => void change("add")}>Test a second version</Button>
      </p>
    ) : null;
  return (
    <div className={styles.versions} role="group" aria-label="Versions">
      {(["A", "B"] as const).map((variant) =>
        variant === open ? (
          <b key={variant}>Version {variant}</b>
        ) : (
          <a key={variant} href={at(variant === "A" ? first : variantKey(first))}>
            Version {variant}
          </a>
        ),
      )}
      <label className={styles.share}>
        Version B goes to
        <input
          className={kit.control}
          inputMode="numeric"
          disabled={!mayWrite}
          value={share}
          aria-invalid={wrong !== undefined}
          onChange={(event) => setShare(event.currentTarget.value.trim())}
          onBlur={() => void weigh()}
        />
        of 100 readers
      </label>
      {wrong && (
        <span role="alert" className={kit.wrong}>
          {wrong}
        </span>
      )}
      {!both && <span className="muted">Until both are published, everybody gets version A.</span>}
      {mayWrite && open === "B" && (
        <button type="button" className={styles.remove} onClick={() => setAsks(true)}>
          Remove version B
        </button>
      )}
      {asks && (
        <Dialog
          title="Remove version B"
          confirm="Remove version B"
          destructive
          onClose={() => setAsks(false)}
          onConfirm={() => void change("remove")}
        >
          <p>Its words are gone then, and everybody gets version A. What has been sent of it stays counted.</p>
        </Dialog>
      )}
    </div>
  );
};
