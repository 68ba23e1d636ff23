import { Migration } from "@mikro-orm/migrations";

/** The clock: settings kept whole, personal starts and stops, bells that rang, changes that can be undone. */
export class Migration0002Clock extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
alter table launch add column shape text not null default 'full' check (shape in ('full', 'short', 'list')),
  add column settings jsonb, add column version int not null default 1, add column bells_until timestamptz,
  add column hook_secret text not null default 'whsec_' || encode(sha256(gen_random_uuid()::text::bytea || gen_random_uuid()::text::bytea), 'base64');
update launch set settings = jsonb_build_object(
  'clock', jsonb_build_object('kind', 'fixed', 'runUp', to_char(least(run_up_from, opens_at) at time zone zone, 'YYYY-MM-DD"T"HH24:MI'), 'opens', opens_wall, 'closes', closes_wall),
  'graceMinutes', grace_minutes, 'gates', '[]'::jsonb, 'letters', '[]'::jsonb, 'stops', '[]'::jsonb, 'prices', '[]'::jsonb, 'rising', null, 'seats', null, 'featured', '[]'::jsonb,
  'countdowns', '[{"id":"bar","form":"bar_top","covers":{"mode":"only","pages":["optin","sales","checkout"],"folders":[]},"to":["opening","closing"],"fromMinutes":null,"untilMinutes":0}]'::jsonb,
  'stages', '[{"id":"last-day","minutes":1440,"look":"firm","words":"Last day"},{"id":"last-hour","minutes":60,"look":"loud","words":"Last hour"}]'::jsonb);
alter table launch alter column settings set not null, drop column run_up_from, drop column opens_at, drop column closes_at,
  drop column opens_wall, drop column closes_wall, drop column grace_minutes;

alter table page add column key text, drop constraint page_launch_id_kind_key;
update page set key = kind;
alter table page alter column key set not null, add unique (launch_id, key);
create unique index one_page_of_a_kind on page (launch_id, kind) where kind <> 'content';

create table launch_change (
  id uuid primary key, launch_id uuid not null references launch, user_id uuid not null references desk_user, at timestamptz not null,
  what text not null, before jsonb not null, version int not null, undone boolean not null default false, unique (launch_id, version)
);

-- Every start that was recorded for any identity of a person; which of them count follows from the clock's rule.
create table clock_start (
  id uuid primary key, launch_id uuid not null references launch, person_id uuid not null references person, visitor_id uuid,
  at timestamptz not null, trigger text not null check (trigger in ('opt_in', 'first_visit', 'page', 'webhook', 'hand_over')),
  unique (launch_id, person_id, at)
);
create index on clock_start (person_id);
create index on clock_start (visitor_id);
create table clock_stop (
  launch_id uuid not null references launch, person_id uuid not null references person, at timestamptz not null, because text not null,
  handed_to uuid references launch, primary key (launch_id, person_id)
);

create table bell_rung (
  id uuid primary key, launch_id uuid not null references launch, key text not null, at timestamptz not null, label text not null,
  rung_at timestamptz not null, outcome text not null, told_at timestamptz, unique (launch_id, key, at)
);

alter table email_message drop constraint email_message_kind_check;
alter table email_message add check (kind in ('welcome', 'receipt', 'recovery', 'letter'));
    `);
  }
}
