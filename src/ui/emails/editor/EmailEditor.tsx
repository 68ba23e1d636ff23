import { useCallback, useMemo, useRef, useState } from "react";
import { publishEmail, saveEmailDraft, sendTestEmail } from "../../../contract/emails";
import {
  emailBlockTypes,
  emailContent,
  emailGaps,
  mergeFieldNames,
  type EmailContent,
  type EmailFacts,
  type EmailGapFacts,
  type EmailKindName,
  type EmailVariant,
  type MergeField,
} from "../../../core/emails";
import { blockKinds, spaceSteps, updateBlock, updateSection, type Block, type Device, type LinkSource, type Media } from "../../../core/pages";
import type { LaunchPage } from "../../../core/launch";
import type { EmailSetting } from "../../../public/emails/EmailDocument";
import { Button } from "../../kit/Button";
import { call } from "../../kit/data/call";
import { useReady } from "../../kit/data/useReady";
import { Dialog } from "../../kit/Dialog";
import { Select } from "../../kit/fields/Select";
import { say } from "../../kit/notices";
import { Pane } from "../../kit/Pane";
import { statusWords } from "../../kit/record/RecordStatus";
import { useRecord } from "../../kit/record/useRecord";
import { useUndoKeys } from "../../kit/record/useUndoKeys";
import { AddBlock } from "../../pages/editor/AddBlock";
import { BlockActs } from "../../pages/editor/BlockActs";
import { BlockFields } from "../../pages/editor/BlockPane";
import { newId, objections, type Editing } from "../../pages/editor/editing";
import editor from "../../pages/editor/editor.module.css";
import { GapList } from "../../pages/editor/GapList";
import { Margin } from "../../pages/editor/Margin";
import { ProofMarks } from "../../pages/editor/ProofMarks";
import { SectionFields } from "../../pages/editor/SectionFields";
import { useBlocks } from "../../pages/editor/useBlocks";
import { EmailPane } from "./EmailPane";
import { EmailProof, useWrittenEmail } from "./EmailProof";
import { EmailTemplates } from "./EmailTemplates";
import { EmailVersions } from "./EmailVersions";
import { FieldChips } from "./FieldChips";

interface Props {
  email: {
    key: string;
    kind: EmailKindName;
    /** When it goes, or what it answers. */
    when: string;
    draft: EmailContent;
    published: EmailContent | null;
    version: number;
    /** Of an email that may have a second version: its key without one, which is open, how many in a hundred get the second, and whether both are published. */
    versions?: { first: string; open: EmailVariant; second: number | undefined; both: boolean } | undefined;
  };
  launch: LinkSource & { slug: string; pages: LaunchPage[] };
  launches: { slug: string; name: string }[];
  look: Omit<EmailSetting, "media">;
  media: Media[];
  facts: EmailFacts;
  /** Through whose eyes it is read; undefined for anybody whose name is not known. */
  reader: { id: string; name: string } | undefined;
  /** The wall times of the bells. */
  bells: string[];
  mayWrite: boolean;
}

const devices = [
  ["desktop", "Wide"],
  ["phone", "Phone"],
] as const;

/** Fields that an email of a kind can fill. */
const fieldsOf = (kind: EmailKindName): MergeField[] =>
  mergeFieldNames.filter((field) => {
    if (field === "order number") return kind === "receipt";
    if (kind === "confirm" || kind === "receipt") return !["deadline", "opening", "what comes next", "partner", "price"].includes(field);
    return true;
  });

const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

