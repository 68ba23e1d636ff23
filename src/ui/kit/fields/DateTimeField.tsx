import { parseDate, parseDateTime, parseTime, type Time } from "@internationalized/date";
import { useCallback, useContext, useEffect, useRef, useState, type ReactNode } from "react";
import {
  Button,
  Calendar,
  CalendarCell,
  CalendarGrid,
  DateFieldStateContext,
  DateInput,
  DatePicker,
  DateSegment,
  Dialog,
  FieldError,
  Group,
  Heading,
  Label,
  Popover,
  Text,
  TimeField as AriaTimeField,
  TimeFieldStateContext,
} from "react-aria-components";
import { wallTimeWords, type Landmark } from "../../../core/launch";
import { useReady } from "../data/useReady";
import kit from "../kit.module.css";
import styles from "./DateTimeField.module.css";

/** What was stored is read, and what is no moment is taken for none: the field then stands empty. */
const readOr = <T,>(read: (text: string) => T, text: string): T | null => {
  try {
    return text === "" ? null : read(text);
  } catch {
    return null;
  }
};

/** The parts of the field: day, month, year, hour, minute. Says whether one of them is empty. */
const Segments = ({ onHalf }: { onHalf: (half: boolean) => void }) => (
  <DateInput className={styles.segments}>
    {(segment) => (
      <>
        <Watch onHalf={onHalf} />
        <DateSegment segment={segment} className={styles.segment} />
      </>
    )}
  </DateInput>
);
const Watch = ({ onHalf }: { onHalf: (half: boolean) => void }) => {
  const [date, time] = [useContext(DateFieldStateContext), useContext(TimeFieldStateContext)];
  const half = (date ?? time)?.segments.some(({ isPlaceholder }) => isPlaceholder) ?? false;
  useEffect(() => onHalf(half), [half, onHalf]);
  return null;
};

/** Before this a year is still being typed: 2, 20, 202. */
const firstYear = 1000;

/**
 * What a field shows, and what it hands on. The component below tells of whole values alone, and of a year at its first digit: a value of which
 * a part was taken out is none here, until it is whole again.
 */
const useWhole = <T extends { toString(): string; year?: number }>(
  value: string,
  read: (text: string) => T,
  length: number,
  onChange: (value: string) => void,
) => {
  const [held, setHeld] = useState<T | null>(null);
  const text = (whole: T) => whole.toString().slice(0, length);
  const parsed = readOr(read, value);
  const isWhole = (next: T) => next.year === undefined || next.year >= firstYear;
  const by = useRef({ half: (_: boolean) => {} });
  by.current.half = (half) => {
    if (half && parsed) {
      setHeld(parsed);
      onChange("");
    } else if (!half && !parsed && held && isWhole(held)) {
      setHeld(null);
      onChange(text(held));
    }
  };
  return {
    shown: parsed ?? held,
    onHalf: useCallback((half: boolean) => by.current.half(half), []),
    onChange: (next: T | null) => {
      const whole = next !== null && isWhole(next);
      setHeld(whole ? null : next);
      onChange(whole ? text(next) : "");
    },
  };
};

/** The leaves of a calendar; the button that it stands on says its name. */
const Leaves = () => (
  <svg width="14" height="14" viewBox="0 0 14 14" fill="none" stroke="currentColor" strokeWidth="1.3" aria-hidden="true">
    <path d="M1 3h12v10H1zM1 6h12M5 6v7M9 6v7M1 9.5h12" />
  </svg>
);

/** Holds the field's place until the screen answers: the server does not know the reader's locale. */
export const Waiting = ({ label }: { label: string }) => (
  <div className={kit.field}>
    <span className={kit.label}>{label}</span>
    <div className={styles.group} aria-hidden="true" />
  </div>
);

const Below = ({ wrong, hint }: { wrong?: string | undefined; hint?: ReactNode }) =>
  wrong ? (
    <FieldError className={kit.wrong}>{wrong}</FieldError>
  ) : hint ? (
    <Text slot="description" className={kit.hint} elementType="p">
      {hint}
    </Text>
  ) : null;

