import { Migration } from "@mikro-orm/migrations";

/** Endpoints of other tools, and the messages that go to them. */
export class Migration0046Webhooks extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
create table webhook_endpoint (
  id uuid primary key,
  url text not null,
  events jsonb not null,
  launch_id uuid references launch,
  secret text not null,
  previous_secret text,
  previous_until timestamptz,
  off_because text check (off_because in ('switched_off', 'gone', 'failing')),
  created_at timestamptz not null,
  since timestamptz not null,
  looked_at timestamptz not null
);
create table webhook_message (
  id uuid primary key,
  endpoint_id uuid not null references webhook_endpoint on delete cascade,
  key text not null,
  type text not null,
  person_id uuid,
  body text not null,
  happened_at timestamptz not null,
  state text not null check (state in ('due', 'delivered', 'failed')),
  due_at timestamptz not null,
  tries integer not null default 0,
  tried_at timestamptz,
  status integer,
  says text,
  unique (endpoint_id, key)
);
create index on webhook_message (endpoint_id, due_at) where state = 'due';
create index on webhook_message (endpoint_id, happened_at desc, id desc);
create index on webhook_message (person_id) where person_id is not null;
create index on clock_start (launch_id, at);
create index on clock_stop (launch_id, at);
    `);
  }
}
