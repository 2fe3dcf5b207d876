// The work of an order in its order: what is waited for, prepared, sewn, finished, packed.
import type { OrderView } from "../../api/client";
import { day, number } from "../../parts/format";
import style from "./Orders.module.scss";

/** Minutes as people say them: "43 min", "4 h 44 min". */
function lasting(minutes: number): string {
  const whole = Math.round(minutes);
  if (whole < 60) return `${number(whole)} min`;
  return `${Math.floor(whole / 60)} h${whole % 60 ? ` ${whole % 60} min` : ""}`;
}

export function Units({ order }: { order: OrderView }) {
  if (order.units.length === 0) return null;
  return (
    <section aria-label="The work">
      <h2 className="small-caps-head">The work, in its order</h2>
      <ol className={style["od-units"]}>
        {order.units.map((unit) => (
          <li key={unit.id} data-kind={unit.kind}>
            <span>{unit.label}</span>
            <span>
              {unit.elapsed_min > 0
                ? lasting(unit.elapsed_min)
                : unit.until
                  ? `by ${day(unit.until)}`
                  : ""}
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}
