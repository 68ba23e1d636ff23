import type { AnswerOf } from "../../../contract/endpoint";
import { pageVersions, restoreVersion } from "../../../contract/pages";
import { useEffect, useState } from "react";
import { shortMoment } from "../../../core/words";
import type { PageContent } from "../../../core/pages";
import { Button } from "../../kit/Button";
import { Pane } from "../../kit/Pane";
import { call } from "../../kit/data/call";
import styles from "./editor.module.css";

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
  const [all, setAll] = useState<AnswerOf<typeof pageVersions>["versions"]>();
  useEffect(() => {
    void call(pageVersions, { params: { id: page } }).then((answer) => (answer.ok ? setAll(answer.value.versions) : onRefused(answer.message)));
  }, [page, version, onRefused]);
  const restore = async (from: number) => {
    const answer = await call(restoreVersion, { params: { id: page }, request: { version: from, from: version } });
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
