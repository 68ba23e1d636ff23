import { Migration } from "@mikro-orm/migrations";

/** Payments that are held on the card until the goods are sent; what bundles hold; buyers who come back with a password; tax by region. */
export class Migration0011Sending extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
-- When the card is charged for a product: at once, or when it is sent.
alter table product add column charge_when text not null default 'at_once' check (charge_when in ('at_once', 'when_sent'));
-- What a bundle is sold with, product by product.
alter table product add column holds uuid[] not null default '{}';
-- A charge that is held on the card first, taken when the goods go out, or let go.
alter table charge add column held boolean not null default false;
alter table charge drop constraint charge_state_check,
  add check (state in ('pending', 'challenge', 'authorised', 'succeeded', 'declined', 'released')),
  add check (held or state not in ('authorised', 'released'));
alter table sale_order add column sent_at timestamptz;
create index on sale_order (contact_id);

-- Buyers sign in to their library by a link in an email, or by a password if they have set one.
alter table contact add column password_hash text;
alter table session drop constraint session_kind_check, add check (kind in ('desk', 'partner', 'buyer'));
alter table email_message drop constraint email_message_kind_check, add check (kind in ('welcome', 'receipt', 'recovery', 'letter', 'confirm', 'library'));

-- A rate holds in a whole country, or in a region of it by its own code (ISO 3166-2 without the country); '' is the whole country.
alter table tax_rate add column region text not null default '', drop constraint tax_rate_pkey, add primary key (country, region, tax_class, from_day);
alter table checkout add column region text not null default '';
alter table sale_order add column region text not null default '';
    `);
  }
}
