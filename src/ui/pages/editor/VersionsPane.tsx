import { useEffect, useState } from "react";
import { z } from "zod";
import { shortMoment } from "../../../core/launch";
import { pageContent, type PageContent } from "../../../core/pages";
import { Button } from "../../kit/Button";
import { Pane } from "../../kit/Pane";
import { send } from "../../kit/data/send";
import styles from "./editor.module.css";

const lines = z.object({
  versions: z.array(z.object({ version: z.number(), at: z.coerce.date(), by: z.string(), published: z.boolean(), says: z.string() })),
});
const restored = z.object({ version: z.number(), content: pageContent });

interface Props {
  page: string;
  version: number;
  zone: string;
  onRestored: (content: PageContent, version: number, from: number) => void;
  onRefused: (message: string) => void;
  onClose: () => void;
}

/** What the page was, the latest first; any of it can be brought back, and that can be undone. */
export const VersionsPane = ({ page, version, zone, onRestored, onRefused, onClose }: Props) => {
  const [all, setAll] = useState<z.infer<typeof lines>["versions"]>();
  useEffect(() => {
    void send(`/api/desk/pages/${page}/versions`, {}, lines).then((answer) =>
      answer.ok ? setAll(answer.value.versions) : onRefused(answer.message),
    );
  }, [page, version, onRefused]);
  const restore = async (from: number) => {
    const answer = await send(`/api/desk/pages/${page}/restore`, { version: from, from: version }, restored);
    if (answer.ok) onRestored(answer.value.content, answer.value.version, from);
    else onRefused(answer.message);
  };
  return (
    <Pane title="Versions">
      <p className={styles.close}>
        <Button onClick={onClose}>Back to the page</Button>
      </p>
      {all?.length === 0 && <p className="muted">Nothing was changed yet. Every change will stand here and can be brought back.</p>}
      <ol className={styles.versions}>
        {all?.map((one) => (
          <li key={one.version}>
            <p>
              <b>{shortMoment(one.at, zone)}</b> {one.published && <span className={styles.good}>published</span>}
            </p>
            <p className="muted">
              {one.by}: {one.says}
            </p>
            {one.version !== version && <Button onClick={() => void restore(one.version)}>Bring version {one.version} back</Button>}
          </li>
        ))}
      </ol>
    </Pane>
  );
};
