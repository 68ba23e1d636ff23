import { formatMoney } from "../kit/data/numbers";
import type { Balance } from "../../core/money";
import { Table } from "../kit/Table";
import { accountName } from "./words";

/** The balance of every account, and the proof that they add up to zero. */
export const LedgerTable = ({ balances }: { balances: Balance[] }) => {
  const currencies = [...new Set(balances.map(({ currency }) => currency))];
  const sums = currencies.map((currency) => ({
    account: `All accounts, ${currency}`,
    currency,
    minor: balances.filter((row) => row.currency === currency).reduce((sum, row) => sum + row.minor, 0),
  }));
  return (
    <Table
      name="Balances"
      rows={[...balances, ...sums]}
      rowKey={(row) => row.account + row.currency}
      columns={[
        { title: "Account", cell: (row) => accountName(row.account) },
        { title: "Debit +, credit −", figure: true, cell: (row) => formatMoney(row.minor, row.currency).replace("-", "−") },
      ]}
    />
  );
};
