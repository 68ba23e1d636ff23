import type { VendorDetails } from "../../core/settings";
import { useReady } from "../kit/useReady";
import { useToast } from "../kit/Toast";
import { OwnAccount, type SessionRow } from "./OwnAccount";
import styles from "./settings.module.css";
import { TeamSection, type Team } from "./TeamSection";
import { VendorSection } from "./VendorSection";

interface Props {
  vendor: VendorDetails;
  version: number;
  countries: Record<string, string>;
  mayChangeVendor: boolean;
  team: Team;
  mayChangeTeam: boolean;
  me: { id: string; name: string; email: string };
  sessions: SessionRow[];
  zone: string;
}

/** Who sells, who works here, and one's own password and sessions. */
export const SettingsDesk = ({ vendor, version, countries, mayChangeVendor, team, mayChangeTeam, me, sessions, zone }: Props) => {
  const ready = useReady();
  const { say, toast } = useToast();
  return (
    <div inert={!ready} className={styles.desk}>
      <VendorSection vendor={vendor} version={version} countries={countries} mayWrite={mayChangeVendor} say={say} />
      <div className={styles.column}>
        <TeamSection first={team} me={me.id} mayWrite={mayChangeTeam} zone={zone} say={say} />
        <OwnAccount me={me} first={sessions} zone={zone} say={say} />
      </div>
      {toast}
    </div>
  );
};
