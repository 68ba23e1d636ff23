import { Readable } from "node:stream";
import type { ReadableStream } from "node:stream/web";
import { ownedProducts } from "../../core/delivery";
import { accessSources } from "../../store/delivery/accessSources";
import type { DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { mustBeAllowed, type Download } from "../platform";
import { personRecordOf } from "./personRecord";

/**
 * The record of one person as JSON, for whoever asks what is known of them (GDPR, Regulation (EU) 2016/679, art. 15 and 20). The text of
 * their comments, what each email said and each visit to the second are not in it. Its fields are those of `personRecord`, and of `ownedProduct` for what they own or owned; instants are ISO 8601, sums in minor units.
 */
export const exportPerson = async (em: EntityManager, user: DeskUser, id: string, now: Date): Promise<Download> => {
  mustBeAllowed(user, "person.export");
  const record = await personRecordOf(em, id, now);
  const { sources, names } = await accessSources(em, record.contact ? [record.contact.id] : []);
  const owns = ownedProducts(sources, names, now);
  const text = JSON.stringify({ is: "the record of one person", version: 2, asOf: now, record, owns }, null, 2);
  // The name of the file tells nobody's address.
  return {
    name: `person-${record.id}.json`,
    type: "application/json",
    body: Readable.toWeb(Readable.from([Buffer.from(text)])) as ReadableStream<Uint8Array>,
  };
};
