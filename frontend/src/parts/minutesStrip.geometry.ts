// One piece's minutes: seconds to places on a strip 100 wide. Pure.
import { type Minute } from "../api";

export interface Stretch {
  key: string;
  kind: Minute["kind"];
  label: string;
  seconds: number;
  from: number;
  width: number;
  attendWidth: number;
}

const GAP = 0.25;

/** Lays stretches side by side, a hairline apart; who stands by never reaches beyond its own. */
export function layMinutes(minutes: Minute[]) {
  const whole = minutes.reduce((sum, m) => sum + m.seconds, 0);
  const attend = minutes.reduce((sum, m) => sum + m.attend_s, 0);
  let at = 0;
  const stretches: Stretch[] = minutes.map((m, n) => {
    const width = whole > 0 ? (m.seconds / whole) * 100 : 0;
    const from = at;
    at += width;
    return {
      key: `${n} ${m.label}`,
      kind: m.kind,
      label: m.label,
      seconds: m.seconds,
      from,
      width: Math.max(width - GAP, 0.1),
      attendWidth: m.seconds > 0 ? Math.min(m.attend_s / m.seconds, 1) * width : 0,
    };
  });
  return { stretches, whole, attend };
}
