import type { App } from "../server/platform";
import { claimBulk, claimPersonal } from "../store/emails/claim";
import { atOnce, deliverEmails } from "../server/emails";
import { Loop } from "./loop";

/** Mail to one person has hands of its own, so that it goes within seconds whatever else is on its way. */
const lanes = [
  { bulk: false, claim: claimPersonal, hands: 2, most: 8, everyMs: 200 },
  { bulk: true, claim: claimBulk, hands: 4, most: 64, everyMs: 500 },
] as const;

/** The most emails to many that a worker leaves unknown when it is killed: what each of its hands was handing over just then. */
export const mostUnknown = atOnce * lanes[1].hands;

/** The loops that claim and send what is due, for one worker. */
export const mailLoops = (app: App, worker: string): Loop[] =>
  lanes.flatMap(({ bulk, claim, hands, most, everyMs }) =>
    Array.from({ length: hands }, (_, hand) => {
      const work = async (): Promise<boolean> => {
        const emails = await claim(app.fork(), worker, app.clock.now(), most);
        if (emails.length > 0) await deliverEmails(app, worker, emails);
        return emails.length === most;
      };
      // The first hand looks often; the others help where it cannot keep up.
      return new Loop(bulk ? "mail to many" : "mail", work, hand === 0 ? everyMs : 4 * everyMs, app.log);
    }),
  );
