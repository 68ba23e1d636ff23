import { wallTimeOf, type FeaturedSetting } from "../../../core/launch";
import { Button } from "../../kit/Button";
import { DateTimeField } from "../../kit/fields/DateTimeField";
import { Field } from "../../kit/fields/Field";
import { changed, freshId, without, type ClockDraft } from "./clockDraft";
import styles from "./Clock.module.css";

/** Days on which partners earn more. */
export const FeaturedSection = ({ draft }: { draft: ClockDraft }) => {
  const { featured, clock } = draft.settings;
  const set = (index: number, change: Partial<FeaturedSetting>) => draft.set({ featured: changed(featured, index, change) });
  const start = clock.kind === "fixed" ? clock.opens : wallTimeOf(new Date(draft.now), draft.zone);
  return (
    <section className={styles.section} aria-labelledby="featured">
      <h2 id="featured">Featured days for partners</h2>
      <p className="muted">
        Meanwhile every partner earns at least this share of a sale; whose own rate is higher keeps it. It goes by the moment of the order, and
        partners see it in their portal.
      </p>
      {featured.map((day, index) => (
        <div key={day.id} className={`${styles.item} ${styles.three}`}>
          <DateTimeField
            label="From"
            value={day.from}
            zone={draft.zone}
            landmarks={draft.landmarks}
            wrong={draft.wrong(`featured.${index}.from`)}
            onChange={(from) => set(index, { from })}
          />
          <DateTimeField
            label="Until"
            value={day.to}
            zone={draft.zone}
            landmarks={draft.landmarks}
            wrong={draft.wrong(`featured.${index}.to`)}
            onChange={(to) => set(index, { to })}
          />
          <Field
            label="Commission, %"
            type="number"
            min={1}
            max={100}
            value={day.rateBp / 100}
            wrong={draft.wrong(`featured.${index}.rateBp`)}
            onChange={(event) => set(index, { rateBp: Math.round(event.currentTarget.valueAsNumber * 100) })}
          />
          <button type="button" className={styles.remove} onClick={() => draft.set({ featured: without(featured, index) })}>
            Remove this day
          </button>
        </div>
      ))}
      <p className={styles.actions}>
        <Button onClick={() => draft.set({ featured: [...featured, { id: freshId(featured, "featured"), from: start, to: start, rateBp: 5_000 }] })}>
          Add a featured day
        </Button>
      </p>
    </section>
  );
};
