// The heads of the plan's days, those on which nobody works shaded.
import type { daysOf } from "./plan.geometry";

export function DayHeads({ days }: { days: ReturnType<typeof daysOf> }) {
  return days.map((each) => (
    <th key={each.iso} scope="col" data-rest={each.rest || undefined}>
      {each.short}
    </th>
  ));
}
