import * as contract from "../../contract/products";
import { useState, type FormEvent } from "react";
import { shortMoment, counted } from "../../core/words";
import { currencies } from "../../core/money";
import { formatMoney } from "../kit/data/numbers";
import type { CouponRow } from "../../core/offers";
import { Button } from "../kit/Button";
import { DateTimeField } from "../kit/fields/DateTimeField";
import { Field } from "../kit/fields/Field";
import { ArchiveActions } from "../kit/ArchiveActions";
import { Pane } from "../kit/Pane";
import { Select } from "../kit/fields/Select";
import { call } from "../kit/data/call";
import { Table } from "../kit/Table";
import { useReady } from "../kit/data/useReady";
import { reloadSaying, useToast } from "../kit/Toast";
import kit from "../kit/kit.module.css";
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

/** Codes that take something off an order, and what came of them. */
export const CouponDesk = ({ coupons: first, products, partners, zone, currency: usual, mayWrite }: Props) => {
  const { say, toast } = useToast();
  const ready = useReady();
  const [coupons, setCoupons] = useState(first);
  const [typed, setTyped] = useState({ ...nothing, currency: usual });
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const [showArchived, setShowArchived] = useState(false);
  const archivedCount = coupons.filter(({ archived }) => archived).length;
  const set = (change: Partial<typeof typed>) => setTyped((now) => ({ ...now, ...change }));
  const make = async (event: FormEvent) => {
    event.preventDefault();
    const { label, kind, percent, amount, currency, codes, code, uses, count, product, partner, from, until, oncePerPerson } = typed;
    const answer = await call(contract.makeCoupon, {
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
    });
    if (answer.ok)
      return reloadSaying(codes === "shared" ? `The code ${code.trim().toUpperCase()} holds.` : `${counted(Number(count), "code")} made.`);
    if (Object.keys(answer.fields).length === 0) say(answer.message, true);
    setWrong(answer.fields);
  };
  const stop = async (id: string) => {
    const answer = await call(contract.stopCoupon, { params: { id } });
    if (!answer.ok) return say(answer.message, true);
    setCoupons((all) => all.map((one) => (one.id === id ? { ...one, stopped: true } : one)));
    say("It holds no more. Orders keep what they were given.");
  };
  const when = ({ from, until }: CouponRow) =>
    [from && `from ${shortMoment(new Date(from), zone)}`, until && `until ${shortMoment(new Date(until), zone)}`].filter(Boolean).join(", ");
  const text = (field: "label" | "percent" | "amount" | "code" | "uses" | "count", label: string, at: string = field, hint?: string) => (
    <Field label={label} hint={hint} value={typed[field]} wrong={wrong[at]} onChange={(event) => set({ [field]: event.currentTarget.value })} />
  );
  return (
    <div inert={!ready} className={styles.desk}>
      <div style={{ minWidth: 0 }}>
        {coupons.length === 0 ? (
          <p>
            No code takes anything off yet. Make the first one at the right; a link to any page of a launch applies it with ?coupon= and the code.
          </p>
        ) : (
          <Table
            name="Coupons"
            rows={coupons.filter(({ archived }) => archived === showArchived)}
            rowKey={({ id }) => id}
            columns={[
              {
                title: "Coupon",
                cell: (one) => (
                  <>
                    <b>{one.code ?? `${one.codes.toLocaleString("en")} single codes`}</b>
                    <br />
                    <span className="muted">{[one.label, `made ${shortMoment(new Date(one.made), zone)}`].filter(Boolean).join(", ")}</span>
                  </>
                ),
              },
              {
                title: "Takes",
                cell: (one) => (
                  <>
                    {one.off}
                    <br />
                    <span className="muted">
                      {[
                        one.products?.join(", ") ?? "any product",
                        one.partner && `credits ${one.partner}`,
                        one.oncePerPerson && one.code && "once a person",
                        when(one),
                      ]
                        .filter(Boolean)
                        .join("; ")}
                    </span>
                  </>
                ),
              },
              {
                title: "Used",
                figure: true,
                cell: (one) => `${one.used.toLocaleString("en")}${one.code ? (one.uses ? ` of ${one.uses}` : "") : ` of ${one.codes}`}`,
              },
              {
                title: "Discount given",
                figure: true,
                cell: ({ discount }) =>
                  Object.entries(discount)
                    .map(([currency, minor]) => formatMoney(minor, currency))
                    .join(", ") || "–",
              },
              {
                title: "",
                cell: (one) =>
                  mayWrite && (
                    <div className={kit.row}>
                      <a className={kit.button} href={`/desk/coupons-${one.id}.csv`}>
                        Codes as a file
                      </a>
                      {!one.stopped && (
                        <Button aria-label={`End ${one.code ?? one.label}`} onClick={() => void stop(one.id)}>
                          End it
                        </Button>
                      )}
                      {one.stopped && <span className="muted">ended</span>}
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
                  ),
              },
            ]}
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
        <form onSubmit={(event) => void make(event)} noValidate inert={!mayWrite}>
          {text("label", "For what, for the desk alone")}
          <Select
            label="Discount"
            value={typed.kind}
            options={[
              { value: "percent", label: "a share" },
              { value: "amount", label: "an amount" },
            ]}
            onChange={(picked) => set({ kind: picked === "percent" ? "percent" : "amount" })}
          />
          {typed.kind === "percent" ? (
            text("percent", "Percent", "off.percent")
          ) : (
            <>
              {text("amount", "Amount", "off.amount")}
              <Select
                label="Currency"
                value={typed.currency}
                options={currencies.map((value) => ({ value, label: value }))}
                onChange={(picked) => set({ currency: picked })}
              />
            </>
          )}
          <Select
            label="Codes"
            value={typed.codes}
            options={[
              { value: "shared", label: "one, which many may use" },
              { value: "single", label: "many, which hold once each" },
            ]}
            onChange={(picked) => set({ codes: picked === "shared" ? "shared" : "single" })}
          />
          {typed.codes === "shared" ? (
            <>
              {text("code", "The code", "codes.code")}
              {text("uses", "Uses in all", "codes.uses", "Empty: any number.")}
            </>
          ) : (
            text("count", "How many codes", "codes.count")
          )}
          <Select
            label="Products"
            value={typed.product}
            options={[{ value: "", label: "any product" }, ...products.map(({ id, name }) => ({ value: id, label: name }))]}
            onChange={(picked) => set({ product: picked })}
          />
          <Select
            label="Credited partner"
            value={typed.partner}
            wrong={wrong["partner"]}
            options={[{ value: "", label: "whoever's link brought the buyer" }, ...partners.map(({ id, name }) => ({ value: id, label: name }))]}
            onChange={(picked) => set({ partner: picked })}
          />
          <DateTimeField label="Valid from" value={typed.from} zone={zone} wrong={wrong["from"]} onChange={(from) => set({ from })} />
          <DateTimeField label="Valid until" value={typed.until} zone={zone} wrong={wrong["until"]} onChange={(until) => set({ until })} />
          <label className={styles.tick}>
            <input type="checkbox" checked={typed.oncePerPerson} onChange={(event) => set({ oncePerPerson: event.currentTarget.checked })} />
            <span>Once for each person. Another address, one with a plus in it among them, is another person.</span>
          </label>
          <p style={{ marginTop: 12 }}>
            <Button main type="submit">
              Make the coupon
            </Button>
          </p>
        </form>
      </Pane>
      {toast}
    </div>
  );
};
