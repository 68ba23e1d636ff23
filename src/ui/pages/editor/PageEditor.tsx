import type { AnswerOf } from "../../../contract/endpoint";
import { notePresence, publishPage } from "../../../contract/pages";
import { makeBump } from "../../../contract/products";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { type LaunchPage, type LaunchShape } from "../../../core/launch";
import {
  blockKinds,
  changesBetween,
  devices,
  insertSection,
  pageContent,
  pageGaps,
  spaceSteps,
  updateBlock,
  updateSection,
  withoutVariant,
  type Block,
  type BlockType,
  type Device,
  type Look,
  type Media,
  type PageContent,
  type LinkSource,
} from "../../../core/pages";
import type { PageFacts } from "../../../public/facts";
import { Button } from "../../kit/Button";
import { Dialog } from "../../kit/Dialog";
import { Pane } from "../../kit/Pane";
import { Select } from "../../kit/fields/Select";
import { call } from "../../kit/data/call";
import { say } from "../../kit/notices";
import { useReady } from "../../kit/data/useReady";
import { AddBlock } from "./AddBlock";
import { BlockActs } from "./BlockActs";
import { BlockFields } from "./BlockPane";
import { newId, objections, type Editing, type SoldProduct } from "./editing";
import styles from "./editor.module.css";
import { Margin } from "./Margin";
import { PagePane } from "./PagePane";
import { PageTools } from "./PageTools";
import { Proof } from "./Proof";
import { ProofMarks } from "./ProofMarks";
import { SectionFields } from "./SectionFields";
import type { OwnTemplate } from "../TemplateSelect";
import { useBlocks } from "./useBlocks";
import { useDraft } from "./useDraft";
import { statusWords } from "../../kit/record/RecordStatus";
import { useUndoKeys } from "../../kit/record/useUndoKeys";
import { VariantTools, type Version } from "./VariantTools";
import { VersionsPane } from "./VersionsPane";

interface Props {
  page: {
    id: string;
    key: string;
    slug: string;
    kind: LaunchPage["kind"];
    name: string;
    draft: PageContent;
    published: PageContent | null;
    version: number;
  };
  launch: LinkSource & { name: string; shape: LaunchShape; zone: string; look: Look; pages: LaunchPage[] };
  /** Products that a bump may add. */
  products: SoldProduct[];
  launches: { slug: string; name: string }[];
  address: string;
  facts: PageFacts;
  media: Media[];
  /** False for who may only look. */
  mayWrite: boolean;
  /** The main product's name, for templates. */
  product: string;
  templates: OwnTemplate[];
  /** The page's versions in a test, the page itself first. */
  versions: Version[];
  /** What hangs on the page. */
  uses: { says: string; href: string }[];
  /** On an offer page: what is offered. */
  offer?: { name: string; price: string; href: string };
}

const device = { desktop: "Desktop", tablet: "Tablet", phone: "Phone" } as const;
const leaves = (Object.keys(blockKinds) as BlockType[]).filter((type) => type !== "columns");
const many = (n: number, one: string) => `${n} ${one}${n === 1 ? "" : "s"}`;

