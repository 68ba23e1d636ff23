import { Children, isValidElement, type ReactNode } from "react";
import { sizeSteps, type Block, type BlockOf } from "../../../core/pages";
import { Field } from "../../kit/fields/Field";
import { optionsOf, Select, type Option } from "../../kit/fields/Select";
import type { Editing } from "./editing";
import styles from "./editor.module.css";
import { BumpProduct } from "../fields/BumpProduct";
import { ListField } from "../fields/ListField";
import { MediaField } from "../fields/MediaField";
import { RichField } from "../fields/RichField";
import { TargetField } from "../fields/TargetField";

/** A choice among words that are their own labels, or a list of pairs. */
const choices = <T extends string>(words: readonly T[] | readonly (readonly [T, string])[]): Option<T>[] =>
  words.map((one) => (typeof one === "string" ? { value: one, label: one } : { value: one[0], label: one[1] }));

const shapes = [
  ["own", "as it is"],
  ["wide", "wide, 16 to 9"],
  ["square", "square"],
  ["tall", "tall, 3 to 4"],
] as const;
const asked = {
  firstName: "first name",
  lastName: "last name",
  phone: "telephone",
  own: "a question of yours",
};

/** The fields of one block. */
export const BlockFields = ({ block, editing }: { block: Block; editing: Editing }) => {
  const { change, wrong, media, onMedia } = editing;
  const put = (field: string) => (value: unknown) => change(block.id, field, { [field]: value });
  const own = block as unknown as Record<string, unknown>;
  const words = (field: string, label: string, rest: { rows?: number; hint?: string } = {}) => (
    <Field
      key={field}
      label={label}
      {...(rest.rows === undefined ? {} : { rows: rest.rows })}
      hint={rest.hint}
      value={String(own[field])}
      wrong={wrong(block.id, field)}
      onChange={(event: { currentTarget: { value: string } }) => put(field)(event.currentTarget.value)}
    />
  );
  const pick = (field: string, label: string, options: Parameters<typeof choices>[0]) => (
    <Select key={field} label={label} value={String(own[field])} options={choices(options)} onChange={(picked) => put(field)(picked)} />
  );
  const tick = (field: string, label: string) => (
    <label key={field} className={styles.tick}>
      <input type="checkbox" checked={Boolean(own[field])} onChange={(event) => put(field)(event.currentTarget.checked)} /> {label}
    </label>
  );
  const upload = (field: string, label: string, kind: "picture" | "video" | "captions" | "file", also?: (alt: string) => Partial<Block>) => (
    <MediaField
      key={field}
      label={label}
      kind={kind}
      value={own[field] as string | null}
      all={media}
      wrong={wrong(block.id, field)}
      onMedia={onMedia}
      onChange={(id, chosen) => change(block.id, field, { [field]: id, ...(chosen && also ? also(chosen.alt) : {}) })}
    />
  );
  const lines = (field: string, label: string, more: string, most: number) => (
    <ListField
      key={field}
      label={label}
      items={own[field] as string[]}
      fresh=""
      more={more}
      most={most}
      wrong={wrong(block.id, field)}
      onChange={put(field)}
    >
      {(item, set, index) => <Field label={`Entry ${index + 1}`} value={item} onChange={(event) => set(event.currentTarget.value)} />}
    </ListField>
  );
  const target = (field: "target" | "press" | "then", label: string, none?: string) => (
    <TargetField
      key={field}
      label={label}
      value={own[field] as never}
      none={none}
      tracks={field === "then"}
      editing={editing}
      wrong={wrong(block.id, field)}
      onChange={put(field)}
    />
  );

  const confirmed = (value: string) => (
    <Select
      key="double"
      label="The address is confirmed from its inbox"
      value={value}
      options={choices([
        ["where_needed", "where the country asks for it"],
        ["always", "always"],
        ["never", "only where a program seems to have sent it"],
      ])}
      onChange={(picked) => put("double")(picked)}
    />
  );
  const filmAddress = (label: string) => (
    <Field
      key="url"
      label={label}
      placeholder="https://"
      value={(own["url"] as string | null) ?? ""}
      wrong={wrong(block.id, "url")}
      onChange={(event) => put("url")(event.currentTarget.value || null)}
    />
  );

  const fields: { [T in Block["type"]]: (block: BlockOf<T>) => ReactNode } = {
    headline: () => [
      words("text", "Headline"),
      pick("level", "Rank", [
        ["title", "the page's title"],
        ["heading", "a heading"],
        ["small", "a small heading"],
      ]),
      tick("centred", "In the middle"),
    ],
    text: ({ rich }) => [
      <RichField key="rich" label="Words" value={rich} wrong={wrong(block.id, "rich")} onChange={put("rich")} />,
      pick("size", "Size", sizeSteps),
    ],
    picture: ({ decorative }) => [
      upload("media", "Picture", "picture", (alt) => ({ alt })),
      !decorative && words("alt", "What it shows", { hint: "For those who cannot see it." }),
      tick("decorative", "Only an ornament"),
      pick("shape", "Shape", shapes),
      words("caption", "Words below it"),
    ],
    video: ({ press, media: film }) => [
      upload("poster", "Poster", "picture"),
      words("label", "What it shows", { hint: "Said to those who cannot see the poster." }),
      target("press", "A press on it", "plays the film"),
      !press && upload("media", "Video", "video"),
      !press && !film && filmAddress("Or the address of a film"),
      !press && film && upload("captions", "Captions", "captions"),
    ],
    form: ({ fields: asks, double }) => [
      words("heading", "Heading"),
      <Select
        key="over"
        label="Stands"
        value={String(own["over"])}
        options={choices([
          ["false", "in its place"],
          ["true", "over the page, when it is opened"],
        ])}
        onChange={(picked) => put("over")(picked === "true")}
      />,
      <ListField
        key="fields"
        label="Asks, beside the address"
        items={asks}
        fresh={{ id: editing.newId(), is: "own", label: "", required: false, kind: "text", choices: [] }}
        more="Ask one more thing"
        most={8}
        wrong={wrong(block.id, "fields")}
        onChange={put("fields")}
      >
        {(item, set) => (
          <>
            <Select
              label="Asks for"
              value={item.is}
              options={optionsOf(asked)}
              onChange={(picked) =>
                set({
                  ...item,
                  is: picked,
                  label: item.label || asked[picked],
                })
              }
            />
            <Field label="In these words" value={item.label} onChange={(event) => set({ ...item, label: event.currentTarget.value })} />
            {item.is === "own" && (
              <Select
                label="Answered"
                value={item.kind}
                options={optionsOf({ text: "in words", choice: "from a list", tick: "with a tick" })}
                onChange={(picked) => set({ ...item, kind: picked })}
              />
            )}
            {item.is === "own" && item.kind === "choice" && (
              <Field
                label="The list, one a line"
                rows={3}
                value={item.choices.join("\n")}
                onChange={(event) => set({ ...item, choices: event.currentTarget.value.split("\n").slice(0, 20) })}
              />
            )}
            <label className={styles.tick}>
              <input type="checkbox" checked={item.required} onChange={(event) => set({ ...item, required: event.currentTarget.checked })} /> must be
              answered
            </label>
          </>
        )}
      </ListField>,
      words("button", "Button says"),
      words("note", "Small words below"),
      confirmed(double),
      ...(["checkPage", "confirmedPage"] as const).map((field) => (
        <Select
          key={field}
          label={field === "checkPage" ? "Page that says to look into the inbox" : "Page after the confirmation"}
          value={String(own[field])}
          wrong={wrong(block.id, field)}
          options={[{ value: "", label: "said in place of the form" }, ...editing.pages.map(({ key, title }) => ({ value: key, label: title }))]}
          onChange={(picked) => put(field)(picked)}
        />
      )),
      target("then", "Those on the list go on to", "stay on the page"),
      upload("gift", "They are given", "file"),
      words("consent", "Words beside the checkbox", {
        rows: 3,
        hint: "Leave empty for the usual sentence of the person's country. It is never ticked in advance.",
      }),
    ],
    button: () => [
      words("label", "Button says"),
      target("target", "Leads to"),
      pick("look", "Weight", [
        ["main", "the main way on"],
        ["plain", "another way"],
      ]),
      words("note", "Small words below"),
    ],
    countdown: () =>
      pick("form", "Form", [
        ["inline", "a line"],
        ["card", "a card"],
      ]),
    price: () => [
      words("words", "Words beside the price", { hint: "The price itself, its tax and what is scarce are filled in." }),
      words("button", "Button says"),
      target("target", "Leads to"),
      tick("strike", "Strike the earlier price through, where it was truly asked"),
    ],
    seats: () => words("words", "Words after the count"),
    offer: () => [
      words("yes", "Yes says"),
      words("no", "No says", { hint: "No is a button of the same weight." }),
      tick("strike", "Strike the earlier price through, where it was truly asked"),
    ],
    testimonial: () => [
      words("quote", "What was said", { rows: 5 }),
      words("name", "By whom"),
      words("role", "Who that is"),
      upload("media", "Picture of them", "picture"),
    ],
    benefits: () => [
      pick("mark", "Marked by", [
        ["stitch", "a stitch"],
        ["number", "numbers"],
        ["rule", "rules"],
      ]),
      lines("items", "Benefits", "One more", 40),
    ],
    questions: ({ items }) => [
      <ListField
        key="items"
        label="Questions"
        items={items}
        fresh={{ question: "", answer: "" }}
        more="One more question"
        most={60}
        wrong={wrong(block.id, "items")}
        onChange={put("items")}
      >
        {(item, set, index) => (
          <>
            <Field
              label={`Question ${index + 1}`}
              value={item.question}
              onChange={(event) => set({ ...item, question: event.currentTarget.value })}
            />
            <Field label="Answer" rows={3} value={item.answer} onChange={(event) => set({ ...item, answer: event.currentTarget.value })} />
          </>
        )}
      </ListField>,
      tick("folded", "Answers fold out"),
    ],
    rule: () =>
      pick("look", "Line", [
        ["hair", "a hairline"],
        ["thick", "a thick one"],
        ["double", "thick and thin"],
      ]),
    badges: () => lines("items", "Facts, a few words each", "One more", 8),
    guarantee: () => [
      words("heading", "Heading"),
      words("words", "Words after the days", { rows: 3, hint: "The days are the product's own refund time." }),
    ],
    download: () => [upload("media", "File", "file"), words("label", "Link says")],
    html: () => [
      words("title", "Name of the frame"),
      words("code", "HTML", { rows: 10, hint: "It runs in a frame of its own and reaches nothing of the page." }),
      pick("height", "Height", sizeSteps),
    ],
    checkout: () => [
      words("start", "First step's button says"),
      words("pay", "Order button says", { hint: "The sum is added. It must say that it is an order to pay." }),
      pick("steps", "Asks", [
        ["two", "for the address first, then for the card"],
        ["one", "for everything on one page"],
      ]),
      tick("quantity", "Buyers say how many they want"),
      words("terms", "Address of your terms", { hint: "With one, buyers tick that they agree before they pay." }),
    ],
    receipt: () => (
      <p key="says" className="muted">
        What was bought, with its tax, and the address the receipt went to.
      </p>
    ),
    episodes: () => [
      words("heading", "Heading"),
      <p key="says" className="muted">
        Each page of the run shows which episode plays, which are open and when the next opens. The run is set on the clock.
      </p>,
    ],
    live: () => [
      words("heading", "Heading"),
      words("register", "Button to register says"),
      words("join", "Button to join says"),
      words("note", "Small words below"),
      confirmed(String(own["double"])),
      upload("media", "Recording, shown afterwards", "video"),
      own["media"] === null && filmAddress("Or the address of the recording"),
      own["media"] !== null && upload("captions", "Captions", "captions"),
      <p key="says" className="muted">
        Its day, its length and the way in are set on the clock, under Episodes.
      </p>,
    ],
    comments: () => [
      words("heading", "Heading"),
      pick("scope", "Shows what was said", [
        ["page", "on this page"],
        ["run", "on every page of the run"],
      ]),
      words("ask", "Asks"),
      words("button", "Button says"),
      <p key="says" className="muted">
        Nothing is shown before it has been read, under Comments above the pages.
      </p>,
    ],
    bump: ({ product }) => [
      <BumpProduct key="product" value={product} editing={editing} wrong={wrong(block.id, "product")} onChange={(id) => put("product")(id)} />,
      words("heading", "Heading"),
      words("words", "Words", { rows: 3 }),
      words("tick", "Beside the box", { hint: "The product's name and price follow. It is never ticked beforehand." }),
      upload("media", "Picture", "picture"),
      tick("strike", "Strike the earlier price through, where it was truly asked"),
    ],
    addition: ({ product }) => [
      <BumpProduct key="product" value={product} editing={editing} wrong={wrong(block.id, "product")} onChange={(id) => put("product")(id)} />,
      words("heading", "Heading"),
      words("words", "Words", { rows: 3 }),
      words("yes", "Yes says", { hint: "Before the payment it is added to the order; who has paid already buys it by itself." }),
      words("no", "No says", { hint: "Leads on without it. Empty: no second button." }),
      upload("media", "Picture", "picture"),
      tick("strike", "Strike the earlier price through, where it was truly asked"),
    ],
    invitation: () => [words("heading", "Heading"), words("words", "Words", { rows: 3 }), words("button", "Button says")],
    cross: ({ launch }) => [
      <Select
        key="launch"
        label="Launch"
        value={launch}
        wrong={wrong(block.id, "launch")}
        options={[{ value: "", label: "choose one" }, ...editing.launches.map(({ slug, name }) => ({ value: slug, label: name }))]}
        onChange={(picked) => put("launch")(picked)}
      />,
      words("words", "Words", { rows: 3, hint: "Its name and its price are filled in. While its doors are closed nothing stands here." }),
      words("button", "Button says"),
      upload("media", "Picture", "picture"),
    ],
    partner: () =>
      words("words", "Before the partner's name", {
        hint: "Who came by a partner's link reads that partner's note here; others see nothing. The notes are written under Partners.",
      }),
    columns: ({ columns }) => [
      columns.length === 2 &&
        pick("ratio", "Widths", [
          ["even", "alike"],
          ["left", "the left wider"],
          ["right", "the right wider"],
        ]),
      <Select
        key="n"
        label="Columns"
        value={String(columns.length)}
        options={choices(["2", "3"])}
        onChange={(picked) => {
          // Fewer columns: what stood in the last goes below in the one before it.
          const next = picked === "3" ? [...columns, []] : [columns[0]!, columns.slice(1).flat()];
          put("columns")(next);
        }}
      />,
      tick("lastFirst", "On a phone the last comes first"),
    ],
  };
  const written = (fields[block.type] as (block: Block) => ReactNode)(block);
  // Named by their fields, so that a link to a gap finds the very one.
  return Children.toArray(written).map((one): ReactNode =>
    isValidElement(one) ? (
      <div key={one.key} data-field={String(one.key).replace(/^[.$]+/, "")}>
        {one}
      </div>
    ) : (
      one
    ),
  );
};
