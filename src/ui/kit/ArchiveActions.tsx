import { useState } from "react";
import { z } from "zod";
import { Button } from "./Button";
import { Dialog } from "./Dialog";
import { send } from "./data/send";
import { reloadSaying, useToast } from "./Toast";
import { useReady } from "./data/useReady";
import styles from "./kit.module.css";

interface Props {
  /** Endpoints of the thing: `archive` and `delete` stand below it. */
  at: string;
  name: string;
  archived: boolean;
  /** Whether it may be archived as it stands. */
  archivable?: boolean;
  /** Whether it may be deleted, because nothing hangs on it. */
  deletable: boolean;
  /** What goes with it when it is deleted. */
  goes: string;
  /** Where to go once it is deleted; empty stays here. */
  leaveTo?: string;
}

/** Archives a thing, puts it back, or deletes it for good where nothing hangs on it. */
export const ArchiveActions = ({ at, name, archived, archivable = true, deletable, goes, leaveTo }: Props) => {
  const { say, toast } = useToast();
  const ready = useReady();
  const [asking, setAsking] = useState(false);
  const act = async (path: string, body: object, said: string) => {
    const answer = await send(`${at}/${path}`, body, z.object({ ok: z.boolean() }));
    setAsking(false);
    if (!answer.ok) return say(answer.message, true);
    if (path === "delete" && leaveTo) location.assign(leaveTo);
    else reloadSaying(said);
  };
  const archive = () => act("archive", { archived: !archived }, archived ? `“${name}” is back.` : `“${name}” is archived.`);
  return (
    <div inert={!ready} className={styles.row}>
      {archivable && (
        <Button onClick={() => void archive()} aria-label={`${archived ? "Restore" : "Archive"} ${name}`}>
          {archived ? "Restore" : "Archive"}
        </Button>
      )}
      {deletable && (
        <Button onClick={() => setAsking(true)} aria-label={`Delete ${name}`}>
          Delete
        </Button>
      )}
      {asking && (
        <Dialog
          title={`Delete “${name}”?`}
          confirm="Delete it for good"
          destructive
          onConfirm={() => void act("delete", {}, `“${name}” is deleted.`)}
          onClose={() => setAsking(false)}
        >
          <p>{goes} This cannot be undone.</p>
        </Dialog>
      )}
      {toast}
    </div>
  );
};
