import type { SentSpan } from "../../../core/emails";
import type { EntityManager } from "../../orm";

/** How many people are in a sequence, and to how many of them a step is still to go. */
export interface SequencePeople {
  taken: number;
  underWay: number;
}

const spanMinutes = 360;
/** As far back as is drawn. */
const lookBack = "90 days";

/** What went of the steps of a launch's sequences, by spans of six hours, up to an instant. */
export const stepsSent = async (em: EntityManager, launchId: string, asOf: Date): Promise<SentSpan[]> => {
  const rows = await em.execute<{ step: string; at: string; sent: string }[]>(
    `select split_part(key, ':', 3) as step, date_bin(make_interval(mins => ?), sent_at, timestamptz '2000-01-01 00:00+00') as at, count(*) as sent
     from email_message where launch_id = ? and kind = 'step' and state = 'sent' and sent_at <= ? and sent_at > ?::timestamptz - ?::interval group by 1, 2 order by 2, 1`,
    [spanMinutes, launchId, asOf, asOf, lookBack],
  );
  return rows.map(({ step, at, sent }) => ({ step, at: new Date(at), sent: Number(sent) }));
};

/** The people of each sequence of a launch, by its id. */
export const sequencePeople = async (em: EntityManager, launchId: string): Promise<Record<string, SequencePeople>> => {
  const rows = await em.execute<{ key: string; taken: string; under_way: string }[]>(
    `select p.key, count(*) as taken, count(w.contact_id) as under_way from sequence_person p
     left join (select distinct data->>'sequence' as key, contact_id from email_message where launch_id = ? and kind = 'step' and state = 'due') w
       on w.key = p.key and w.contact_id = p.contact_id
     where p.launch_id = ? group by 1`,
    [launchId, launchId],
  );
  return Object.fromEntries(rows.map(({ key, taken, under_way }) => [key, { taken: Number(taken), underWay: Number(under_way) }]));
};
