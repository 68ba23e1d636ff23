import { useMemo, useState } from "react";
import * as contract from "../../contract/products";
import { currencies } from "../../core/money";
import type { CouponRow } from "../../core/offers";
import { counted, shortMoment } from "../../core/words";
import { ArchiveActions } from "../kit/ArchiveActions";
import { Button } from "../kit/Button";
import { call } from "../kit/data/call";
import { formatMoney } from "../kit/data/numbers";
import { useReady } from "../kit/data/useReady";
import { DateTimeField } from "../kit/fields/DateTimeField";
import { Field } from "../kit/fields/Field";
import { optionsOf, Select } from "../kit/fields/Select";
import kit from "../kit/kit.module.css";
import { Pane } from "../kit/Pane";
import { useMakeForm } from "../kit/record/useMakeForm";
import { DataTable, type DataColumn } from "../kit/table/DataTable";
import { reloadSaying, say } from "../kit/notices";
import styles from "./products.module.css";

interface Props {
  coupons: CouponRow[];
  products: { id: string; name: string }[];
  partners: { id: string; name: string }[];
  zone: string;
  currency: string;
  mayWrite: boolean;
}

const nothing = {
  label: "",
  kind: "percent" as "percent" | "amount",
  percent: "",
  amount: "",
  codes: "shared" as "shared" | "single",
  code: "",
  uses: "",
  count: "50",
  product: "",
  partner: "",
  from: "",
  until: "",
  oncePerPerson: true,
};

const discountGiven = ({ discount }: CouponRow): string =>
  Object.entries(discount)
    .map(([currency, minor]) => formatMoney(minor, currency))
    .join(", ");

const couponColumns = (zone: string): DataColumn<CouponRow>[] => {
  const called = (one: CouponRow) => one.code ?? counted(one.codes, "single code");
  const about = (one: CouponRow) => [one.label, `made ${shortMoment(new Date(one.made), zone)}`].filter(Boolean).join(", ");
  const limits = (one: CouponRow) =>
    [
      one.products?.join(", ") ?? "any product",
      one.partner && `credits ${one.partner}`,
      one.oncePerPerson && one.code && "once a person",
      one.from && `from ${shortMoment(new Date(one.from), zone)}`,
      one.until && `until ${shortMoment(new Date(one.until), zone)}`,
    ]
      .filter(Boolean)
      .join("; ");
  return [
    {
      id: "coupon",
      title: "Coupon",
      value: (one) => `${called(one)}, ${about(one)}`,
      cell: (one) => (
        <>
          <b>{called(one)}</b>
          <br />
          <span className="muted">{about(one)}</span>
        </>
      ),
    },
    {
      id: "discount",
      title: "Discount",
      value: (one) => `${one.off}, ${limits(one)}`,
      cell: (one) => (
        <>
          {one.off}
          <br />
          <span className="muted">{limits(one)}</span>
        </>
      ),
    },
    {
      id: "used",
      title: "Used",
      figure: true,
      value: ({ used }) => used,
      cell: (one) => `${one.used.toLocaleString("en")}${one.code ? (one.uses ? ` of ${one.uses}` : "") : ` of ${one.codes}`}`,
    },
    {
      id: "given",
      title: "Discount given",
      figure: true,
      // Sums of several currencies do not add up: by the largest of them.
      value: ({ discount }) => Math.max(0, ...Object.values(discount)),
      file: discountGiven,
      cell: (one) => discountGiven(one) || "–",
    },
  ];
};

const discounts = optionsOf({ percent: "a share", amount: "an amount" });
const codeKinds = optionsOf({ shared: "one code for everyone", single: "single codes, each used once" });

