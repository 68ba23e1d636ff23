import { formatAmount } from "../../core/money";
import type { PersonRow } from "../../core/people";
import { shortMoment } from "../../core/words";
import { formatMoney } from "../kit/data/numbers";
import type { DataColumn } from "../kit/table/DataTable";
import styles from "./people.module.css";

/** The columns of all people; a name leads to what is known of them. */
export const peopleColumns = (zone: string, countries: Record<string, string>): DataColumn<PersonRow>[] => [
  {
    id: "name",
    title: "Name",
    value: ({ name }) => name,
    cell: ({ id, name, email, tags }) => (
      <>
        <a href={`/desk/people/${id}`}>{name || email}</a>
        {tags.map((tag) => (
          <span key={tag} className={styles.tag}>
            {tag}
          </span>
        ))}
      </>
    ),
  },
  {
    id: "email",
    title: "Email",
    value: ({ email }) => email,
    cell: ({ email, mayWrite }) => (
      <>
        {email}
        {!mayWrite && <span className="muted"> may not be written to</span>}
      </>
    ),
  },
  { id: "country", title: "Country", aside: true, value: ({ country }) => country, cell: ({ country }) => countries[country] ?? country },
  { id: "since", title: "Since", whole: true, value: ({ since }) => since.toISOString(), cell: ({ since }) => shortMoment(since, zone) },
  {
    id: "spent",
    title: "Spent",
    figure: true,
    value: ({ spent }) => spent.reduce((sum, { minor }) => sum + minor, 0),
    file: ({ spent }) => spent.map(({ minor, currency }) => `${formatAmount(minor, currency)} ${currency}`).join(" + "),
    cell: ({ spent }) => spent.map(({ minor, currency }) => formatMoney(minor, currency)).join(" + "),
  },
];
