import { Migration } from "@mikro-orm/migrations";

/**
 * A commission has a key of its own, and names what made it: line, partner and level, the plan with its version, the rule and
 * its rate. A journal names the commission that it books or takes back, so that a line may earn several partners something.
 */
export class Migration0026Commissions extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
create table commission_plan (
  id uuid not null, version int not null check (version > 0), name text not null, rules jsonb not null, at timestamptz not null, primary key (id, version)
);
insert into commission_plan (id, version, name, rules, at) values ('8f1d3a52-6c3e-4d0b-9a57-2f6d1b9e4c10', 1, 'Each partner''s own rate', '{"kind": "partner_rate"}', now());

alter table commission drop constraint commission_pkey;
alter table commission add column id uuid not null default gen_random_uuid(), add column level int not null default 1 check (level in (1, 2)),
  add column plan_id uuid not null default '8f1d3a52-6c3e-4d0b-9a57-2f6d1b9e4c10', add column plan_version int not null default 1,
  add column rule text not null default 'partner_rate' check (rule in ('partner_rate', 'featured_day'));
-- A rate above the partner's own could only be a featured day's.
update commission c set rule = 'featured_day' from partner p where p.id = c.partner_id and c.rate_bp > p.rate_bp;
alter table commission alter column id drop default, alter column level drop default, alter column plan_id drop default,
  alter column plan_version drop default, alter column rule drop default;
alter table commission add primary key (id), add unique (line_id, partner_id, level), add foreign key (plan_id, plan_version) references commission_plan;

alter table journal add column commission_id uuid references commission;
-- The ledger is append-only for everyone else: this only says of what its journals are.
alter table journal disable trigger append_only;
update journal j set commission_id = c.id from commission c where c.line_id = j.line_id and j.kind in ('commission', 'commission_reversal');
alter table journal enable trigger append_only;
alter table journal drop constraint journal_kind_check;
alter table journal add check (
  kind in ('payment', 'commission', 'marketplace_sale', 'refund', 'commission_reversal', 'dispute', 'dispute_won', 'commission_restored')
);
alter table journal add check ((commission_id is not null) = (kind in ('commission', 'commission_reversal', 'commission_restored')));
drop index journal_kind_line_id_coalesce_idx;
-- A kind is booked once for a line, once for each refund or dispute of it, and once for each commission on it.
create unique index on journal (kind, line_id, coalesce(about_id, '00000000-0000-0000-0000-000000000000'), coalesce(commission_id, '00000000-0000-0000-0000-000000000000'));
    `);
  }
}
