import { faultOf, faultSentence } from "../../../core/words";
import { EditorContent, useEditor, type JSONContent } from "@tiptap/react";
import StarterKit from "@tiptap/starter-kit";
import { useEffect, useId, useRef, useState } from "react";
import { outsideAddress, richFromEditor, type RichText } from "../../../core/pages";
import { Button } from "../../kit/Button";
import { Field } from "../../kit/fields/Field";
import kit from "../../kit/kit.module.css";
import styles from "../editor/editor.module.css";

const toEditor = (rich: RichText): JSONContent => ({
  type: "doc",
  content:
    rich.content.length === 0
      ? [{ type: "paragraph" }]
      : rich.content.map((one) => (one.type === "heading" ? { ...one, attrs: { level: 3 } } : one) as JSONContent),
});

interface Props {
  label: string;
  value: RichText;
  wrong?: string;
  onChange: (value: RichText) => void;
}

/** Paragraphs, lists, quotes, links, bold and italic; nothing else can be typed or pasted into it. */
export const RichField = ({ label, value, wrong, onChange }: Props) => {
  const id = useId();
  const [linking, setLinking] = useState<string>();
  const [linkWrong, setLinkWrong] = useState<string>();
  const latest = useRef({ onChange, value });
  latest.current = { onChange, value };
  const editor = useEditor({
    immediatelyRender: false,
    content: toEditor(value),
    extensions: [
      StarterKit.configure({
        code: false,
        codeBlock: false,
        strike: false,
        underline: false,
        horizontalRule: false,
        undoRedo: false,
        heading: { levels: [3] },
        link: { openOnClick: false, protocols: ["http", "https"], isAllowedUri: (url) => outsideAddress.safeParse(url).success },
      }),
    ],
    editorProps: { attributes: { id, role: "textbox", "aria-multiline": "true", "aria-label": label, class: styles.rich! } },
    onUpdate: ({ editor: now }) => {
      const next = richFromEditor(now.getJSON());
      if (next && JSON.stringify(next) !== JSON.stringify(latest.current.value)) latest.current.onChange(next);
    },
  });
  // An undo, or a version brought back, changes the words from outside.
  useEffect(() => {
    if (editor && !editor.isFocused && JSON.stringify(richFromEditor(editor.getJSON())) !== JSON.stringify(value))
      editor.commands.setContent(toEditor(value), { emitUpdate: false });
  }, [editor, value]);

  const marks = [
    ["Bold", "bold", () => editor?.chain().focus().toggleBold().run()],
    ["Italic", "italic", () => editor?.chain().focus().toggleItalic().run()],
    ["Heading", "heading", () => editor?.chain().focus().toggleHeading({ level: 3 }).run()],
    ["List", "bulletList", () => editor?.chain().focus().toggleBulletList().run()],
    ["Numbers", "orderedList", () => editor?.chain().focus().toggleOrderedList().run()],
    ["Quote", "blockquote", () => editor?.chain().focus().toggleBlockquote().run()],
  ] as const;
  const link = () => {
    const href = linking!.trim();
    if (href === "") editor?.chain().focus().unsetLink().run();
    else {
      const read = outsideAddress.safeParse(href);
      if (!read.success) return setLinkWrong(faultSentence(faultOf(read.error.issues[0]!)));
      editor?.chain().focus().extendMarkRange("link").setLink({ href }).run();
    }
    setLinking(undefined);
    setLinkWrong(undefined);
  };
  return (
    <div className={kit.field}>
      <span className={kit.label}>{label}</span>
      <div className={styles.marks} role="group" aria-label="Form of the words">
        {marks.map(([name, mark, run]) => (
          <button key={name} type="button" aria-pressed={editor?.isActive(mark) ?? false} onClick={run}>
            {name}
          </button>
        ))}
        <button
          type="button"
          aria-pressed={editor?.isActive("link") ?? false}
          onClick={() => setLinking(String(editor?.getAttributes("link")["href"] ?? ""))}
        >
          Link
        </button>
      </div>
      {linking !== undefined && (
        <div className={styles.linking}>
          <Field
            label="Leads to"
            value={linking}
            wrong={linkWrong}
            placeholder="https://"
            onChange={(event) => setLinking(event.currentTarget.value)}
          />
          <Button onClick={link}>{linking.trim() ? "Set the link" : "Take the link away"}</Button>
        </div>
      )}
      <EditorContent editor={editor} />
      {wrong && (
        <p className={kit.wrong} role="alert">
          {wrong}
        </p>
      )}
    </div>
  );
};
