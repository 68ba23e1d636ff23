import { say } from "../kit/notices";
import { publishPage } from "../../contract/pages";
import { useState } from "react";
import { samePage, type PageContent } from "../../core/pages";
import type { OfferedPage } from "../../core/pages";
import { Button } from "../kit/Button";
import { call } from "../kit/data/call";
import type { RecordStatus as Status } from "../kit/record/useRecord";

interface Props {
  page: OfferedPage;
  /** The draft as it stands here, how it is kept, and its version. */
  draft: { content: PageContent; status: Status; version: number };
  href: string;
  link: string;
  /** What it means that the page is not published. */
  hidden: string;
  button: string;
  published: string;
  refresh: () => Promise<void>;
}

/** How a page stands against what the public sees, the way to the rest of it, and its publishing. */
export const PagePublishing = ({ page, draft, href, link, hidden, button, published, refresh }: Props) => {
  const [busy, setBusy] = useState(false);
  const { content, status, version } = draft;
  const publish = async () => {
    setBusy(true);
    const answer = await call(publishPage, { params: { id: page.id }, request: { version } });
    setBusy(false);
    if (!answer.ok) return say(answer.message, true);
    say(published);
    await refresh();
  };
  const changed = !page.published || page.changed || !samePage(content, page.draft);
  return (
    <>
      <p style={{ marginTop: 10 }}>
        <a href={href}>{link}</a>
        <span className="muted">
          , {!page.published ? `not published: ${hidden}` : changed ? "changed since it was published" : "published as it stands"}
          {status === "saved" ? "" : `, ${status === "saving" ? "saving…" : "not saved yet"}`}
        </span>
      </p>
      {changed && (
        <p style={{ marginTop: 6 }}>
          <Button main disabled={busy || status !== "saved"} onClick={() => void publish()}>
            {button}
          </Button>
        </p>
      )}
    </>
  );
};
