import { parseDate, parseDateTime, parseTime } from "@internationalized/date";
import type { ReactNode } from "react";
import {
  Button,
  Calendar,
  CalendarCell,
  CalendarGrid,
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

const Segments = () => <DateInput className={styles.segments}>{(segment) => <DateSegment segment={segment} className={styles.segment} />}</DateInput>;

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

const PickerBody = ({ label, wrong, hint }: Shared) => (
  <>
    <Label className={kit.label}>{label}</Label>
    <Group className={styles.group}>
      <Segments />
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
export const DateTimeField = ({ label, hint, wrong, value, zone, landmarks = [], autoFocus = false, onChange }: DateTimeProps) =>
  !useReady() ? (
    <Waiting label={label} />
  ) : (
    <DatePicker
      className={kit.field}
      granularity="minute"
      shouldForceLeadingZeros
      hideTimeZone
      autoFocus={autoFocus}
      hourCycle={24}
      isInvalid={wrong !== undefined}
      value={readOr(parseDateTime, value)}
      onChange={(next) => onChange(next ? next.toString().slice(0, 16) : "")}
    >
      <PickerBody label={label} wrong={wrong} hint={[wallTimeWords(value, zone, landmarks), hint].filter(Boolean).join(" ")} />
    </DatePicker>
  );

interface DateProps extends Shared {
  /** `YYYY-MM-DD`; empty for none. */
  value?: string;
  defaultValue?: string | undefined;
  /** Sent with a form under this name. */
  name?: string;
  onChange?: (value: string) => void;
}

/** A day, typed or picked, written as the reader's locale does. */
export const DateField = ({ label, hint, wrong, value, defaultValue, name, onChange }: DateProps) =>
  !useReady() ? (
    <Waiting label={label} />
  ) : (
    <DatePicker
      className={kit.field}
      granularity="day"
      shouldForceLeadingZeros
      isInvalid={wrong !== undefined}
      {...(name === undefined ? {} : { name })}
      {...(value === undefined ? { defaultValue: readOr(parseDate, defaultValue ?? "") } : { value: readOr(parseDate, value) })}
      onChange={(next) => onChange?.(next?.toString() ?? "")}
    >
      <PickerBody label={label} wrong={wrong} hint={hint} />
    </DatePicker>
  );

interface TimeProps extends Shared {
  /** `HH:MM`; empty for none. */
  value: string;
  onChange: (value: string) => void;
}

/** A time of day, written as the reader's locale does. */
export const TimeField = ({ label, hint, wrong, value, onChange }: TimeProps) =>
  !useReady() ? (
    <Waiting label={label} />
  ) : (
    <AriaTimeField
      className={kit.field}
      hourCycle={24}
      granularity="minute"
      shouldForceLeadingZeros
      isInvalid={wrong !== undefined}
      value={readOr(parseTime, value)}
      onChange={(next) => onChange(next ? next.toString().slice(0, 5) : "")}
    >
      <Label className={kit.label}>{label}</Label>
      <Group className={styles.group}>
        <Segments />
      </Group>
      <Below wrong={wrong} hint={hint} />
    </AriaTimeField>
  );
