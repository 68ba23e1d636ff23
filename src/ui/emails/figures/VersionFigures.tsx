import type { readEmailFigures } from "../../../contract/emails";
import type { AnswerOf } from "../../../contract/endpoint";
import { variantKey } from "../../../core/emails";
import { rateWords } from "../../../core/figures";
import { subjectOf, type LaunchSource } from "../../../core/launch";
import { formatMoneyByCurrency } from "../../kit/data/numbers";
import { Table } from "../../kit/Table";
import styles from "../emails.module.css";

type Variant = AnswerOf<typeof readEmailFigures>["variants"][number];

/** How the two versions of an email did beside one another. */
export const VersionFigures = ({ variants, source }: { variants: readonly Variant[]; source: LaunchSource }) =>
  variants.length === 0 ? null : (
    <section aria-label="Its versions" className={styles.links}>
      <h3>Versions</h3>
      <Table
        name="Versions"
        rows={[...variants]}
        rowKey={({ variant }) => variant}
        columns={[
          {
            title: "Version",
            cell: ({ key, variant }) => (
              <>
                <b>{variant}</b>
                <span className={styles.under}>{subjectOf(source, variant === "A" ? key : variantKey(key))}</span>
              </>
            ),
          },
          { title: "Clicked", figure: true, cell: ({ clicked, sent }) => rateWords(clicked, sent) },
          {
            title: "Orders",
            figure: true,
            cell: ({ orders, revenue }) =>
              orders > 0 ? `${orders.toLocaleString("en")}, ${formatMoneyByCurrency(revenue, source.price.currency)}` : "",
          },
        ]}
      />
    </section>
  );
