import type { AnswerOf } from "../../contract/endpoint";
import type { changeSigning, SessionRow, Team } from "../../contract/settings";
import type { SendingLimits } from "../../core/emails";
import type { Retention, VendorDetails } from "../../core/settings";
import { useReady } from "../kit/data/useReady";
import { OwnAccount } from "./OwnAccount";
import styles from "./settings.module.css";
import { SigningSection } from "./SigningSection";
import { SendingSection } from "./SendingSection";
import { RetentionSection } from "./RetentionSection";
import { TeamSection } from "./TeamSection";
import { VendorSection } from "./VendorSection";

interface Props {
  vendor: VendorDetails;
  version: number;
  countries: Record<string, string>;
  mayChangeVendor: boolean;
  sending: { version: number; limits: SendingLimits };
  signing: AnswerOf<typeof changeSigning>;
  retention: Retention;
  team: Team;
  mayChangeTeam: boolean;
  mayTellOthers: boolean;
  me: { id: string; name: string; email: string };
  sessions: SessionRow[];
  zone: string;
}

/** Who sells, what is kept for how long, who works here, and one's own password and sessions. */
export const SettingsDesk = ({
  vendor,
  version,
  countries,
  mayChangeVendor,
  sending,
  signing,
  retention,
  team,
  mayChangeTeam,
  mayTellOthers,
  me,
  sessions,
  zone,
}: Props) => {
  const ready = useReady();
  return (
    <div inert={!ready} className={styles.desk}>
      <div className={styles.column}>
        <VendorSection vendor={vendor} version={version} countries={countries} mayWrite={mayChangeVendor} />
        <SendingSection first={sending.limits} version={sending.version} mayWrite={mayChangeVendor} />
        <SigningSection first={signing} mayWrite={mayChangeVendor} zone={zone} />
        {mayTellOthers && (
          <section aria-labelledby="others">
            <h2 id="others">Other tools</h2>
            <p className="muted">Another tool can be told of opt-ins, orders, refunds and clocks as they happen.</p>
            <p>
              <a href="/desk/webhooks">Webhooks</a>
            </p>
          </section>
        )}
      </div>
      <div className={styles.column}>
        <TeamSection first={team} me={me.id} mayWrite={mayChangeTeam} zone={zone} />
        <OwnAccount me={me} first={sessions} zone={zone} />
        <RetentionSection first={retention} mayWrite={mayChangeVendor} />
      </div>
    </div>
  );
};
