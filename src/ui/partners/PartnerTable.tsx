import { formatBasisPoints, formatMoneyByCurrency } from "../kit/data/numbers";
import type { PartnerStats } from "../../core/partners";
import { EmptyState } from "../kit/EmptyState";
import { Table } from "../kit/Table";

const share = (part: number, whole: number) => (whole > 0 ? `${part} of ${whole}, ${((100 * part) / whole).toFixed(1)} %` : `${part}`);

/** The partners of a launch, those with most orders first. `currency` is the launch's own, for who has earned nothing. */
export const PartnerTable = ({ stats, origin, currency }: { stats: PartnerStats[]; origin: string; currency: string }) =>
  stats.length === 0 ? (
    <EmptyState title="Partners will stand here" says="Who sends buyers, what they earned, and what is held." />
  ) : (
    <Table
      name="Partners of this launch"
      rows={stats}
      rowKey={(row) => row.partnerId}
      columns={[
        { title: "Partner", cell: (row) => <strong>{row.name}</strong> },
        {
          title: "Link",
          whole: true,
          aside: true,
          cell: (row) => (
            <code>
              {origin}?p={row.code}
            </code>
          ),
        },
        { title: "Rate", figure: true, cell: (row) => formatBasisPoints(row.rateBp) },
        { title: "Clicks", figure: true, cell: (row) => row.clicks },
        { title: "Opt-ins", figure: true, cell: (row) => share(row.optIns, row.clicks) },
        { title: "Orders", figure: true, cell: (row) => share(row.orders, row.clicks) },
        { title: "Held", figure: true, cell: (row) => formatMoneyByCurrency(row.pending, currency) },
        { title: "Due", figure: true, cell: (row) => formatMoneyByCurrency(row.due, currency) },
      ]}
    />
  );