/** One email as it is read, its blocks named in the margin. All that is typed is saved by itself; what is sent is what was published. */
export const EmailEditor = ({ email, launch, launches, look, media: first, facts, reader, bells, mayWrite }: Props) => {
  const ready = useReady();
  const params = { slug: launch.slug, email: email.key };
  const draft = useRecord<EmailContent>({
    first: email.draft,
    version: email.version,
    restMs: 600,
    whole: (content) => emailContent.safeParse(content).success,
    save: (content, version, leaving) => call(saveEmailDraft, { params, request: { content, version }, leaving }),
  });
  const { content, change, settle } = draft;
  const [published, setPublished] = useState(email.published);
  const [device, setDevice] = useState<Device>("desktop");
  const [media, setMedia] = useState(first);
  const [asking, setAsking] = useState(false);
  const side = useRef<HTMLDivElement>(null);
  const blocks = useBlocks({ content, change, settle });
  const { selected, found, section, addAt, rect } = blocks;

  const gapFacts = useMemo(
    (): EmailGapFacts => ({ kind: email.kind, source: launch, origin: look.origin, bells, media }),
    [email.kind, launch, look.origin, bells, media],
  );
  const gaps = useMemo(() => emailGaps(content, gapFacts), [content, gapFacts]);
  const blocking = gaps.filter((gap) => gap.blocking);
  const wrong = useMemo(() => objections(emailContent, content), [content]);
  const setting = useMemo(() => ({ ...look, media: (id: string | null) => media.find((one) => one.id === id) }), [look, media]);
  const readerOf = useMemo(() => ({ facts, source: launch, unsubscribe: "#" }), [facts, launch]);
  const written = useWrittenEmail(content, setting, readerOf);
  const onMedia = useCallback((one: Media) => setMedia((all) => [one, ...all.filter(({ id }) => id !== one.id)]), []);
  const editing: Editing = {
    content,
    overlays: false,
    media,
    onMedia,
    pages: launch.pages,
    episodes: launch.settings?.episodes.map(({ page }) => page) ?? [],
    launches,
    products: [],
    makeProduct: () => Promise.reject(new Error("An email sells nothing by itself.")),
    newId,
    gaps,
    change: (id, field, next) => change((now) => updateBlock(now, id, (block) => ({ ...block, ...next }) as Block), `${id}.${field}`),
    wrong: (block, field) => wrong.get(`${block}.${field}`),
  };

  useUndoKeys(draft);

  const asSent = published !== null && same(published, content);
  const publish = async () => {
    setAsking(false);
    const answer = await call(publishEmail, { params, request: { version: draft.version } });
    if (!answer.ok) return say(answer.message, true);
    setPublished(content);
    say("It goes out like this from now on.");
  };
  const test = async () => {
    const answer = await call(sendTestEmail, { params, request: { draft: true, ...(reader ? { to: reader.id } : {}) } });
    say(answer.ok ? `Sent to ${answer.value.to}.` : answer.message, !answer.ok);
  };
  const status = !published ? "not published: it does not go out" : asSent ? "goes out like this" : "changed since it was published";
  return (
    <div className={editor.editor} inert={!ready}>
      <header className={editor.head}>
        <h1>{content.subject.trim() ? (written?.subject ?? content.subject) : "An email without a subject"}</h1>
        <p className="muted">
          {email.when}, <span data-status>{status}</span>
          <span role="status">, {statusWords[draft.status]}</span>
        </p>
        <div className={editor.tools}>
          <div className={editor.widths} role="group" aria-label="Width of the email">
            {devices.map(([one, name]) => (
              <button key={one} type="button" aria-pressed={device === one} onClick={() => setDevice(one)}>
                {name}
              </button>
            ))}
          </div>
          <Button disabled={!draft.undo} onClick={draft.undo}>
            Undo
          </Button>
          <Button disabled={!draft.redo} onClick={draft.redo}>
            Redo
          </Button>
          <Button disabled={!mayWrite || draft.status !== "saved"} onClick={() => void test()}>
            Send me a test
          </Button>
          <Button main disabled={!mayWrite || draft.status !== "saved" || asSent || draft.version === 0} onClick={() => setAsking(true)}>
            {asSent ? "Published" : "Publish it"}
          </Button>
        </div>
      </header>
      <hr className="oxford" />
      {!mayWrite && <p className={editor.others}>You may look at this email; owners and editors change it.</p>}
      {email.versions && <EmailVersions slug={launch.slug} {...email.versions} mayWrite={mayWrite} />}
      {draft.status === "conflict" && (
        <p className={editor.conflict} role="alert">
          Somebody else saved this email meanwhile. What you typed is still here and nothing of theirs is overwritten.{" "}
          <Button onClick={() => location.reload()}>See theirs</Button>
        </p>
      )}
      <div className={editor.body}>
        <Margin
          content={content}
          rects={blocks.rects}
          device={device}
          selected={selected}
          of="email"
          gaps={gaps}
          onSelect={blocks.select}
          onMove={mayWrite ? blocks.move : () => undefined}
          onAim={blocks.setAim}
        />
        <div className={editor.galley}>
          <EmailProof written={written} device={device} onSelect={blocks.select} onRects={blocks.measured}>
            <ProofMarks blocks={blocks} types={emailBlockTypes} mayWrite={mayWrite} />
          </EmailProof>
          {mayWrite && addAt && !rect && (
            <div className={editor.adding}>
              <AddBlock types={emailBlockTypes} onAdd={(type) => blocks.add(addAt, type)} />
            </div>
          )}
          <p className="muted">
            As {reader ? <b>{reader.name}</b> : "anybody"} reads it.{" "}
            {!reader && "Choose a person under “As seen” to read theirs, with their name, their deadline and their zone."}
          </p>
        </div>
        <div ref={side} className={editor.side} inert={!mayWrite}>
          {found || section ? (
            <Pane title={found ? blockKinds[found.block.type].name : "Section"}>
              <BlockActs blocks={blocks} whole="The email" gaps={gaps} />
              {found ? (
                <div key={selected} onBlur={settle}>
                  <BlockFields block={found.block} editing={editing} />
                  <Select
                    label="Space above"
                    value={found.block.space}
                    options={spaceSteps.map((value) => ({ value, label: value }))}
                    onChange={(picked) => editing.change(selected!, "space", { space: picked })}
                  />
                </div>
              ) : (
                <SectionFields
                  section={section!}
                  onChange={(next) => change((now) => updateSection(now, section!.id, (old) => ({ ...old, ...next })))}
                />
              )}
            </Pane>
          ) : (
            <div onBlur={settle}>
              <EmailPane
                content={content}
                gaps={gaps}
                written={written}
                wrong={(field) => wrong.get(`.${field}`)}
                onChange={(field, next) => change((now) => ({ ...now, ...next }), `email.${field}`)}
                onGap={(gap) => blocks.select(gap.block)}
              />
            </div>
          )}
          {!found && !section && mayWrite && (
            <EmailTemplates
              slug={launch.slug}
              email={email.key}
              saved={draft.status === "saved" && draft.version > 0}
              onReplace={(next) => change(() => next)}
            />
          )}
          <FieldChips fields={fieldsOf(email.kind)} within={side} />
        </div>
      </div>
      {asking && blocking.length > 0 && (
        <Dialog
          title="Not yet"
          confirm={`Show me the ${blocking.length === 1 ? "gap" : "first gap"}`}
          onConfirm={() => (setAsking(false), blocks.select(blocking[0]!.block))}
          onClose={() => setAsking(false)}
        >
          <GapList label="What the email lacks" gaps={blocking} onGap={(gap) => (setAsking(false), blocks.select(gap.block))} />
        </Dialog>
      )}
      {asking && blocking.length === 0 && (
        <Dialog title="Publish this email" confirm="Publish it" onConfirm={() => void publish()} onClose={() => setAsking(false)}>
          <p>Whoever gets it from now on gets it like this. What has been sent stays as it was.</p>
          {gaps.length > 0 && <GapList label="Look at these" gaps={gaps} onGap={(gap) => (setAsking(false), blocks.select(gap.block))} />}
        </Dialog>
      )}
    </div>
  );
};
