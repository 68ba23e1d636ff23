import { countdownFigure } from "../../core/launch";

/** The time left until an instant, by the server's time; both in milliseconds. Never below zero. */
export const Countdown = ({ until, now }: { until: number; now: number }) => <b role="timer">{countdownFigure(until - now)}</b>;
