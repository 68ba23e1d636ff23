import type { AudienceSize } from "../../core/retarget";
import { counted } from "../../core/words";
import kit from "../kit/kit.module.css";
import { EmptyState } from "../kit/EmptyState";
import styles from "./AudienceLadder.module.css";

interface Rung {
  key: string;
  name: string;
  href: string;
}

interface Props {
  rungs: Rung[];
  /** Undefined until they are counted. */
  sizes?: AudienceSize[] | undefined;
  failure?: string | undefined;
  smallest: number;
}

/** Audiences as rungs of a ladder: size by country, how many may be addressed, and the file. */
export const AudienceLadder = ({ rungs, sizes, failure, smallest }: Props) => {
  const most = Math.max(1, ...(sizes ?? []).flatMap(({ countries }) => countries.map(({ people }) => people)));
  return (
    <ol className={styles.ladder}>
      {rungs.map((rung, index) => {
        const rows = sizes?.find(({ key }) => key === rung.key)?.countries;
        const people = rows?.reduce((sum, row) => sum + row.people, 0);
        const addresses = rows?.reduce((sum, row) => sum + row.addresses, 0) ?? 0;
        return (
          <li key={rung.key} data-audience={rung.key}>
            <header>
              <div>
                <h2>
                  Rung {index + 1}: {rung.name}
                </h2>
                <p className="muted" role="status">
                  {people !== undefined
                    ? `${counted(people, "person", "people")}, ${addresses.toLocaleString("en")} of them with an address that may be used`
                    : failure
                      ? `They could not be counted: ${failure}`
                      : "Counting…"}
                </p>
              </div>
              <a className={kit.button} href={rung.href}>
                Download {rows ? addresses.toLocaleString("en") : "the"} hashed addresses
              </a>
            </header>
            {people === 0 && <EmptyState title="Nobody yet" says="People appear here as soon as they look and leave." />}
            <ul className={styles.countries}>
              {rows?.slice(0, 12).map((row) => (
                <li key={row.country}>
                  <span>{row.country}</span>
                  <svg className={styles.bar} viewBox="0 0 100 10" preserveAspectRatio="none" aria-hidden="true">
                    <rect width={(100 * row.people) / most} height="10" fill="var(--woad-tint)" />
                    <rect width={(100 * row.addresses) / most} height="10" fill="var(--woad)" />
                  </svg>
                  <b>{row.people.toLocaleString("en")}</b>
                  <span className="muted">
                    {row.addresses.toLocaleString("en")} with address{row.addresses < smallest ? "; below the minimum audience size" : ""}
                  </span>
                </li>
              ))}
            </ul>
          </li>
        );
      })}
    </ol>
  );
};
