import { area, curveMonotoneX, line, max, scaleLinear } from "d3";
import { hour, laneLeft as left, timeScale } from "./timeAxis";
import { clockTime, counted, shortMoment } from "../../../core/words";
import { ValueMark } from "../../kit/charts/axes";

export interface Hour {
  hour: string;
  visits: number;
  orders: number;
}

interface Filled {
  at: Date;
  visits: number;
  orders: number;
}

/** The hour that holds an instant, in words; undefined where nothing was counted yet. */
export const hourWords = (curve: Hour[], ms: number, zone: string): string | undefined => {
  const start = Math.floor(ms / hour) * hour;
  const found = curve.find((one) => new Date(one.hour).getTime() === start);
  return found && `${clockTime(new Date(start), zone)}: ${counted(found.visits, "visit")}, ${counted(found.orders, "order")}`;
};

/** The rows of the table behind the curve: hours in which somebody came or bought, the newest first. */
export const hourRows = (curve: Hour[], zone: string): (string | number)[][] =>
  curve
    .filter(({ visits, orders }) => visits > 0 || orders > 0)
    .map(({ hour: at, visits, orders }) => [shortMoment(new Date(at), zone), visits.toLocaleString("en"), orders.toLocaleString("en")])
    .reverse();

/** Every hour from the first to `upTo`, with zeros where nothing happened: a curve must not bridge the night. */
const fillHours = (hours: Filled[], from: Date, upTo: Date): Filled[] => {
  const byHour = new Map(hours.map((h) => [h.at.getTime(), h]));
  const filled: Filled[] = [];
  for (let ms = Math.floor(from.getTime() / hour) * hour; ms <= upTo.getTime(); ms += hour)
    filled.push(byHour.get(ms) ?? { at: new Date(ms), visits: 0, orders: 0 });
  return filled;
};

interface CurveProps {
  curve: Hour[];
  from: Date;
  to: Date;
  now: number;
  width: number;
  top: number;
  bottom: number;
}

/** Arrivals and orders, hour by hour, up to now. */
export const ArrivalCurve = ({ curve, from, to, now, width, top, bottom }: CurveProps) => {
  const x = timeScale(from, to, width);
  const hours = curve.map(({ hour: at, ...n }) => ({ at: new Date(at), ...n }));
  const filled = fillHours(hours, from, new Date(Math.min(now, to.getTime())));
  const high = top + 38;
  const most = max(filled, (h) => h.visits) ?? 0;
  const y = scaleLinear([0, most || 1], [bottom, high]);
  const yOrders = scaleLinear([0, (max(filled, (h) => h.orders) || 1) * 2.6], [bottom, high]);
  const under = (value: (h: Filled) => number) =>
    area<Filled>()
      .x((h) => x(h.at))
      .y0(bottom)
      .y1(value)
      .curve(curveMonotoneX)(filled) ?? "";
  const visitLine = line<Filled>()
    .x((h) => x(h.at))
    .y((h) => y(h.visits))
    .curve(curveMonotoneX);
  return (
    <g>
      <clipPath id="curve-room">
        <rect x={left} y={top} width={width - left - 8} height={bottom - top} />
      </clipPath>
      <g clipPath="url(#curve-room)">
        <path d={under((h) => y(h.visits))} fill="var(--woad-tint)" />
        <path d={visitLine(filled) ?? ""} fill="none" stroke="var(--woad)" strokeWidth="1.3" />
        <path d={under((h) => yOrders(h.orders))} fill="var(--verdigris)" />
      </g>
      {most > 0 && <ValueMark x={left} y={high} text={`${most} an hour`} />}
    </g>
  );
};