/** Codes that take something off an order, and what came of them. */
export const CouponDesk = ({ coupons: first, products, partners, zone, currency: usual, mayWrite }: Props) => {
  const ready = useReady();
  const [coupons, setCoupons] = useState(first);
  const [showArchived, setShowArchived] = useState(false);
  const archivedCount = coupons.filter(({ archived }) => archived).length;
  const form = useMakeForm({
    keep: "coupon",
    fresh: { ...nothing, currency: usual },
    send: ({ label, kind, percent, amount, currency, codes, code, uses, count, product, partner, from, until, oncePerPerson }) =>
      call(contract.makeCoupon, {
        request: {
          label,
          from,
          until,
          zone,
          oncePerPerson,
          products: product ? [product] : null,
          partner: partner || null,
          off: kind === "percent" ? { kind, percent } : { kind, amount, currency },
          codes: codes === "shared" ? { kind: codes, code, uses: uses.trim() === "" ? null : Number(uses) } : { kind: codes, count: Number(count) },
        },
      }),
    made: (_, { codes, code, count }) =>
      reloadSaying(codes === "shared" ? `The code ${code.trim().toUpperCase()} holds.` : `${counted(Number(count), "code")} made.`),
  });
  const typed = form.values;
  const stop = async (ended: CouponRow[]) => {
    for (const { id } of ended) {
      const answer = await call(contract.stopCoupon, { params: { id } });
      if (!answer.ok) return say(answer.message, true);
      setCoupons((all) => all.map((one) => (one.id === id ? { ...one, stopped: true } : one)));
    }
    say(
      ended.length === 1
        ? "It holds no more. Orders keep what they were given."
        : `${counted(ended.length, "coupon")} hold no more. Orders keep what they were given.`,
    );
  };
  const shown = useMemo(() => coupons.filter(({ archived }) => archived === showArchived), [coupons, showArchived]);
  const columns = useMemo(() => couponColumns(zone), [zone]);
  const actions = (one: CouponRow) => (
    <div className={kit.row}>
      <a className={kit.button} href={`/desk/coupons-${one.id}.csv`}>
        Download codes
      </a>
      {one.stopped ? (
        <span className="muted">ended</span>
      ) : (
        <Button aria-label={`End ${one.code ?? one.label}`} onClick={() => void stop([one])}>
          End it
        </Button>
      )}
      {(one.stopped || one.used === 0) && (
        <ArchiveActions
          of={{ coupon: one.id }}
          name={one.code ?? one.label}
          archived={one.archived}
          archivable={one.stopped}
          deletable={one.used === 0}
          goes={one.codes === 1 ? "Its code goes with it." : `Its ${one.codes.toLocaleString("en")} codes go with it.`}
        />
      )}
    </div>
  );
  const endSeveral = (ticked: CouponRow[]) => {
    const running = ticked.filter(({ stopped }) => !stopped);
    return running.length > 0 && <Button onClick={() => void stop(running)}>{`End ${counted(running.length, "coupon")}`}</Button>;
  };
  return (
    <div inert={!ready} className={styles.desk}>
      <div style={{ minWidth: 0 }}>
        {coupons.length === 0 ? (
          <p>
            No code takes anything off yet. Make the first one at the right; a link to any page of a launch applies it with ?coupon= and the code.
          </p>
        ) : (
          <DataTable
            name="Coupons"
            of={["coupon", "coupons"]}
            rows={shown}
            rowKey={({ id }) => id}
            columns={columns}
            empty={<p>All coupons are archived.</p>}
            {...(mayWrite ? { actions, chosen: endSeveral } : {})}
          />
        )}
        {archivedCount > 0 && (
          <p>
            <Button aria-pressed={showArchived} onClick={() => setShowArchived(!showArchived)}>
              {showArchived ? "Show those that are not archived" : `Show ${counted(archivedCount, "archived coupon")}`}
            </Button>
          </p>
        )}
      </div>
      <Pane title="A new coupon">
        <form onSubmit={(event) => void form.submit(event)} noValidate inert={!mayWrite}>
          <Field label="Label, for the desk" {...form.text("label")} />
          <Select label="Discount" options={discounts} {...form.choice("kind")} />
          {typed.kind === "percent" ? (
            <Field label="Percent" inputMode="decimal" {...form.text("percent", "off.percent")} />
          ) : (
            <>
              <Field label="Amount" inputMode="decimal" {...form.text("amount", "off.amount")} />
              <Select label="Currency" options={currencies.map((value) => ({ value, label: value }))} {...form.choice("currency", "off.currency")} />
            </>
          )}
          <Select label="Codes" options={codeKinds} {...form.choice("codes")} />
          {typed.codes === "shared" ? (
            <>
              <Field label="Code" {...form.text("code", "codes.code")} />
              <Field label="Uses in all" inputMode="numeric" hint="Empty: any number." {...form.text("uses", "codes.uses")} />
            </>
          ) : (
            <Field label="Number of codes" inputMode="numeric" {...form.text("count", "codes.count")} />
          )}
          <Select
            label="Products"
            options={[{ value: "", label: "any product" }, ...products.map(({ id, name }) => ({ value: id, label: name }))]}
            {...form.choice("product", "products")}
          />
          <Select
            label="Credited partner"
            options={[{ value: "", label: "whoever's link brought the buyer" }, ...partners.map(({ id, name }) => ({ value: id, label: name }))]}
            {...form.choice("partner")}
          />
          <DateTimeField label="Valid from" zone={zone} hint={typed.from ? undefined : "Empty: at once."} {...form.choice("from")} />
          <DateTimeField label="Valid until" zone={zone} hint={typed.until ? undefined : "Empty: until it is ended."} {...form.choice("until")} />
          <label className={styles.tick}>
            <input type="checkbox" checked={typed.oncePerPerson} onChange={(event) => form.set("oncePerPerson", event.currentTarget.checked)} />
            <span>Once for each person. Another address, one with a plus in it among them, is another person.</span>
          </label>
          <p style={{ marginTop: 12 }}>
            <Button main type="submit" disabled={form.busy}>
              Make the coupon
            </Button>
          </p>
        </form>
      </Pane>
    </div>
  );
};
