import type { MergeFacts } from "../../../core/people";
import type { EntityManager } from "../../orm";

/** What merging one contact into another moves. */
export const mergeFacts = async (em: EntityManager, from: string): Promise<Omit<MergeFacts, "keeps" | "joins" | "unsubscribed">> => {
  const [row] = await em.execute<Record<"orders" | "emails" | "tags" | "launches", string>[]>(
    `select (select count(*) from sale_order where contact_id = c.id and not test) as orders, (select count(*) from email_message where contact_id = c.id and state = 'due') as emails,
       (select count(*) from person_tag where person_id = c.person_id) as tags, (select count(*) from stage_rollup where person_id = c.person_id) as launches
     from contact c where c.id = ?`,
    [from],
  );
  const n = (name: keyof NonNullable<typeof row>): number => Number(row?.[name] ?? 0);
  return { orders: n("orders"), emails: n("emails"), tags: n("tags"), launches: n("launches") };
};

/** Locks the contacts of some people until the transaction ends, in one order whoever locks them. */
export const lockContacts = async (tx: EntityManager, people: readonly string[]): Promise<void> => {
  await tx.execute("select from contact where person_id = any(?::uuid[]) and not test order by id for update", [`{${people.join(",")}}`]);
};

interface Both {
  from: { id: string; personId: string };
  into: { id: string; personId: string };
}

/** Makes all that hangs on one contact the other's. What was sent keeps its row, so that nothing goes twice; the address stays with the one it came with. */
export const moveContact = async (tx: EntityManager, { from, into }: Both): Promise<void> => {
  const run = (sql: string, ...values: unknown[]) => tx.execute(sql, values);
  await run("update sale_order set contact_id = ?, person_id = ? where contact_id = ?", into.id, into.personId, from.id);
  await run("update checkout set contact_id = ? where contact_id = ?", into.id, from.id);
  await run("update opt_in set contact_id = ? where contact_id = ?", into.id, from.id);
  await run("update access_grant set contact_id = ? where contact_id = ?", into.id, from.id);
  // The same email of a bell, due to both, goes once.
  await run(
    `update email_message m set state = 'stopped', stopped_because = 'merged' where contact_id = ? and state = 'due'
       and exists (select from email_message o where o.contact_id = ? and o.key = replace(m.key, m.contact_id::text, o.contact_id::text))`,
    from.id,
    into.id,
  );
  await run("update email_message set contact_id = ? where contact_id = ?", into.id, from.id);
  await run(
    "delete from people_import_contact f where contact_id = ? and exists (select from people_import_contact o where o.contact_id = ? and o.import_id = f.import_id)",
    from.id,
    into.id,
  );
  await run("update people_import_contact set contact_id = ? where contact_id = ?", into.id, from.id);
  await run(
    "insert into person_tag (person_id, tag, at) select ?, tag, at from person_tag where person_id = ? on conflict (person_id, tag) do update set at = least(person_tag.at, excluded.at)",
    into.personId,
    from.personId,
  );
  await run("delete from person_tag where person_id = ?", from.personId);
  // What a rule did for either, it does not do again; and who gets no emails at one address gets none at the other.
  await run(
    "insert into people_rule_person (rule_id, person_id, at, applied) select rule_id, ?, at, applied from people_rule_person where person_id = ? on conflict do nothing",
    into.personId,
    from.personId,
  );
  await run("delete from people_rule_person where person_id = ?", from.personId);
  await run(
    `insert into launch_opt_out (contact_id, launch_id, at, made_by) select ?, launch_id, at, made_by from launch_opt_out where contact_id = ?
     on conflict (contact_id, launch_id) do update set made_by = excluded.made_by where excluded.made_by = 'reader'`,
    into.id,
    from.id,
  );
  await run("delete from launch_opt_out where contact_id = ?", from.id);
  // Of two moments the earlier one counts, in whichever order two records are merged.
  await run(
    `insert into sequence_person (launch_id, key, contact_id, moment) select launch_id, key, ?, moment from sequence_person where contact_id = ?
     on conflict (launch_id, key, contact_id) do update set moment = least(sequence_person.moment, excluded.moment)`,
    into.id,
    from.id,
  );
  await run("delete from sequence_person where contact_id = ?", from.id);
  await run(
    "insert into person_notice (launch_id, contact_id, name, at) select launch_id, ?, name, at from person_notice where contact_id = ? on conflict do nothing",
    into.id,
    from.id,
  );
  await run("delete from person_notice where contact_id = ?", from.id);
  await run("delete from session where kind = 'buyer' and subject_id = ?", from.id);
  await run("update contact set merged_into = ? where id = ? or merged_into = ?", into.id, from.id, from.id);
};

/** Other addresses of a contact. */
export const otherAddresses = async (em: EntityManager, contactId: string): Promise<{ id: string; personId: string; email: string }[]> =>
  (
    await em.execute<{ id: string; person_id: string; email: string }[]>(
      "select id, person_id, email from contact where merged_into = ? order by email",
      [contactId],
    )
  ).map(({ id, person_id, email }) => ({ id, personId: person_id, email }));
