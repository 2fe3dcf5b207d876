// Where a run's stretches lie on its lanes, and its clock; geometry only.
interface Stretch {
  start_s: number;
  end_s: number;
  cause: string;
}

const HIGH = 26;

/** All stretches of a cause as one path: boxes of a lane so wide. */
export function lanePath(all: Stretch[], cause: string, elapsed: number, width: number): string {
  if (elapsed <= 0) return "";
  return all
    .filter((each) => each.cause === cause)
    .map(({ start_s, end_s }) => {
      const x = (start_s / elapsed) * width;
      const wide = Math.max(((end_s - start_s) / elapsed) * width, 0.4);
      return `M${x.toFixed(2)} 0h${wide.toFixed(2)}v${HIGH}h-${wide.toFixed(2)}z`;
    })
    .join("");
}

const STEPS = [60, 300, 600, 900, 1800, 3600, 7200, 14400, 28800, 86400];

/** The moments that the clock names: at most eight. */
export function ticks(elapsed: number): number[] {
  const step = STEPS.find((each) => elapsed / each <= 8) ?? 86400 * Math.ceil(elapsed / 691200);
  return Array.from({ length: Math.floor(elapsed / step) + 1 }, (_, n) => n * step);
}

/** A moment of the run: "2:05" hours and minutes. */
export function clockAt(seconds: number): string {
  const minutes = Math.round(seconds / 60);
  return `${Math.floor(minutes / 60)}:${String(minutes % 60).padStart(2, "0")}`;
}
