// The work of an order in its order: what is waited for, prepared, sewn, finished, packed.
import { type OrderView } from "../../api";
import { day } from "../../parts/format";
import { lasting } from "../../parts/lasting";
import style from "./Orders.module.scss";

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
