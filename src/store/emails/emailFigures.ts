import type { EmailKindName } from "../../core/emails";
import type { EntityManager } from "../orm";

/** What became of the emails of a launch that are of one kind, or of one email on a bell or in a sequence. */
export interface EmailFigures {
  kind: EmailKindName;
  /** Which email on a bell; null for the other kinds. */
  email: string | null;
  sent: number;
  /** Of those sent, how many came back undelivered, and how many were reported as spam. */
  bounced: number;
  complained: number;
  due: number;
  /** How many were dropped, by why. */
  stopped: Record<string, number>;
  /** The mail server's answer to these was lost. */
  unknown: number;
}

/** What became of all emails of a launch that were queued by an instant. */
export const emailFigures = async (em: EntityManager, launchId: string, asOf: Date): Promise<EmailFigures[]> => {
  const rows = await em.execute<
    {
      kind: EmailKindName;
      email: string | null;
      sent: string;
      bounced: string;
      complained: string;
      due: string;
      unknown: string;
      stopped: Record<string, number>;
    }[]
  >(
    `with counted as (
       -- By the key, which stays when what the email was made from is forgotten.
       select kind, case when kind in ('bell', 'step') then split_part(key, ':', 3) end as email, state, stopped_because, count(*) as n,
         count(*) filter (where bounced_at <= ?) as bounced, count(*) filter (where complained_at <= ?) as complained from email_message
       where launch_id = ? and (sent_at is null or sent_at <= ?) group by 1, 2, 3, 4
     )
     select kind, email, coalesce(sum(n) filter (where state = 'sent'), 0) as sent,
       coalesce(sum(bounced) filter (where state = 'sent'), 0) as bounced, coalesce(sum(complained) filter (where state = 'sent'), 0) as complained,
       coalesce(sum(n) filter (where state in ('due', 'sending')), 0) as due,
       coalesce(sum(n) filter (where state = 'unknown'), 0) as unknown,
       coalesce(jsonb_object_agg(coalesce(stopped_because, ''), n) filter (where state = 'stopped'), '{}') as stopped
     from counted group by 1, 2 order by 1, 2`,
    [asOf, asOf, launchId, asOf],
  );
  return rows.map(({ kind, email, sent, bounced, complained, due, unknown, stopped }) => ({
    kind,
    email,
    sent: Number(sent),
    bounced: Number(bounced),
    complained: Number(complained),
    due: Number(due),
    unknown: Number(unknown),
    stopped,
  }));
};
