import type { ErasureFacts } from "../../../core/people";
import type { EntityManager } from "../../orm";

// Whatever of a text may be part of a pattern is taken as it is.
const holding = (email: string): string => `%${email.replace(/[\\%_]/g, "\\$&")}%`;

/** What erasing a contact touches, and what stands against it. */
export const erasureFacts = async (em: EntityManager, contactId: string, email: string): Promise<ErasureFacts> => {
  const [row] = await em.execute<Record<"orders" | "emails" | "comments" | "running" | "charging" | "notices", string>[]>(
    `select (select count(*) from sale_order where contact_id = c.id and not test) as orders,
       (select count(*) from email_message where contact_id = c.id and state = 'due') as emails,
       (select count(*) from page_comment where person_id = c.person_id) as comments,
       (select count(*) from recurring_payment r join sale_order o on o.id = r.order_id where o.contact_id = c.id and r.state in ('active', 'late')) as running,
       (select count(*) from charge g join checkout k on k.id = g.checkout_id where k.contact_id = c.id and g.state in ('pending', 'challenge', 'authorized')) as charging,
       (select count(*) from notice where applied_at is null and body ilike ?) as notices
     from contact c where c.id = ?`,
    [holding(email), contactId],
  );
  const n = (name: keyof NonNullable<typeof row>): number => Number(row?.[name] ?? 0);
  return {
    orders: n("orders"),
    emails: n("emails"),
    comments: n("comments"),
    blocked: n("running") > 0 ? "recurring_payment" : n("charging") > 0 || n("notices") > 0 ? "payment" : null,
  };
};

/** Keeps what the law has orders keep of their buyer. */
const keepBuyers = async (tx: EntityManager, contactId: string, now: Date): Promise<void> => {
  await tx.execute(
    `insert into erased_buyer (order_id, first_name, last_name, email, at)
     select o.id, c.first_name, c.last_name, c.email, ? from sale_order o join contact c on c.id = o.contact_id where c.id = ? and not o.test on conflict do nothing`,
    [now, contactId],
  );
};

/**
 * Takes out of every table what says who somebody is. `fresh` is the person whom their browsers are from now on; `email` their address, of which
 * those who try things out may have made a contact of their own.
 */
export const eraseContact = async (
  tx: EntityManager,
  { contactId, personId, email, fresh, hash }: Record<"contactId" | "personId" | "email" | "fresh" | "hash", string>,
  now: Date,
): Promise<void> => {
  const run = (sql: string, ...values: unknown[]) => tx.execute(sql, values);
  await keepBuyers(tx, contactId, now);
  const theirs = "(select id from contact where id = ? or email = ?)";
  await run("insert into person (id, created_at) select ?, ? where exists (select from visitor where person_id = ?)", fresh, now, personId);
  await run("update visitor set person_id = ? where person_id = ?", fresh, personId);
  await run("delete from person_tag where person_id = ?", personId);
  await run("delete from people_rule_person where person_id = ?", personId);
  await run(`delete from launch_opt_out where contact_id in ${theirs}`, contactId, email);
  await run("delete from page_comment where person_id = ?", personId);
  await run(`delete from opt_in where contact_id in ${theirs}`, contactId, email);
  await run(`delete from access_grant where contact_id in ${theirs}`, contactId, email);
  await run(`delete from sequence_person where contact_id in ${theirs}`, contactId, email);
  await run(`delete from person_notice where contact_id in ${theirs}`, contactId, email);
  await run(`delete from people_import_contact where contact_id in ${theirs}`, contactId, email);
  // What somebody else has a copy of is refused by the hash.
  await run(
    `update people_import_part set lines = (select coalesce(jsonb_agg(l order by n), '[]') from jsonb_array_elements(lines) with ordinality as a(l, n) where position(? in lower(l::text)) = 0)
     where position(? in lower(lines::text)) > 0`,
    email,
    email,
  );
  await run(
    `update email_message set data = '{}', subject = null, return_says = null, state = case when state in ('due', 'unknown') then 'stopped' else state end,
       stopped_because = case when state in ('due', 'unknown') then 'erased' else stopped_because end where contact_id in ${theirs}`,
    contactId,
    email,
  );
  await run(`delete from session where kind = 'buyer' and subject_id in ${theirs}`, contactId, email);
  await run("delete from outbox where payload->>'id' = ? and topic = 'send_buyer_password'", contactId);
  await run("delete from rate_limit where position(? in key) > 0", email);
  await run("update notice set body = '{}' where applied_at is not null and body ilike ?", holding(email));
  await run("delete from webhook_message where person_id = ?", personId);
  await run("delete from partner_application where email = ? and state <> 'taken'", email);
  await run(
    `update checkout set email = null, first_name = null, vat_number = null where contact_id in ${theirs} or lower(trim(email)) = ?`,
    contactId,
    email,
    email,
  );
  await run(`update sale_order set card_ref = null where contact_id in ${theirs}`, contactId, email);
  await run(
    `update contact set email = id || '@erased.invalid', first_name = '', last_name = '', phone = null, answers = '{}', consent_text = null, consent_at = null,
       unsubscribed_at = null, proven_at = null, password_hash = null, country = null, zone = null, guessed_zone = null, language = null, guessed_language = null, suppressed_at = null, suppressed_because = null, fewer_since = null, erased_at = ? where id = ? or email = ?`,
    now,
    contactId,
    email,
  );
  await run("insert into erased_address (hash, at) values (?, ?) on conflict do nothing", hash, now);
};

/** Which of some keyed hashes are of people who were erased. */
export const erasedAmong = async (em: EntityManager, hashes: readonly string[]): Promise<Set<string>> => {
  const rows = await em.execute<{ hash: string }[]>("select hash from erased_address where hash in (select jsonb_array_elements_text(?::jsonb))", [
    JSON.stringify(hashes),
  ]);
  return new Set(rows.map(({ hash }) => hash));
};

/** Somebody who was erased came back by themselves. */
export const forgetErased = async (em: EntityManager, hash: string): Promise<void> => {
  await em.execute("delete from erased_address where hash = ?", [hash]);
};

/** What an order keeps of a buyer who was erased, for those who may see it. */
export const erasedBuyer = async (em: EntityManager, orderId: string): Promise<{ name: string; email: string } | undefined> => {
  const [row] = await em.execute<{ name: string; email: string }[]>(
    "select trim(first_name || ' ' || last_name) as name, email from erased_buyer where order_id = ?",
    [orderId],
  );
  return row;
};
