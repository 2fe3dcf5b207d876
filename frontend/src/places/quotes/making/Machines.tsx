// The order on each machine: what it costs, how long it takes, which is cheapest and soonest.
import { useOpenPlace, useLinePrice } from "../../../draft";
import { money } from "../../../parts/format";
import style from "./Machines.module.scss";

function hours(minutes: number): string {
  const whole = Math.round(minutes);
  const h = Math.floor(whole / 60);
  return h > 0 ? `${h} h ${whole - h * 60} min` : `${whole} min`;
}

export function Machines() {
  const { actions } = useOpenPlace();
  const { estimate } = useLinePrice();
  if (estimate.machines.length < 2) return null;
  const take = (machine: string) =>
    actions.job("machine", (job) => {
      for (const { placements } of job.lines)
        for (const placement of placements) {
          const { hoop: _, ...methods } = placement.methods ?? {};
          placement.methods = { ...methods, machine };
        }
    });
  return (
    <section className="machines" aria-label="The order on each machine">
      <div className="sub-head">
        <h3>The whole order on each machine</h3>
      </div>
      {estimate.machines.map((machine) => (
        <div key={machine.id} className="school">
          <span>
            <strong>{machine.label}</strong>
            {machine.cheapest && <span className={style["tag-plain"]}>cheapest</span>}
            {machine.soonest && <span className={style["tag-plain"]}>soonest</span>}
            <span className="d-block hint">
              costs {money(machine.cost, estimate.currency)}, done in {hours(machine.elapsed_min)},
              machine {hours(machine.machine_min)}
              {!machine.fits && "; a design fits none of its hoops"}
            </span>
          </span>
          {machine.chosen ? (
            <span className="hint">chosen</span>
          ) : (
            <button
              type="button"
              className="btn btn-sm btn-outline-primary"
              onClick={() => take(machine.id)}
            >
              Use it
            </button>
          )}
        </div>
      ))}
    </section>
  );
}
