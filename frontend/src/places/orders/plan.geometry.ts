// Where the strips of the plan lie on its days; geometry only.
import type { PlanDocument } from "../../api/client";

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
  const count = Math.min(MOST_DAYS, Math.round((last - first) / DAY_MS) + 1);
  return Array.from({ length: count }, (_, n) => {
    const date = new Date(first + n * DAY_MS);
    const weekday = date.getUTCDay();
    return {
      iso: date.toISOString().slice(0, 10),
      short: `${["Su", "Mo", "Tu", "We", "Th", "Fr", "Sa"][weekday] ?? ""} ${date.getUTCDate()}`,
      rest: weekday === 0 || weekday === 6,
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

/** The strips of an order on a day, from the earliest hour of the plan to the latest. */
export function stripsOf(plan: PlanDocument, order: number, iso: string): StripShown[] {
  const work = plan.strips.filter((strip) => strip.kind !== "dry");
  const open = Math.min(...work.map((strip) => strip.begin_h), 9);
  const close = Math.max(...work.map((strip) => strip.end_h), open + 1);
  const share = (hour: number) =>
    ((Math.min(Math.max(hour, open), close) - open) / (close - open)) * 100;
  return plan.strips
    .filter((strip) => strip.order === order && strip.begin_day <= iso && iso <= strip.end_day)
    .map((strip) => {
      const from = strip.begin_day === iso ? share(strip.begin_h) : 0;
      const to = strip.end_day === iso ? share(strip.end_h) : 100;
      const hour = (h: number) =>
        `${Math.floor(h)}:${String(Math.round((h % 1) * 60)).padStart(2, "0")}`;
      return {
        unit: strip.unit,
        kind: strip.kind,
        label: strip.label,
        hours: `${strip.begin_day} ${hour(strip.begin_h)} to ${strip.end_day} ${hour(strip.end_h)}`,
        from,
        wide: Math.max(to - from, 2),
      };
    });
}
