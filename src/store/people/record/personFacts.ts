import type { PersonRecord } from "../../../core/people";
import type { EntityManager } from "../../orm";

/** Every consent of a contact as it was given, the newest first: on a form, or as a file stated it. */
export const consentsOf = async (em: EntityManager, contactId: string, asOf: Date): Promise<PersonRecord["consents"]> => {
  const rows = await em.execute<
    (Record<"words" | "page" | "form" | "asked_at", string> & Record<"launch" | "confirmed_at" | "file", string | null>)[]
  >(
    `select l.name as launch, o.consent_text as words, o.page, o.form, o.asked_at, o.confirmed_at, null as file from opt_in o join launch l on l.id = o.launch_id
       where o.contact_id = ? and o.asked_at <= ?
     union all select null, c.consent_words, '', '', c.consent_at, c.consent_at, i.file_name from people_import_contact c join people_import i on i.id = c.import_id
       where c.contact_id = ? and c.at <= ? and c.consent_at is not null
     order by asked_at desc`,
    [contactId, asOf, contactId, asOf],
  );
  return rows.map(({ launch, words, page, form, asked_at, confirmed_at, file }) => ({
    launch: launch ?? "",
    words,
    page,
    form,
    file,
    askedAt: new Date(asked_at),
    confirmedAt: confirmed_at ? new Date(confirmed_at) : null,
  }));
};

/** How many browsers a person was seen in, who was merged into them, the country last seen, and the launches they came to, the newest first. */
export const tracesOf = async (
  em: EntityManager,
  personId: string,
  asOf: Date,
): Promise<{ since: Date; browsers: number; merged: number; country: string | null; launches: string[] }> => {
  const [row] = await em.execute<{ since: string; browsers: string; merged: string; country: string | null; launches: string[] }[]>(
    `select p.created_at as since, (select count(*) from visitor v where v.person_id = p.id) as browsers, (select count(*) from person m where m.merged_into = p.id) as merged,
       (select r.country from stage_rollup r where r.person_id = p.id and r.country is not null order by r.country_at desc nulls last limit 1) as country,
       array(select r.launch_id::text from stage_rollup r where r.person_id = p.id and coalesce(r.visited, r.opted_in, r.saw_sales, r.began_checkout, r.paid) <= ?
         order by coalesce(r.visited, r.opted_in, r.saw_sales, r.began_checkout, r.paid) desc) as launches
     from person p where p.id = ?`,
    [asOf, personId],
  );
  return {
    since: new Date(row!.since),
    browsers: Number(row!.browsers),
    merged: Number(row!.merged),
    country: row!.country,
    launches: row!.launches,
  };
};

/** Tags or untags many people at once; how many of them it changed. Unknown ids are passed over. */
export const setTag = async (em: EntityManager, people: readonly string[], tag: string, set: boolean, now: Date): Promise<number> => {
  const ids = `{${people.join(",")}}`;
  const rows = set
    ? await em.execute<object[]>(
        "insert into person_tag (person_id, tag, at) select id, ?, ? from person where id = any(?::uuid[]) on conflict do nothing returning 1",
        [tag, now, ids],
      )
    : await em.execute<object[]>("delete from person_tag where person_id = any(?::uuid[]) and tag = ? returning 1", [ids, tag]);
  return rows.length;
};