interface Shared {
  label: string;
  hint?: string | undefined;
  wrong?: string | undefined;
}

const PickerBody = ({ label, wrong, hint, onHalf }: Shared & { onHalf: (half: boolean) => void }) => (
  <>
    <Label className={kit.label}>{label}</Label>
    <Group className={styles.group}>
      <Segments onHalf={onHalf} />
      <Button className={styles.open}>
        <Leaves />
      </Button>
    </Group>
    <Below wrong={wrong} hint={hint} />
    <Popover className={styles.popover} placement="bottom start">
      <Dialog className={styles.calendar}>
        <Calendar>
          <header>
            <Button slot="previous">‹</Button>
            <Heading />
            <Button slot="next">›</Button>
          </header>
          <CalendarGrid>{(date) => <CalendarCell date={date} />}</CalendarGrid>
        </Calendar>
      </Dialog>
    </Popover>
  </>
);

interface DateTimeProps extends Shared {
  /** Wall time, `YYYY-MM-DDTHH:MM`; empty for none. */
  value: string;
  /** The IANA zone that it is meant in. */
  zone: string;
  /** Moments that it is measured against, such as the bells of its launch. */
  landmarks?: readonly Landmark[];
  /** What was opened by a press begins here. */
  autoFocus?: boolean;
  onChange: (value: string) => void;
}

/**
 * A date and a time, typed or picked, written as the reader's locale does, meant in one zone. Hours count to 24,
 * as on every other screen. Says beside it the weekday,
 * what DST makes of it, and how far the next landmark is.
 */
export const DateTimeField = ({ label, hint, wrong, value, zone, landmarks = [], autoFocus = false, onChange }: DateTimeProps) => {
  const ready = useReady();
  const whole = useWhole(value, parseDateTime, 16, onChange);
  if (!ready) return <Waiting label={label} />;
  return (
    <DatePicker
      className={kit.field}
      granularity="minute"
      shouldForceLeadingZeros
      hideTimeZone
      hourCycle={24}
      autoFocus={autoFocus}
      isInvalid={wrong !== undefined}
      value={whole.shown}
      onChange={whole.onChange}
    >
      <PickerBody onHalf={whole.onHalf} label={label} wrong={wrong} hint={[wallTimeWords(value, zone, landmarks), hint].filter(Boolean).join(" ")} />
    </DatePicker>
  );
};

interface WholeProps extends Shared {
  /** A day `YYYY-MM-DD`, or a time of day `HH:MM`; empty for none. */
  value: string;
  onChange: (value: string) => void;
}

/** A day, typed or picked, written as the reader's locale does. */
export const DateField = ({ label, hint, wrong, value, onChange }: WholeProps) => {
  const ready = useReady();
  const whole = useWhole(value, parseDate, 10, onChange);
  if (!ready) return <Waiting label={label} />;
  return (
    <DatePicker
      className={kit.field}
      granularity="day"
      shouldForceLeadingZeros
      isInvalid={wrong !== undefined}
      value={whole.shown}
      onChange={whole.onChange}
    >
      <PickerBody onHalf={whole.onHalf} label={label} wrong={wrong} hint={hint} />
    </DatePicker>
  );
};

/** A time of day, written as the reader's locale does. */
export const TimeField = ({ label, hint, wrong, value, onChange }: WholeProps) => {
  const ready = useReady();
  const whole = useWhole<Time>(value, parseTime, 5, onChange);
  if (!ready) return <Waiting label={label} />;
  return (
    <AriaTimeField
      className={kit.field}
      hourCycle={24}
      granularity="minute"
      shouldForceLeadingZeros
      isInvalid={wrong !== undefined}
      value={whole.shown}
      onChange={whole.onChange}
    >
      <Label className={kit.label}>{label}</Label>
      <Group className={styles.group}>
        <Segments onHalf={whole.onHalf} />
      </Group>
      <Below wrong={wrong} hint={hint} />
    </AriaTimeField>
  );
};
