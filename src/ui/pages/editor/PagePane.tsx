import type { ReactNode } from "react";
import { headlineOf, type Look, type PageContent, type PageGap } from "../../../core/pages";
import { Field } from "../../kit/fields/Field";
import { Pane } from "../../kit/Pane";
import type { Editing } from "./editing";
import styles from "./editor.module.css";
import { GapList } from "./GapList";
import { LookFields } from "../fields/LookFields";
import { MediaField } from "../fields/MediaField";

interface Props {
  editing: Editing;
  content: PageContent;
  launchLook: Look;
  onPage: (field: string, change: Partial<PageContent>) => void;
  onGap: (gap: PageGap) => void;
  /** What can be done with the page as a whole. */
  tools: ReactNode;
  children?: ReactNode;
}

/** What holds for the whole page: what it lacks, what is said of it elsewhere, and a look of its own. */
export const PagePane = ({ editing, content, launchLook, onPage, onGap, tools, children }: Props) => {
  const { gaps, media, onMedia, wrong } = editing;
  return (
    <Pane title="The page">
      {gaps.length > 0 ? (
        <GapList label="What the page lacks" gaps={gaps} onGap={onGap} />
      ) : (
        <p className={styles.true}>Nothing is missing. Press a block to change it, or type the name of a new one at the end of the page.</p>
      )}
      {children}
      <h3 className={styles.part}>Where it is shared</h3>
      <Field
        label="Title"
        hint="In the browser's tab, in searches and shared links."
        placeholder={headlineOf(content)}
        value={content.title}
        wrong={wrong("", "title")}
        onChange={(event) => onPage("title", { title: event.currentTarget.value })}
      />
      <Field
        label="Description"
        rows={3}
        value={content.description}
        wrong={wrong("", "description")}
        onChange={(event) => onPage("description", { description: event.currentTarget.value })}
      />
      <MediaField
        label="Picture"
        kind="picture"
        value={content.picture}
        all={media}
        onMedia={onMedia}
        onChange={(picture) => onPage("picture", { picture })}
      />
      <h3 className={styles.part}>Look</h3>
      <label className={styles.tick}>
        <input
          type="checkbox"
          checked={content.look === null}
          onChange={(event) => onPage("look", { look: event.currentTarget.checked ? null : launchLook })}
        />{" "}
        as the launch
      </label>
      {content.look && (
        <LookFields
          look={content.look}
          media={media}
          wrong={{
            ...(wrong("", "accent") ? { accent: wrong("", "accent")! } : {}),
            ...(wrong("", "second") ? { second: wrong("", "second")! } : {}),
          }}
          onMedia={onMedia}
          onChange={(look) => onPage("look", { look })}
        />
      )}
      <h3 className={styles.part}>As a whole</h3>
      {tools}
    </Pane>
  );
};
