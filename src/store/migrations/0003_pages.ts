import { Migration } from "@mikro-orm/migrations";

interface Words {
  headline: string;
  text: string;
  button: string;
}

const base = (id: string) => ({ id, hide: [], space: "normal" });
const field = { id: "first", is: "firstName", label: "First name", required: true, kind: "text", choices: [] };

/** A page of three words, as it was before this version, in sections and blocks. */
const asBlocks = (kind: string, { headline, text, button }: Words) => {
  const paragraphs = text.split(/\n\s*\n/).filter((part) => part.trim() !== "");
  const doc = { type: "doc", content: paragraphs.map((part) => ({ type: "paragraph", content: [{ type: "text", text: part.trim() }] })) };
  const onward = { ...base("onward"), type: "button", label: button, target: { to: "next" }, look: "main", note: "" };
  const confirming = { consent: "", double: "where_needed", checkPage: "", confirmedPage: "", then: null, gift: null };
  const form = { ...base("form"), type: "form", over: false, heading: "", fields: [field], button, note: "", ...confirming };
  const main: Record<string, object[]> = {
    optin: [form],
    closed: [form],
    sales: [{ ...base("price"), type: "price", words: "", button, target: { to: "checkout", over: false } }],
    checkout: [{ ...base("order"), type: "checkout", start: "Go on to the payment", pay: button }],
    offer: [{ ...base("offer"), type: "offer", yes: button, no: "No, thank you" }],
    thanks: [
      { ...base("receipt"), type: "receipt" },
      { ...onward, look: "plain" },
    ],
    content: [onward],
  };
  return {
    title: "",
    description: "",
    picture: null,
    look: null,
    sections: [
      {
        id: "top",
        ground: "paper",
        width: kind === "checkout" || kind === "thanks" ? "narrow" : "normal",
        space: "normal",
        blocks: [
          { ...base("title"), type: "headline", text: headline, level: "title", centred: false },
          { ...base("lead"), space: "small", type: "text", size: "large", rich: doc },
          ...(main[kind] ?? []),
        ],
      },
    ],
  };
};

/** Pages of blocks, their looks, versions and templates, and the pictures and films on them. */
export class Migration0003Pages extends Migration {
  override async up(): Promise<void> {
    const pages = (await this.execute("select id, kind, draft, published from page")) as {
      id: string;
      kind: string;
      draft: Words;
      published: Words | null;
    }[];
    this.addSql(/* sql */ `
drop index one_page_of_a_kind;
create table media (
  id uuid primary key, kind text not null check (kind in ('picture', 'video', 'captions', 'file')), name text not null, hash text not null,
  alt text not null default '', width int not null, height int not null, widths int[] not null, focal_x int not null default 2, focal_y int not null default 2,
  extension text not null, bytes bigint not null, created_at timestamptz not null, created_by uuid references desk_user, unique (hash)
);
create table media_file (media_id uuid not null references media on delete cascade, name text not null, body bytea not null, primary key (media_id, name));
alter table media_file alter column body set storage external;

alter table launch add column look jsonb not null default '{"theme":"broadside","accent":"#A34721","second":"#141B26","type":"bill","logo":null}';
create table page_version (
  id uuid primary key, page_id uuid not null references page on delete cascade, version int not null, content jsonb not null, at timestamptz not null,
  user_id uuid references desk_user, published boolean not null default false, unique (page_id, version)
);
create table page_presence (page_id uuid not null references page on delete cascade, user_id uuid not null references desk_user, seen_at timestamptz not null, primary key (page_id, user_id));
create table page_template (id uuid primary key, name text not null, kind text not null, purpose text not null, content jsonb not null, created_at timestamptz not null, user_id uuid references desk_user);
`);
    for (const { id, kind, draft, published } of pages) {
      // A question mark would be taken for a place of a parameter.
      const quoted = (words: Words | null) =>
        words ? `'${JSON.stringify(asBlocks(kind, words)).replaceAll("'", "''").replaceAll("?", "\\u003f")}'::jsonb` : "null";
      this.addSql(`update page set draft = ${quoted(draft)}, published = ${quoted(published)}, compiled = null where id = '${id}'`);
    }
  }
}
