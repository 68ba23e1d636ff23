import type { EmailFigures } from "../../../contract/emails";
import type { MailDeed } from "../../../core/conditions";
import { orderAfterClickDays } from "../../../core/emails";
import type { Column } from "../../kit/Table";
import { formatMoneyByCurrency } from "../../kit/data/numbers";
import { everybodyHref } from "../../people/peopleHref";
import { droppedOf, droppedWords, whole } from "../emailWords";
import styles from "../emails.module.css";

interface CountProps {
  figures: EmailFigures;
  n: number;
  /** Whom it counts. */
  of: MailDeed;
}

/** A count that opens the people behind it. */
const Count = ({ figures: { ref }, n, of }: CountProps) => <a href={everybodyHref({ mailed: of, email: ref })}>{n.toLocaleString("en")}</a>;

const shareOf = (n: number, { sent }: EmailFigures): string => `${Math.round((100 * n) / Math.max(1, sent))} %`;

/** How many got it; how many it did not reach, are to get it, or do not. */
const Sent = (figures: EmailFigures) => {
  const { sent, bounced, complained, due, stopped } = figures;
  const dropped = droppedOf(figures);
  return (
    <>
      {sent > 0 && <Count figures={figures} n={sent} of="sent" />}
      <span className={styles.under}>
        {bounced > 0 && (
          <span>
            <Count figures={figures} n={bounced} of="bounced" /> bounced
          </span>
        )}
        {complained > 0 && (
          <span>
            <Count figures={figures} n={complained} of="complained" /> as spam
          </span>
        )}
        {due > 0 && <span>{whole(due)} due</span>}
        {dropped > 0 && <abbr title={droppedWords(stopped)}>{whole(dropped)} not sent</abbr>}
      </span>
    </>
  );
};

const Part = ({ of, n, ...figures }: EmailFigures & { of: MailDeed; n: number }) =>
  n === 0 ? null : (
    <>
      <Count figures={figures} n={n} of={of} />
      <span className={styles.under}>{shareOf(n, figures)}</span>
    </>
  );

/** The orders that followed clicks in an email, and what they brought. */
const Orders = ({ orders, revenue, currency }: EmailFigures & { currency: string }) =>
  orders === 0 ? null : (
    <span className={styles.earned}>
      {orders.toLocaleString("en")}, {formatMoneyByCurrency(revenue, currency)}
    </span>
  );

/** What became of emails, in the columns that all tables of emails have. `none` stands where one went to nobody. */
export const figureColumns = <Row,>(
  of: (row: Row) => EmailFigures | undefined,
  currency: string,
  none: (row: Row) => boolean = () => false,
): Column<Row>[] => {
  const cell = (draw: (figures: EmailFigures) => React.ReactNode) => (row: Row) => {
    const figures = of(row);
    return figures && draw(figures);
  };
  return [
    { title: "Sent", figure: true, cell: (row) => cell(Sent)(row) ?? (none(row) && <span className="muted">none</span>) },
    { title: "Opened", figure: true, aside: true, cell: cell((figures) => <Part {...figures} of="opened" n={figures.opened} />) },
    { title: "Clicked", figure: true, cell: cell((figures) => <Part {...figures} of="clicked" n={figures.clicked} />) },
    {
      title: "Unsub.",
      figure: true,
      aside: true,
      cell: cell((figures) => figures.left > 0 && <Count figures={figures} n={figures.left} of="left" />),
    },
    { title: `Orders in ${orderAfterClickDays} days`, figure: true, cell: cell((figures) => <Orders {...figures} currency={currency} />) },
  ];
};

/** What the figures are, and are not. */
export const FigureNote = () => (
  <p className={`muted ${styles.figureNote}`}>
    Opened is a hint: mail programs fetch pictures by themselves. A click counts once its page was seen; programs that follow every link are told
    apart. An order counts for the email that was clicked last before it.
  </p>
);
