// The plan machine by machine, and what hands do: orders as strips of their cloth.
import { type PlanDocument } from "../../api";
import { day } from "../../parts/format";
import { DayHeads } from "./DayHeads";
import { daysOf, laneStrips } from "./plan.geometry";
import style from "./Plan.module.scss";

export function PlanLanes({ plan }: { plan: PlanDocument }) {
  const days = daysOf(plan);
  const used = plan.machines.filter(
    (machine) => machine.out.length > 0 || plan.strips.some((s) => s.machine === machine.id),
  );
  const lanes = [
    ...used.map((machine) => ({ ...machine, hands: false })),
    { id: "", label: "Hands", out: [] as string[], hands: true },
  ];
  const cloth = new Map(plan.orders.map((order) => [order.id, order.cloth]));
  const late = new Set(plan.orders.filter((o) => o.late_days > 0).map((o) => o.id));
  return (
    <div className={style["pl-scrolls"]} tabIndex={0} role="group" aria-label="The coming days">
      <table className={style["pl-table"]}>
        <thead>
          <tr>
            <th scope="col">Who</th>
            <DayHeads days={days} />
          </tr>
        </thead>
        <tbody>
          {lanes.map((lane) => (
            <tr key={lane.id}>
              <th scope="row">
                {lane.label}
                {lane.out.length > 0 && (
                  <span className="hint d-block">
                    out of service {day(lane.out[0] ?? "")}
                    {lane.out.length > 1 && ` and ${lane.out.length - 1} more days`}
                  </span>
                )}
              </th>
              {days.map((each) => (
                <td
                  key={each.iso}
                  className={`${style["pl-day"]} ${style["pl-lane"]}`}
                  data-rest={each.rest || lane.out.includes(each.iso) || undefined}
                >
                  {laneStrips(plan, lane.hands ? null : lane.id, each.iso).map((strip) => (
                    <span
                      key={strip.key}
                      className={style["pl-cloth"]}
                      data-late={late.has(strip.order) || undefined}
                      style={{
                        left: `${strip.from}%`,
                        width: `${strip.wide}%`,
                        background: cloth.get(strip.order) || undefined,
                      }}
                      title={`${strip.number}: ${strip.label}, ${strip.hours}`}
                    >
                      {strip.wide > 45 && <b>{strip.number.replace(/^Q-0*/, "")}</b>}
                    </span>
                  ))}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <ul className="visually-hidden">
        {plan.strips.map((strip) => (
          <li key={`${strip.order}-${strip.unit}`}>
            {strip.number}, {strip.label}: {day(strip.begin_day)} to {day(strip.end_day)}
            {strip.stay > 1 && `, ${strip.stay} threads stay`}
          </li>
        ))}
      </ul>
    </div>
  );
}
