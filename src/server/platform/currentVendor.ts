import { vendorAtFirst, type VendorDetails } from "../../core/settings";
import { Vendor } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import type { Config } from "./config";

/** What pages, emails and the desk say of the vendor, from its row. */
export const detailsOf = (row: Vendor): VendorDetails => ({
  name: row.name,
  postalAddress: row.postalAddress,
  country: row.country,
  taxNumbers: row.taxNumbers,
  sender: { name: row.senderName || row.name, email: row.senderEmail },
  locale: row.locale,
});

/**
 * The vendor as this process knows it, without asking the database for each page. Another process that changes it says so
 * on the channel `vendor_changed`. Before the first change it is what the environment says.
 */
export class CurrentVendor {
  private details: VendorDetails;
  constructor(config: Pick<Config, "INKBELL_VENDOR" | "INKBELL_VENDOR_COUNTRY" | "INKBELL_MAIL_FROM">) {
    this.details = vendorAtFirst({ name: config.INKBELL_VENDOR, country: config.INKBELL_VENDOR_COUNTRY, from: config.INKBELL_MAIL_FROM });
  }
  get current(): VendorDetails {
    return this.details;
  }
  async refresh(em: EntityManager): Promise<void> {
    const row = await em.findOne(Vendor, { singleton: true });
    if (row) this.details = detailsOf(row);
  }
}
