import { readLinkFigures } from "../../../contract/emails";
import { counted } from "../../../core/words";
import { useRead } from "../../kit/data/useRead";
import { Table } from "../../kit/Table";
import { everybodyHref } from "../../people/peopleHref";
import styles from "../emails.module.css";

/** A link as it is shown in a narrow table: an address without what comes before its host. */
const shortLink = (link: string): string => link.replace(/^https?:\/\//, "");

/** Which links of an email were followed, by how many people, and how often by programs. `email` is what conditions call it. */
export const EmailLinks = ({ slug, id, email }: { slug: string; id: string; email: string }) => {
  const { value, failure } = useRead(readLinkFigures, { params: { slug, email: id } });
  if (failure) return <p role="alert">{failure}</p>;
  if (!value || value.links.length === 0) return null;
  const machines = value.links.reduce((sum, { byMachine }) => sum + byMachine, 0);
  return (
    <section aria-label="Its links" className={styles.links}>
      <h3>Links that were followed</h3>
      <Table
        name="Links"
        rows={value.links}
        rowKey={({ link }) => link}
        columns={[
          { title: "Link", cell: ({ link }) => <span title={link}>{shortLink(link)}</span> },
          {
            title: "People",
            figure: true,
            cell: ({ link, people }) =>
              people > 0 && (
                <a href={everybodyHref({ mailed: "clicked", email, link: { is: "equals", text: link } })}>{people.toLocaleString("en")}</a>
              ),
          },
          { title: "Clicks", figure: true, cell: ({ clicks }) => clicks.toLocaleString("en") },
        ]}
      />
      {machines > 0 && <p className="muted">{counted(machines, "more click")} came from programs, or from browsers that saw no page.</p>}
    </section>
  );
};
