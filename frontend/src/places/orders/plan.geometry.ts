// Where the strips of the plan lie on its days; geometry only.
import { type PlanDocument } from "../../api";

const DAY_MS = 86_400_000;
const MOST_DAYS = 28;

interface DayShown {
  iso: string;
  short: string;
  rest: boolean;
}

const utc = (iso: string) => Date.parse(`${iso}T00:00:00Z`);

/** The days that are shown: from today to the last end or promise, at most four weeks. */
export function daysOf(plan: PlanDocument): DayShown[] {
  const first = utc(plan.from_day);
  const last = Math.max(
    first + 6 * DAY_MS,
    ...plan.orders.flatMap((order) => [utc(order.end_day), utc(order.promised_on) || 0]),
  );
  const rest = new Set(plan.rest_days);
  const count = Math.min(MOST_DAYS, Math.round((last - first) / DAY_MS) + 1);
  return Array.from({ length: count }, (_, n) => {
    const date = new Date(first + n * DAY_MS);
    const weekday = date.getUTCDay();
    return {
      iso: date.toISOString().slice(0, 10),
      short: `${["Su", "Mo", "Tu", "We", "Th", "Fr", "Sa"][weekday] ?? ""} ${date.getUTCDate()}`,
      rest: rest.has(date.toISOString().slice(0, 10)),
    };
  });
}

interface StripShown {
  unit: string;
  kind: string;
  label: string;
  hours: string;
  /** Per cent of the day's width, from its first working hour to its last. */
  from: number;
  wide: number;
}

/** From the earliest hour of the plan's work to the latest: what a day's width stands for. */
function span(plan: PlanDocument): [open: number, close: number] {
  const work = plan.strips.filter((strip) => strip.kind !== "dry");
  const open = Math.min(...work.map((strip) => strip.begin_h), 9);
  return [open, Math.max(...work.map((strip) => strip.end_h), open + 1)];
}

function shown(
  strip: PlanDocument["strips"][number],
  iso: string,
  [open, close]: [number, number],
) {
  const share = (hour: number) =>
    ((Math.min(Math.max(hour, open), close) - open) / (close - open)) * 100;
  const from = strip.begin_day === iso ? share(strip.begin_h) : 0;
  const to = strip.end_day === iso ? share(strip.end_h) : 100;
  const hour = (h: number) => {
    const minutes = Math.round(h * 60);
    return `${Math.floor(minutes / 60)}:${String(minutes % 60).padStart(2, "0")}`;
  };
  return {
    label: strip.label,
    hours: `${strip.begin_day} ${hour(strip.begin_h)} to ${strip.end_day} ${hour(strip.end_h)}`,
    from,
    wide: Math.max(to - from, 2),
  };
}

const on = (strip: PlanDocument["strips"][number], iso: string) =>
  strip.begin_day <= iso && iso <= strip.end_day;

/** The strips of an order on a day. */
export function stripsOf(plan: PlanDocument, order: number, iso: string): StripShown[] {
  const wide = span(plan);
  return plan.strips
    .filter((strip) => strip.order === order && on(strip, iso))
    .map((strip) => ({ unit: strip.unit, kind: strip.kind, ...shown(strip, iso, wide) }));
}

/** The strips of a machine on a day; of hands where it is null. */
export function laneStrips(plan: PlanDocument, machine: string | null, iso: string) {
  const wide = span(plan);
  return plan.strips
    .filter((strip) => on(strip, iso) && strip.kind !== "dry")
    .filter((strip) => (machine === null ? !strip.machine : strip.machine === machine))
    .map((strip) => ({
      key: `${strip.order}-${strip.unit}`,
      order: strip.order,
      number: strip.number,
      ...shown(strip, iso, wide),
    }));
}
