import { archiveLaunch, deleteLaunch } from "../../contract/launches";
import { archivePage, deletePage } from "../../contract/pages";
import { archiveCoupon, deleteCoupon } from "../../contract/products";
import { useState } from "react";
import { Button } from "./Button";
import { Dialog } from "./Dialog";
import { type Answer, call } from "./data/call";
import { reloadSaying, say } from "./notices";
import { useReady } from "./data/useReady";
import styles from "./kit.module.css";

interface Props {
  /** The thing: a launch by its address, a page or a coupon by its id. */
  of: { launch: string } | { page: string } | { coupon: string };
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

type Of = Props["of"];
const setArchived = (of: Of, archived: boolean): Promise<Answer<unknown>> => {
  const request = { archived };
  if ("launch" in of) return call(archiveLaunch, { params: { slug: of.launch }, request });
  return "page" in of ? call(archivePage, { params: { id: of.page }, request }) : call(archiveCoupon, { params: { id: of.coupon }, request });
};
const remove = (of: Of): Promise<Answer<unknown>> => {
  if ("launch" in of) return call(deleteLaunch, { params: { slug: of.launch } });
  return "page" in of ? call(deletePage, { params: { id: of.page } }) : call(deleteCoupon, { params: { id: of.coupon } });
};

/** Archives a thing, puts it back, or deletes it for good where nothing hangs on it. */
export const ArchiveActions = ({ of, name, archived, archivable = true, deletable, goes, leaveTo }: Props) => {
  const ready = useReady();
  const [asking, setAsking] = useState(false);
  const act = async (path: "archive" | "delete", said: string) => {
    const answer = await (path === "delete" ? remove(of) : setArchived(of, !archived));
    setAsking(false);
    if (!answer.ok) return say(answer.message, true);
    if (path === "delete" && leaveTo) location.assign(leaveTo);
    else reloadSaying(said);
  };
  const archive = () => act("archive", archived ? `“${name}” is back.` : `“${name}” is archived.`);
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
          onConfirm={() => void act("delete", `“${name}” is deleted.`)}
          onClose={() => setAsking(false)}
        >
          <p>{goes} This cannot be undone.</p>
        </Dialog>
      )}
    </div>
  );
};
