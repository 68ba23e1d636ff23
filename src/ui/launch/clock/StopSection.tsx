import type { StopSetting } from "../../../core/launch";
import { Button } from "../../kit/Button";
import { Select } from "../../kit/fields/Select";
import { changed, freshId, pageName, without, type ClockDraft } from "./clockDraft";
import styles from "./Clock.module.css";

interface Props {
  draft: ClockDraft;
  products: { id: string; name: string }[];
  /** Other launches with a clock for each person: only they can take somebody over. */
  others: { id: string; name: string }[];
}

/** What stops the clock for one person, and which launch takes them over. */
export const StopSection = ({ draft, products, others }: Props) => {
  const { stops } = draft.settings;
  const set = (index: number, next: StopSetting) => draft.set({ stops: changed<StopSetting>(stops, index, next) });
  return (
    <section className={styles.section} aria-labelledby="stops">
      <h2 id="stops">Stopping for one person</h2>
      <p className="muted">
        Whoever has bought, or has come to a chosen page, is not hurried any more: their countdown goes, and emails on their clock stop.
      </p>
      {stops.map((stop, index) => (
        <div key={stop.id} className={styles.item}>
          <div className={styles.three}>
            <Select
              label="Stop when they"
              value={stop.on}
              options={[
                { value: "purchase", label: "buy" },
                { value: "page", label: "come to a page" },
              ]}
              onChange={(picked) =>
                set(
                  index,
                  picked === "purchase"
                    ? { id: stop.id, on: "purchase", product: null, handTo: stop.handTo }
                    : { id: stop.id, on: "page", page: draft.pages[0]!.key, handTo: stop.handTo },
                )
              }
            />
            {stop.on === "purchase" ? (
              <Select
                label="Product"
                value={stop.product ?? ""}
                options={[{ value: "", label: "anything of this launch" }, ...products.map(({ id, name }) => ({ value: id, label: name }))]}
                onChange={(picked) => set(index, { ...stop, product: picked || null })}
              />
            ) : (
              <Select
                label="Page"
                value={stop.page}
                wrong={draft.wrong(`stops.${index}.page`)}
                options={draft.pages.map((page) => ({ value: page.key, label: pageName(page, draft.pages) }))}
                onChange={(picked) => set(index, { ...stop, page: picked })}
              />
            )}
            <Select
              label="Then hand them to"
              value={stop.handTo ?? ""}
              wrong={draft.wrong(`stops.${index}.handTo`)}
              options={[{ value: "", label: "no other launch" }, ...others.map(({ id, name }) => ({ value: id, label: name }))]}
              onChange={(picked) => set(index, { ...stop, handTo: picked || null })}
            />
          </div>
          <button type="button" className={styles.remove} onClick={() => draft.set({ stops: without(stops, index) })}>
            Remove
          </button>
        </div>
      ))}
      <p className={styles.actions}>
        <Button onClick={() => draft.set({ stops: [...stops, { id: freshId(stops, "stop"), on: "purchase", product: null, handTo: null }] })}>
          Add a stop
        </Button>
      </p>
    </section>
  );
};
