import { textFromBlocks, type EmailContent, type EmailGap } from "../../../core/emails";
import type { WrittenEmail } from "../../../public/emails/fillEmail";
import { Button } from "../../kit/Button";
import { Field } from "../../kit/fields/Field";
import { Pane } from "../../kit/Pane";
import { GapList } from "../../pages/editor/GapList";
import editor from "../../pages/editor/editor.module.css";
import styles from "../emails.module.css";

interface Props {
  content: EmailContent;
  gaps: readonly EmailGap[];
  /** As the chosen reader gets it. */
  written: WrittenEmail | undefined;
  wrong: (field: string) => string | undefined;
  onChange: (field: string, next: Partial<EmailContent>) => void;
  onGap: (gap: EmailGap) => void;
}

const gapOf = (gaps: readonly EmailGap[], field: string): string | undefined => {
  const gap = gaps.find((one) => one.field === field && !one.block);
  return gap && `${gap.says} ${gap.why}`;
};

/** What holds for the whole email: its subject, what lists of messages show behind it, what it lacks, and its text part. */
export const EmailPane = ({ content, gaps, written, wrong, onChange, onGap }: Props) => (
  <Pane title="The email">
    <Field
      label="Subject"
      value={content.subject}
      wrong={wrong("subject") ?? gapOf(gaps, "subject")}
      onChange={(event) => onChange("subject", { subject: event.currentTarget.value })}
    />
    <Field
      label="Preview line"
      hint="Shown behind the subject in lists of messages. Empty shows the first sentence."
      value={content.preheader}
      wrong={wrong("preheader") ?? gapOf(gaps, "preheader")}
      onChange={(event) => onChange("preheader", { preheader: event.currentTarget.value })}
    />
    <h3 className={editor.part}>Checks</h3>
    {gaps.length > 0 ? (
      <GapList label="What the email lacks" gaps={gaps} onGap={onGap} />
    ) : (
      <p className={editor.true}>Nothing is missing. The link to unsubscribe and your postal address stand under every email to the list.</p>
    )}
    <h3 className={editor.part}>Text part</h3>
    <p className="muted">For whoever reads no colours and pictures.</p>
    {content.text === null ? (
      <>
        <pre className={styles.textPart}>{written?.text}</pre>
        <Button onClick={() => onChange("text", { text: textFromBlocks(content) })}>Write it by hand</Button>
      </>
    ) : (
      <>
        <Field
          label="By hand"
          rows={12}
          hint="{link} is where the first button leads. How to unsubscribe and your address are put below it."
          value={content.text}
          wrong={wrong("text") ?? gapOf(gaps, "text")}
          onChange={(event) => onChange("text", { text: event.currentTarget.value })}
        />
        <Button onClick={() => onChange("text", { text: null })}>Make it from the blocks again</Button>
      </>
    )}
  </Pane>
);
