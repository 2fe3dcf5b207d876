// Minutes as people say them.
import { number } from "./format";

/** "43 min", "4 h 44 min". */
export function lasting(minutes: number): string {
  const whole = Math.round(minutes);
  if (whole < 60) return `${number(whole)} min`;
  return `${number(Math.floor(whole / 60))} h${whole % 60 ? ` ${whole % 60} min` : ""}`;
}
