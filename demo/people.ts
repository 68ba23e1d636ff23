import type { Condition } from "../src/core/conditions";
import type { ImportChoices, PersonField as Field } from "../src/core/people";
import { dealWith } from "../src/store/people/rules";
import { DeskUser, PeopleFilter, PeopleImport, PeopleRule, PersonField } from "../src/store/tables";
import type { EntityManager } from "../src/store/orm";
import { firstNames, pickCountry } from "./crowd";
import { insert, type Row } from "./rows";
import type { Random } from "./random";

const day = 86_400_000;
/** Readers of the vendor's letter before there was a launch. */
const readers = 8_200;
const lastNames = [
  "Aldersey",
  "Birkeland",
  "Carreira",
  "Dekkers",
  "Elphick",
  "Fontaine",
  "Gudmundsen",
  "Hartwell",
  "Iversholt",
  "Jarrold",
  "Kettering",
  "Lindqvist",
  "Mendonca",
  "Norwick",
  "Oosterhof",
  "Pennycook",
  "Quintela",
  "Rasmusholm",
  "Sandwick",
  "Tavistock",
];

const needles: Field = { name: "Needles", kind: "choice", choices: ["2 to 3 mm", "3 to 4 mm", "4 mm and more"] };
const since: Field = { name: "Knits since", kind: "text", choices: [] };

/** Tags that the vendor would have set by now: who came back to the sales page, and who bought more than the course. */
const tagCrowd = async (em: EntityManager, now: Date): Promise<void> => {
  await em.execute(
    `insert into person_tag (person_id, tag, at)
     select c.person_id, 'came back', max(d.day)::timestamptz + interval '20 hours' from day_rollup d join contact c on c.person_id = d.person_id
       where d.kind = 'saw_sales' and d.day < ?::date group by 1 having count(distinct d.day) > 1
     union all
     select c.person_id, 'charts', max(o.placed_at) from sale_order o join order_line n on n.order_id = o.id join contact c on c.id = o.contact_id
       where n.name like 'Stitch Library%' group by 1
     on conflict do nothing`,
    [now],
  );
};

/** The readers of a letter, brought in from a file some weeks ago. */
const importReaders = async (em: EntityManager, random: Random, now: Date): Promise<void> => {
  const at = new Date(now.getTime() - 40 * day);
  const words = "Yes, send me the pattern letter of Marram & Purl, and what goes with it.";
  const owner = await em.findOneOrFail(DeskUser, { role: "owner" });
  const titles = ["Email", "First name", "Last name", "Country", "Joined", needles.name];
  const is = ["email", "firstName", "lastName", "country", "consentAt", "answer"] as const;
  const choices: ImportChoices = {
    columns: is.map((one) => ({ is: one, question: one === "answer" ? needles.name : "" })),
    known: "fill",
    consent: { words, at: null },
    tag: "pattern letter",
    access: null,
  };
  const id = random.uuid();
  const [people, contacts, tags, lines]: Row[][] = [[], [], [], []];
  for (let n = 0; n < readers; n += 1) {
    const [personId, contactId] = [random.uuid(), random.uuid()];
    const [first, last] = [random.pick(firstNames), random.pick(lastNames)];
    const consentAt = new Date(at.getTime() - random.next() * 900 * day);
    const left = random.chance(0.06);
    people!.push({ id: personId, created_at: at });
    contacts!.push({
      id: contactId,
      person_id: personId,
      email: `${first.toLowerCase()}.${last.toLowerCase()}.${n + 1}@letter.example`,
      first_name: first,
      last_name: last,
      country: pickCountry(random),
      answers: random.chance(0.4) ? { [needles.name]: random.pick(needles.choices) } : {},
      consent_text: words,
      consent_at: consentAt,
      unsubscribed_at: left ? new Date(at.getTime() + random.next() * 39 * day) : null,
      created_at: at,
      test: false,
    });
    tags!.push({ person_id: personId, tag: "pattern letter", at });
    lines!.push({ import_id: id, contact_id: contactId, line: n + 2, at, consent_words: words, consent_at: consentAt });
  }
  const counts = { added: readers, changed: 0, unchanged: 0, refused: 0, noConsent: 0 };
  await em.insert(PeopleImport, {
    id,
    fileName: "pattern-letter.csv",
    userId: owner.id,
    createdAt: at,
    titles,
    encoding: "utf-8",
    lines: readers,
    choices,
    state: "done",
    nextPart: 0,
    counts,
    refused: [],
    askedAt: at,
    finishedAt: at,
  });
  await insert(em, "person", people!);
  await insert(em, "contact", contacts!);
  await insert(em, "person_tag", tags!);
  await insert(em, "people_import_contact", lines!);
};

/** Who is on the list of a launch, has not bought, and may be written to. */
export const notYetBought = (launch: string): Condition => ({
  all: [{ did: "opted_in", launch, withinDays: 14 }, { none: [{ did: "paid", launch }] }, { mayWrite: true }],
});

/** People beside those of the launches, and what the vendor has made of them: tags, own fields, saved filters, and a rule. */
export const seedPeople = async (
  em: EntityManager,
  random: Random,
  { launch, club, charts }: Record<"launch" | "club" | "charts", string>,
  now: Date,
): Promise<void> => {
  await importReaders(em, random, now);
  await tagCrowd(em, now);
  const filters: { name: string; condition: Condition }[] = [
    { name: "On the list, not bought", condition: notYetBought(launch) },
    { name: "Has charts, not in the club", condition: { all: [{ tag: "charts" }, { none: [{ did: "paid", product: club }] }] } },
  ];
  for (const filter of filters) em.persist(em.create(PeopleFilter, { id: random.uuid(), ...filter, createdAt: now }));
  for (const field of [needles, since]) em.persist(em.create(PersonField, { ...field, createdAt: now }));
  const rule = {
    id: random.uuid(),
    condition: { did: "offer_accepted", product: charts } satisfies Condition,
    action: { does: "tag", tag: "charts" } as const,
    createdAt: new Date(now.getTime() - 20 * day),
    lookedAt: now,
    everybodyAt: now,
  };
  em.persist(em.create(PeopleRule, rule));
  await em.flush();
  await dealWith(em, rule, rule.action, now);
};
