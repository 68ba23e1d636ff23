import { Migration } from "@mikro-orm/migrations";

/**
 * What the emails of a launch say, apart from when they go: the page editor's blocks, as drafts and as they are sent. Subjects and texts that stood
 * in the settings go over, those of withdrawn emails from the history as well. The subject under which each email was sent is kept with it.
 */
export class Migration0036EmailContents extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
create table launch_email (
  launch_id uuid not null references launch,
  key text not null,
  version integer not null,
  draft jsonb not null,
  published jsonb,
  published_at timestamptz,
  primary key (launch_id, key)
);
alter table email_message add column subject text;
update email_message m set subject = e->>'subject' from launch l, jsonb_array_elements(l.settings->'emails') e
  where l.id = m.launch_id and m.sent_at is not null and e->>'id' = m.data->>'email';

with said as (
  select l.id as launch_id, e->>'id' as key, e->>'subject' as subject, e->>'text' as text, 0 as age
    from launch l, jsonb_array_elements(l.settings->'emails') e
  union all
  select c.launch_id, e->>'id', e->>'subject', e->>'text', row_number() over (order by c.at desc)
    from launch_change c, jsonb_array_elements(c.before->'emails') e
), newest as (
  select distinct on (launch_id, key) * from said where key is not null and subject is not null order by launch_id, key, age
), made as (
  select launch_id, key, jsonb_build_object(
    'subject', subject, 'preheader', '', 'text', null,
    'sections', jsonb_build_array(jsonb_build_object('id', 'body', 'ground', 'paper', 'width', 'normal', 'space', 'normal', 'blocks', jsonb_build_array(
      jsonb_build_object('id', 'words', 'type', 'text', 'hide', '[]'::jsonb, 'space', 'normal', 'size', 'normal', 'rich', jsonb_build_object('type', 'doc', 'content',
        jsonb_build_array(jsonb_build_object('type', 'paragraph', 'content', jsonb_build_array(jsonb_build_object('type', 'text', 'text', 'Hello {first name, else there},'))))
        || coalesce((select jsonb_agg(jsonb_build_object('type', 'paragraph', 'content', jsonb_build_array(jsonb_build_object('type', 'text', 'text', part))) order by n)
             from regexp_split_to_table(coalesce(text, ''), E'\\n\\\\s*\\n') with ordinality as p(part, n) where trim(part) <> ''), '[]'::jsonb))),
      jsonb_build_object('id', 'countdown', 'type', 'countdown', 'hide', '[]'::jsonb, 'space', 'normal', 'form', 'card'),
      jsonb_build_object('id', 'next', 'type', 'button', 'hide', '[]'::jsonb, 'space', 'normal', 'label', 'Go to the page', 'target', '{"to":"next"}'::jsonb, 'look', 'main', 'note', '')
    )))
  ) as content from newest
)
insert into launch_email (launch_id, key, version, draft, published, published_at) select launch_id, key, 1, content, content, now() from made;

update launch set settings = jsonb_set(settings, '{emails}',
  (select coalesce(jsonb_agg(e - 'subject' - 'text' order by n), '[]') from jsonb_array_elements(settings->'emails') with ordinality as a(e, n)));
update launch_change set before = jsonb_set(before, '{emails}',
  (select coalesce(jsonb_agg(e - 'subject' - 'text' order by n), '[]') from jsonb_array_elements(before->'emails') with ordinality as a(e, n)))
  where before ? 'emails';
    `);
  }
}
