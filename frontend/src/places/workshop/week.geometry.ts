// Hours of a day as spans of minutes, read and written; where they lie on the drawn day.
export type Span = [from: number, to: number];

export const OPENS = 5 * 60;
export const CLOSES = 23 * 60;
export const STEP = 15;

/** Read "9-12:30, 13-15:30"; null where it is none. */
export function readHours(text: string): Span[] | null {
  if (text.trim() === "-" || text.trim() === "") return [];
  const spans: Span[] = [];
  for (const part of text.split(",")) {
    const found = /^\s*(\d{1,2})(?::(\d{2}))?\s*[-–]\s*(\d{1,2})(?::(\d{2}))?\s*$/.exec(part);
    if (!found) return null;
    const [from, to] = [
      Number(found[1]) * 60 + Number(found[2] ?? 0),
      Number(found[3]) * 60 + Number(found[4] ?? 0),
    ];
    if (from >= to || to > 24 * 60) return null;
    spans.push([from, to]);
  }
  return spans.sort((a, b) => a[0] - b[0]);
}

const clock = (minutes: number) =>
  minutes % 60
    ? `${Math.floor(minutes / 60)}:${String(minutes % 60).padStart(2, "0")}`
    : String(minutes / 60);

export const writeHours = (spans: Span[]): string =>
  spans.map(([from, to]) => `${clock(from)}-${clock(to)}`).join(", ") || "-";

/** Join spans that touch or overlap; those of no length go. */
export function joined(spans: Span[]): Span[] {
  const found: Span[] = [];
  for (const [from, to] of [...spans].sort((a, b) => a[0] - b[0])) {
    const last = found[found.length - 1];
    if (to - from < STEP) continue;
    if (last && from <= last[1]) last[1] = Math.max(last[1], to);
    else found.push([from, to]);
  }
  return found;
}

/** Take a stretch out of spans. */
export const without = (spans: Span[], [from, to]: Span): Span[] =>
  joined(
    spans.flatMap(([a, b]): Span[] => [
      [a, Math.min(b, from)],
      [Math.max(a, to), b],
    ]),
  );

/** What a drag from one minute to another makes: drawn where none is, rubbed out where one is. */
export function drawn(spans: Span[], from: number, to: number): Span[] {
  const stretch: Span = [Math.min(from, to), Math.max(from, to)];
  const begunOn = spans.some(([a, b]) => from > a && from < b);
  return begunOn ? without(spans, stretch) : joined([...spans, stretch]);
}

export const share = (minute: number): number =>
  ((Math.min(Math.max(minute, OPENS), CLOSES) - OPENS) / (CLOSES - OPENS)) * 100;

export const minuteAt = (part: number): number =>
  Math.round((OPENS + Math.min(Math.max(part, 0), 1) * (CLOSES - OPENS)) / STEP) * STEP;

export const hoursOf = (spans: Span[]): number =>
  spans.reduce((sum, [from, to]) => sum + to - from, 0) / 60;