/** One page as a proof, its blocks named in the margin. All that is typed is saved by itself; publishing is a step of its own. */
export const PageEditor = ({
  page,
  launch,
  launches,
  products: sold,
  address,
  facts,
  media: first,
  mayWrite,
  product,
  templates,
  versions,
  uses,
  offer,
}: Props) => {
  const ready = useReady();
  const draft = useDraft(page.id, page.draft, page.version);
  const { content, change: changePage, settle } = draft;
  const [published, setPublished] = useState(page.published);
  const [width, setWidth] = useState<Device>("desktop");
  const [pane, setPane] = useState<"page" | "versions">("page");
  const [media, setMedia] = useState(first);
  const [products, setProducts] = useState(sold);
  const [asking, setAsking] = useState(false);
  const [others, setOthers] = useState<AnswerOf<typeof notePresence>>();

  const blocks = useBlocks({ content, change: changePage, settle });
  const { selected, setSelected, found, section, select: choose } = blocks;
  const gaps = useMemo(
    () =>
      pageGaps(content, {
        key: withoutVariant(page.key),
        kind: page.kind,
        source: launch,
        launches: launches.map(({ slug }) => slug),
        products: products.map(({ id }) => id),
      }),
    [content, page.key, page.kind, launch, launches, products],
  );
  const wrong = useMemo(() => objections(pageContent, content), [content]);
  const changes = useMemo(() => (published ? changesBetween(published, content) : []), [published, content]);
  const blocking = gaps.filter((gap) => gap.blocking);

  const select = useCallback(
    (id: string | undefined) => {
      setPane("page");
      choose(id);
    },
    [choose],
  );
  const add: typeof blocks.add = (place, type) => {
    blocks.add(place, type);
    setPane("page");
  };
  const onMedia = useCallback((one: Media) => setMedia((all) => [one, ...all.filter(({ id }) => id !== one.id)]), []);
  const editing: Editing = {
    content,
    overlays: true,
    media,
    onMedia,
    pages: launch.pages,
    episodes: launch.settings?.episodes.map(({ page: key }) => key) ?? [],
    launches,
    products,
    async makeProduct(typed) {
      const answer = await call(makeBump, { params: { id: page.id }, request: typed });
      if (answer.ok) setProducts((all) => [...all, answer.value]);
      return answer;
    },
    newId,
    gaps,
    change: (id, field, next) => changePage((now) => updateBlock(now, id, (block) => ({ ...block, ...next }) as Block), `${id}.${field}`),
    wrong: (block, field) => wrong.get(`${block}.${field}`),
  };

  useUndoKeys(draft);

  // A link to a gap opens its very field.
  const linked = useRef<string>(undefined);
  useEffect(() => {
    const asked = new URLSearchParams(location.search);
    linked.current = asked.get("field") ?? undefined;
    setSelected(asked.get("block") ?? undefined);
  }, []);
  useEffect(() => {
    if (selected === undefined || !ready || linked.current === undefined) return;
    const name = CSS.escape(linked.current);
    linked.current = undefined;
    // Where text is typed comes before the buttons above it, and stands there a moment after them.
    const focus = (framesLeft: number) => {
      const at = (what: string) => document.querySelector<HTMLElement>(`[data-field="${name}"] :is(${what})`);
      const typed = at("[contenteditable=true], input, select, textarea");
      if (!typed && framesLeft > 0) requestAnimationFrame(() => focus(framesLeft - 1));
      else (typed ?? at("button"))?.focus();
    };
    focus(60);
  }, [selected, ready]);

  // Says that the page is open here, and hears who else has it open.
  useEffect(() => {
    if (!mayWrite) return;
    const noteMyself = () => void call(notePresence, { params: { id: page.id } }).then((answer) => answer.ok && setOthers(answer.value));
    noteMyself();
    const timer = setInterval(noteMyself, 8_000);
    return () => clearInterval(timer);
  }, [page.id, draft.status, mayWrite]);

  const publish = async () => {
    setAsking(false);
    const answer = await call(publishPage, { params: { id: page.id }, request: { version: draft.version } });
    if (!answer.ok) return say(answer.message, true);
    setPublished(content);
    say(`${page.name} is published at ${address}`);
  };
  const theirs = others && others.version > draft.version && draft.status !== "saving";
  const status = !published
    ? "not published: nobody sees this page"
    : changes.length === 0
      ? "published as it stands"
      : "changed since it was published";
  const { rect, addAt, last } = blocks;
  const types = addAt?.column ? leaves : undefined;
  return (
    <div className={styles.editor} inert={!ready}>
      <header className={styles.head}>
        <h1>{page.name}</h1>
        <p className="muted">
          {address}, <span data-status>{status}</span>
          <span role="status">, {statusWords[draft.status]}</span>
        </p>
        <div className={styles.tools}>
          <div className={styles.widths} role="group" aria-label="Width of the page">
            {devices.map((one) => (
              <button key={one} type="button" aria-pressed={width === one} onClick={() => setWidth(one)}>
                {device[one]}
              </button>
            ))}
          </div>
          <Button disabled={!draft.undo} onClick={draft.undo}>
            Undo
          </Button>
          <Button disabled={!draft.redo} onClick={draft.redo}>
            Redo
          </Button>
          <Button aria-pressed={pane === "versions"} onClick={() => setPane(pane === "versions" ? "page" : "versions")}>
            Versions
          </Button>
          <Button
            main
            disabled={!mayWrite || draft.status !== "saved" || (published !== null && changes.length === 0)}
            onClick={() => setAsking(true)}
          >
            {published ? (changes.length === 0 ? "Published" : `Publish ${many(changes.length, "change")}`) : "Publish this page"}
          </Button>
        </div>
      </header>
      <hr className="oxford" />
      {!mayWrite && <p className={styles.others}>You may look at this page; owners and editors change it.</p>}
      {others && others.others.length > 0 && (
        <p className={styles.others} role="status">
          {others.others.join(" and ")} {others.others.length === 1 ? "has" : "have"} this page open too. Whoever saves second is asked first.
        </p>
      )}
      {(theirs || draft.status === "conflict") && (
        <p className={styles.conflict} role="alert">
          Somebody else saved this page meanwhile. What you typed is still here and nothing of theirs is overwritten.{" "}
          <Button onClick={() => location.reload()}>See theirs</Button>{" "}
          {draft.status === "conflict" && others && <Button onClick={() => draft.keepMine(others.version)}>Save mine as the newer version</Button>}
        </p>
      )}
      <div className={styles.body}>
        <Margin
          content={content}
          rects={blocks.rects}
          device={width}
          selected={selected}
          gaps={gaps}
          onSelect={select}
          onMove={mayWrite ? blocks.move : () => undefined}
          onAim={blocks.setAim}
        />
        <div className={styles.galley}>
          <Proof
            content={content}
            facts={facts}
            look={launch.look}
            launch={launch}
            media={media}
            device={width}
            onSelect={select}
            onRects={blocks.measured}
          >
            <ProofMarks blocks={{ ...blocks, add }} types={types} mayWrite={mayWrite} />
          </Proof>
          {mayWrite && addAt && !rect && (
            <div className={styles.adding}>
              <AddBlock types={types} onAdd={(type) => add(addAt, type)} />
            </div>
          )}
          <p className={styles.foot} style={{ marginTop: rect && rect.top + rect.height > blocks.bottom - 30 ? 40 : undefined }}>
            <Button
              onClick={() =>
                changePage((now) =>
                  insertSection(now, section?.id ?? last?.id, { id: newId(), ground: "paper", width: "normal", space: "normal", blocks: [] }),
                )
              }
            >
              Add a section
            </Button>{" "}
            {content.sections.map(({ id }, index) => (
              <button key={id} type="button" className={styles.sectionName} aria-pressed={id === selected} onClick={() => select(id)}>
                section {index + 1}
              </button>
            ))}
          </p>
        </div>
        <div className={styles.side} inert={!mayWrite}>
          {pane === "versions" ? (
            <VersionsPane
              page={page.id}
              version={draft.version}
              zone={launch.zone}
              onClose={() => setPane("page")}
              onRefused={(message) => say(message, true)}
              onRestored={(restored, version, from) => {
                draft.take(restored, version);
                setSelected(undefined);
                say(`Version ${from} is back. Undo brings the other again.`);
              }}
            />
          ) : found || section ? (
            <Pane title={found ? blockKinds[found.block.type].name : `Section ${content.sections.indexOf(section!) + 1}`}>
              <BlockActs blocks={{ ...blocks, select }} whole="The page" gaps={gaps} />
              {found ? (
                <div key={selected} onBlur={settle}>
                  <BlockFields block={found.block} editing={editing} />
                  <Select
                    label="Space above"
                    value={found.block.space}
                    options={spaceSteps.map((value) => ({ value, label: value }))}
                    onChange={(picked) => editing.change(selected!, "space", { space: picked })}
                  />
                  <fieldset className={styles.shown}>
                    <legend>Shown on</legend>
                    {devices.map((one) => (
                      <label key={one} className={styles.tick}>
                        <input
                          type="checkbox"
                          checked={!found.block.hide.includes(one)}
                          onChange={(event) =>
                            editing.change(selected!, "hide", {
                              hide: event.currentTarget.checked ? found.block.hide.filter((hidden) => hidden !== one) : [...found.block.hide, one],
                            })
                          }
                        />{" "}
                        {one}
                      </label>
                    ))}
                  </fieldset>
                  {found.block.type === "price" && (
                    <p className={styles.true}>
                      What this block claims is what the checkout takes: price, tax and what is scarce come from the clock.
                    </p>
                  )}
                  {found.block.type === "seats" && (
                    <p className={styles.true}>The count is of orders. Without a number of seats in the clock the block shows nothing.</p>
                  )}
                  {found.block.type === "columns" &&
                    found.block.columns.map((inside, index) => (
                      <AddBlock
                        key={index}
                        types={leaves}
                        onAdd={(type) => add({ section: found.place.section, column: { block: selected!, index }, index: inside.length }, type)}
                      />
                    ))}
                </div>
              ) : (
                <SectionFields
                  section={section!}
                  onChange={(next) => changePage((now) => updateSection(now, section!.id, (old) => ({ ...old, ...next })))}
                />
              )}
            </Pane>
          ) : (
            <PagePane
              editing={editing}
              content={content}
              launchLook={launch.look}
              onGap={(gap) => select(gap.block)}
              onPage={(field, next) => changePage((now) => ({ ...now, ...next }), `page.${field}`)}
              tools={
                <>
                  <VariantTools launch={launch.slug} kind={page.kind} here={page.key} versions={versions} />
                  <PageTools
                    page={page}
                    product={product}
                    own={templates}
                    launches={launches}
                    launch={launch.slug}
                    slug={page.slug}
                    uses={uses}
                    onReplace={(next) => changePage(() => next)}
                  />
                </>
              }
            >
              {offer && (
                <p className={styles.true}>
                  {offer.name ? `Offered here: ${offer.name}, ${offer.price}.` : "Nothing is offered on this page yet, so it cannot be published."}{" "}
                  <a href={offer.href}>{offer.name ? "Its place on the offer path" : "Put it on the offer path"}</a>
                </p>
              )}
            </PagePane>
          )}
        </div>
      </div>
      {asking && blocking.length > 0 && (
        <Dialog
          title="Not yet"
          confirm={`Show me the ${blocking.length === 1 ? "gap" : "first gap"}`}
          onConfirm={() => (setAsking(false), select(blocking[0]!.block))}
          onClose={() => setAsking(false)}
        >
          <ul className={styles.gaps}>
            {blocking.map((gap, index) => (
              <li key={index} data-blocking>
                <b>{gap.says}</b> {gap.why}
              </li>
            ))}
          </ul>
        </Dialog>
      )}
      {asking && blocking.length === 0 && (
        <Dialog
          title={`Publish ${page.name}`}
          confirm={published ? `Publish ${many(changes.length, "change")}` : "Publish 1 page"}
          onConfirm={() => void publish()}
          onClose={() => setAsking(false)}
        >
          <p>
            From now on everyone who comes to {address} while its gate is open sees {published ? "these changes" : "this page"}
            {page.kind === "checkout" ? ", and cards can be charged there" : ""}. Checkouts under way go on undisturbed.
          </p>
          {changes.length > 0 && (
            <ul className={styles.changes}>
              {changes.slice(0, 12).map((one, index) => (
                <li key={index}>
                  {one.name} {one.what}
                </li>
              ))}
              {changes.length > 12 && <li>and {changes.length - 12} more</li>}
            </ul>
          )}
        </Dialog>
      )}
    </div>
  );
};
