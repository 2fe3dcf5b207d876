// What the seller holds to of an order: first of all, on a day, before another, on a machine.
import { useId } from "react";
import { type PlanDocument, type PlanOrder, type PlanPin } from "../../api";
import style from "./Plan.module.scss";

interface Props {
  plan: PlanDocument;
  order: PlanOrder;
  onPin: (to: PlanPin) => void;
}

export function PlanPins({ plan, order, onPin }: Props) {
  const id = useId();
  const { pin } = order;
  const set = (change: Partial<PlanPin>) => onPin({ ...pin, ...change });
  return (
    <div className={style["pl-pins"]} role="group" aria-label={`Where ${order.number} is held`}>
      <div className="form-check">
        <input
          id={`${id}-f`}
          type="checkbox"
          className="form-check-input"
          checked={pin.first}
          onChange={(e) => set({ first: e.target.checked })}
        />
        <label htmlFor={`${id}-f`} className="form-check-label">
          before all others
        </label>
      </div>
      <label htmlFor={`${id}-d`}>begins on</label>
      <input
        id={`${id}-d`}
        type="date"
        className="form-control"
        min={plan.from_day}
        value={pin.day}
        onChange={(e) => set({ day: e.target.value })}
      />
      <label htmlFor={`${id}-b`}>before</label>
      <select
        id={`${id}-b`}
        className="form-select"
        value={pin.before}
        onChange={(e) => set({ before: Number(e.target.value) })}
      >
        <option value={0}>none</option>
        {plan.orders
          .filter((each) => each.id !== order.id)
          .map((each) => (
            <option key={each.id} value={each.id}>
              {each.number}
            </option>
          ))}
      </select>
      <label htmlFor={`${id}-m`}>on</label>
      <select
        id={`${id}-m`}
        className="form-select"
        value={pin.machine}
        onChange={(e) => set({ machine: e.target.value })}
      >
        <option value="">as quoted</option>
        {plan.machines.map((machine) => (
          <option key={machine.id} value={machine.id}>
            {machine.label}
          </option>
        ))}
      </select>
      <button
        type="button"
        className="btn btn-plain"
        onClick={() => onPin({ first: false, day: "", machine: "", before: 0 })}
      >
        Let it go
      </button>
    </div>
  );
}
