// How each place of an order goes in and is held, and what is done after sewing; folded until asked.
import { useQuery } from "@tanstack/react-query";
import { get, keys } from "../../api";
import { GoesIn } from "../../parts/GoesIn";
import { AfterSewing } from "./AfterSewing";
import style from "./Orders.module.scss";

export function HowHeld({ id }: { id: number }) {
  const found = useQuery({
    queryKey: keys.runSheet(id),
    queryFn: () => get("/orders/{order_id}/run-sheet", { path: { order_id: id } }),
  });
  const passes = (found.data?.passes ?? []).filter((each) => !each.sample);
  if (passes.length === 0) return null;
  return (
    <section aria-label="How it is held" className={style["od-held-so"]}>
      <h2 className="small-caps-head">How it is held</h2>
      {passes.map((each) => (
        <details key={`${each.id}.${each.line}.${each.placement}`}>
          <summary>
            {each.place}
            <span className="hint"> {each.hoop}</span>
          </summary>
          {each.way_in && <GoesIn way={each.way_in} />}
          <p>{(each.held ?? []).join(" ")}</p>
          <AfterSewing steps={each.after ?? []} />
        </details>
      ))}
    </section>
  );
}
