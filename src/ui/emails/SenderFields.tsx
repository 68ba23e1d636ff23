import type { SenderSetting } from "../../core/launch";
import { Button } from "../kit/Button";
import { Field } from "../kit/fields/Field";
import styles from "./emails.module.css";

interface Props {
  sender: SenderSetting | null;
  /** What the vendor's emails carry. */
  vendor: { name: string; address: string };
  mayChange: boolean;
  wrong: (field: string) => string | undefined;
  onChange: (sender: SenderSetting | null) => void;
}

const domainOf = (address: string): string => address.slice(address.lastIndexOf("@") + 1).toLowerCase();

/** Under which name and from which address the emails of a launch go. */
export const SenderFields = ({ sender, vendor, mayChange, wrong, onChange }: Props) => (
  <details className={styles.sender} open={sender !== null}>
    <summary>
      From {sender?.name || vendor.name} &lt;{sender ? sender.email : vendor.address}&gt;
    </summary>
    <div inert={!mayChange}>
      {sender ? (
        <>
          <Field
            label="Sender’s name"
            placeholder={vendor.name}
            value={sender.name}
            wrong={wrong("sender.name")}
            onChange={(event) => onChange({ ...sender, name: event.currentTarget.value })}
          />
          <Field
            label="Sender’s address"
            value={sender.email}
            wrong={wrong("sender.email")}
            onChange={(event) => onChange({ ...sender, email: event.currentTarget.value })}
          />
          {sender.email.includes("@") && domainOf(sender.email) !== domainOf(vendor.address) && (
            <p className="muted">
              From another domain than {domainOf(vendor.address)} it goes unsigned, and may be taken for spam, until that domain has a key of its own
              under <a href="/desk/settings">Settings, Signed emails</a>. It stands there once this is kept.
            </p>
          )}
          <Button onClick={() => onChange(null)}>Back to your own</Button>
        </>
      ) : (
        <>
          <p className="muted">Your own name and address, for all launches, stand in Settings.</p>
          {mayChange && <Button onClick={() => onChange({ name: "", email: vendor.address })}>Another one for this launch</Button>}
        </>
      )}
    </div>
  </details>
);
