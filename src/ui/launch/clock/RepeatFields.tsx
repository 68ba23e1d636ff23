import { isZone, nextOpenings, recurrenceRefusal, resolveWallTime, type RuleParts, type Weekday } from "../../../core/launch";
import { shortMoment } from "../../../core/words";
import { Field } from "../../kit/fields/Field";
import { Select } from "../../kit/fields/Select";
import styles from "./Clock.module.css";

const days: [Weekday, string][] = [
  ["MO", "Mon"],
  ["TU", "Tue"],
  ["WE", "Wed"],
  ["TH", "Thu"],
  ["FR", "Fri"],
  ["SA", "Sat"],
  ["SU", "Sun"],
];

interface Props {
  parts: RuleParts;
  wrong?: string;
  onChange: (parts: RuleParts) => void;
}

/** How often doors open, in plain words. */
export const RepeatFields = ({ parts, wrong, onChange }: Props) => (
  <div>
    <div className={styles.three}>
      <Field
        label="Repeat every"
        type="number"
        min={1}
        max={52}
        value={parts.every}
        wrong={wrong}
        onChange={(event) => onChange({ ...parts, every: Number(event.currentTarget.value) })}
      />
      <Select
        label="Unit"
        value={parts.unit}
        options={[
          { value: "week", label: parts.every === 1 ? "week" : "weeks" },
          { value: "month_day", label: "month, same day of the month" },
          { value: "month_weekday", label: "month, same weekday" },
        ]}
        onChange={(picked) => onChange({ ...parts, unit: picked })}
      />
      <Field
        label="Openings at most"
        type="number"
        min={1}
        value={parts.times ?? ""}
        placeholder="without end"
        onChange={(event) => onChange({ ...parts, times: Number(event.currentTarget.value) || null })}
      />
    </div>
    {parts.unit === "week" && (
      <div className={styles.days} role="group" aria-label="On these days">
        {days.map(([day, label]) => (
          <button
            key={day}
            type="button"
            aria-pressed={parts.days.includes(day)}
            onClick={() =>
              onChange({ ...parts, days: parts.days.includes(day) ? parts.days.filter((other) => other !== day) : [...parts.days, day] })
            }
          >
            {label}
          </button>
        ))}
      </div>
    )}
  </div>
);

/** The next openings of a rule, so that nobody has to work them out. */
export const NextOpenings = ({
  first,
  rule,
  zone,
  lengthMinutes,
  now,
}: {
  first: string;
  rule: string;
  zone: string;
  lengthMinutes: number;
  now: number;
}) => {
  const start = isZone(zone) ? resolveWallTime(first, zone) : undefined;
  const recurrence = { first, rule, zone, lengthMinutes };
  if (!start || !("instant" in start) || recurrenceRefusal(recurrence)) return null;
  const from = new Date(Math.max(now, start.instant.getTime()));
  const openings = nextOpenings(recurrence, from, 5);
  return (
    <p className="muted" data-openings>
      {openings.length === 0 ? "It does not open again." : `Opens ${openings.map((at) => shortMoment(at, zone)).join(" · ")}`}
    </p>
  );
};
