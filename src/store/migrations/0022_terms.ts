import { Migration } from "@mikro-orm/migrations";

/** Tables, columns and states by the terms of the trade: one word for one thing. Nothing is changed but names. */
export class Migration0022Terms extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
alter table agreement rename to recurring_payment;
alter table charge rename column agreement_id to recurring_payment_id;
alter table charge rename column held to capture_later;
alter table checkout rename column held_minor to price_hold_minor;
alter table checkout rename column held_until to price_hold_until;
alter table commission rename column held_until to pending_until;
alter table product rename column holds to contents;
alter table order_line rename column holds to contents;
alter table sale_order rename column sent_at to fulfilled_at;
alter table bell_rung rename to bell_run;
alter table bell_run rename column rung_at to ran_at;
alter table bell_run rename column told_at to notified_at;
alter index agreement_pkey rename to recurring_payment_pkey;
alter index agreement_line_id_key rename to recurring_payment_line_id_key;
alter index agreement_order_id_idx rename to recurring_payment_order_id_idx;
alter index bell_rung_pkey rename to bell_run_pkey;
alter index bell_rung_launch_id_key_at_key rename to bell_run_launch_id_key_at_key;
alter index commission_partner_id_held_until_idx rename to commission_partner_id_pending_until_idx;

-- Seats were taken and given back when these charges came to their states: renamed, they do neither once more.
alter table charge disable trigger takes_seats;
alter table charge drop constraint charge_state_check, drop constraint charge_check1;
update charge set state = case state when 'authorised' then 'authorized' else 'voided' end where state in ('authorised', 'released');
alter table charge enable trigger takes_seats;
alter table charge
  add constraint charge_state_check check (state in ('pending', 'challenge', 'authorized', 'succeeded', 'declined', 'voided')),
  add constraint charge_capture_later_check check (capture_later or state not in ('authorized', 'voided'));

create or replace function charge_takes_seats() returns trigger language plpgsql as $$
declare
  pieces bigint := front_pieces(new.items);
  before int := case when tg_op = 'UPDATE' and old.state not in ('declined', 'voided') then 1 else 0 end;
  after int := case when new.state not in ('declined', 'voided') then 1 else 0 end;
begin
  if pieces > 0 and before <> after then
    perform take_seats(k.launch_id, (after - before) * pieces, true) from checkout k where k.id = new.checkout_id and not k.test;
  end if;
  return null;
end $$;

drop trigger holds_parts on order_line;
drop function line_holds_parts();
create or replace function parts_of(of_product uuid) returns jsonb language sql stable as $$
  select coalesce(jsonb_agg(jsonb_build_object('id', part.id, 'name', part.name) order by place), '[]')
  from product whole cross join unnest(whole.contents) with ordinality as one(id, place) join product part on part.id = one.id
  where whole.id = of_product
$$;
create function line_keeps_contents() returns trigger language plpgsql as $$
declare
  ids uuid[];
begin
  -- Most products have no contents: that is found out by a plan that is kept.
  select p.contents into ids from product p where p.id = new.product_id;
  new.contents := case when ids <> '{}' then parts_of(new.product_id) else '[]' end;
  return new;
end $$;
-- Whoever writes a line: none of them can forget it. What is sent, and what is paid later, has no contents by itself.
create trigger keeps_contents before insert on order_line for each row when (new.role not in ('shipping', 'rebill')) execute function line_keeps_contents();

update outbox set topic = case topic
    when 'take_held' then 'capture_payment' when 'take_payment' then 'charge_recurring_payment' when 'ring_bells' then 'run_bells'
    when 'queue_letters' then 'queue_emails' when 'tell_vendor' then 'notify_vendor' else 'reschedule_emails' end
where topic in ('take_held', 'take_payment', 'ring_bells', 'queue_letters', 'tell_vendor', 'hang_letters');
    `);
  }
}
