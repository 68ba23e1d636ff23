import { decideComment } from "../../contract/pages";
import { useState } from "react";
import { shortMoment } from "../../core/words";
import { Button } from "../kit/Button";
import { EmptyState } from "../kit/EmptyState";
import { Field } from "../kit/fields/Field";
import { Select } from "../kit/fields/Select";
import { call } from "../kit/data/call";
import { useReady } from "../kit/data/useReady";
import { say } from "../kit/notices";
import styles from "./CommentDesk.module.css";

interface Comment {
  id: string;
  page: string;
  name: string;
  body: string;
  at: Date;
  state: "waiting" | "shown" | "hidden";
  reply: string;
}
interface Props {
  slug: string;
  zone: string;
  comments: Comment[];
  /** Pages by their keys, with their titles and addresses. */
  pages: Record<string, { title: string; href: string } | undefined>;
  mayWrite: boolean;
}

const stands = { waiting: "waits to be read", shown: "shown", hidden: "not shown" } as const;

/** What people said below the pages of a launch, read and let through one by one. */
export const CommentDesk = ({ slug, zone, comments: first, pages, mayWrite }: Props) => {
  const ready = useReady();
  const [comments, setComments] = useState(first);
  const [which, setWhich] = useState<"all" | Comment["state"]>("all");
  const [replies, setReplies] = useState<Record<string, string>>({});
  const decide = async (comment: Comment, state: "shown" | "hidden") => {
    const reply = replies[comment.id] ?? comment.reply;
    const answer = await call(decideComment, { params: { slug }, request: { id: comment.id, state, reply } });
    if (!answer.ok) return say(answer.message, true);
    setComments((all) => all.map((one) => (one.id === comment.id ? { ...one, state, reply } : one)));
    say(state === "shown" ? "It stands on the page now." : "It is not shown.");
  };
  const waiting = comments.filter(({ state }) => state === "waiting").length;
  const listed = comments.filter(({ state }) => which === "all" || state === which);
  if (comments.length === 0)
    return (
      <EmptyState
        title="Comments will stand here"
        says="What people write below a page with the block Comments. Nothing is shown before you have read it."
      />
    );
  return (
    <div inert={!ready} className={styles.desk}>
      <div className={styles.head}>
        <p role="status">{waiting === 0 ? "None waits to be read." : `${waiting} ${waiting === 1 ? "waits" : "wait"} to be read.`}</p>
        <Select
          label="Shown here"
          hideLabel
          value={which}
          options={[
            { value: "all", label: `all ${comments.length}` },
            ...(["waiting", "shown", "hidden"] as const).map((value) => ({ value, label: stands[value] })),
          ]}
          onChange={(picked) => setWhich(picked)}
        />
      </div>
      <ol>
        {listed.map((comment) => (
          <li key={comment.id} className={comment.state === "waiting" ? styles.waiting : undefined}>
            <p className={styles.by}>
              <strong>{comment.name}</strong> <span>{shortMoment(comment.at, zone)}</span>
              <a href={pages[comment.page]?.href}>{pages[comment.page]?.title ?? comment.page}</a>
              <b className={styles[comment.state]}>{stands[comment.state]}</b>
            </p>
            <p className={styles.body}>{comment.body}</p>
            {comment.reply && comment.state !== "waiting" && <p className={styles.reply}>{comment.reply}</p>}
            {mayWrite && (
              <details open={comment.state === "waiting" || undefined}>
                <summary>{comment.reply ? "Change the answer" : "Answer"}</summary>
                <Field
                  label="Your answer, shown below it"
                  rows={2}
                  value={replies[comment.id] ?? comment.reply}
                  onChange={(event) => setReplies({ ...replies, [comment.id]: event.currentTarget.value })}
                />
                <p className={styles.acts}>
                  <Button main={comment.state === "waiting"} onClick={() => void decide(comment, "shown")}>
                    {comment.state === "shown" ? "Keep the answer" : "Show it on the page"}
                  </Button>
                  {comment.state !== "hidden" && <Button onClick={() => void decide(comment, "hidden")}>Do not show it</Button>}
                </p>
              </details>
            )}
          </li>
        ))}
      </ol>
    </div>
  );
};
