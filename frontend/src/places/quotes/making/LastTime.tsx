// What was done last time for something alike: how, what came of it; one press takes its methods.
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { get, keys, type House } from "../../../api";
import {
  useDraft,
  useHead,
  useHouse,
  useLinePrice,
  useOpenPlace,
  type DraftMethods,
} from "../../../draft";
import { capital, counted, day, listed, number } from "../../../parts/format";
import { useTell } from "../../../parts/toasts";
import { useFaults } from "../../../parts/useFaults";
import style from "./MakingPanel.module.scss";

const SAME: Record<string, string> = {
  design: "the same design",
  goods: "the same goods",
  place: "the same place",
  customer: "the same customer",
};

interface Props {
  /** Methods that the making can be told. */
  keys: (keyof DraftMethods)[];
  typed: (key: keyof DraftMethods, value: string) => unknown;
}

/** Whether the shop has it no longer: then what is proposed stays. */
function gone(house: House, key: string, value: string): boolean {
  const tables: Record<string, Record<string, unknown>> = {
    backing: { ...house.backings, none: 1 },
    second_backing: { ...house.backings, none: 1 },
    topping: { ...house.toppings, none: 1 },
    hoop: house.hoops,
    needle: house.needles,
    thread: house.threads,
    machine: house.machines,
  };
  const table = tables[key];
  return table !== undefined && !(value in table);
}

export function LastTime({ keys: offered, typed }: Props) {
  const house = useHouse();
  const tell = useTell();
  const { line: asked } = useDraft();
  const { customer } = useHead();
  const { placeAt, actions } = useOpenPlace();
  const { line } = useLinePrice();
  const { word } = useFaults();
  const wanted = {
    customer,
    design: line.designs[placeAt]?.name ?? "",
    goods: asked.goods.class ?? "",
    place: line.places?.[placeAt]?.position ?? "",
  };
  const found = useQuery({
    queryKey: keys.lastTime(...Object.values(wanted)),
    queryFn: () => get("/last-time", { query: wanted }),
  });
  const row = found.data?.[0];
  if (!row) return null;
  const { row: was, alike } = row;
  const minutes = ["needle_s", "loading_s", "hooping_s", "finishing_s"] as const;
  const taken = minutes.reduce((sum, name) => sum + (was.actual[name] ?? 0), 0);
  const take = () => {
    actions.placement("methods", (place) => {
      const methods: Record<string, unknown> = { ...place.methods };
      for (const key of offered) {
        const value = was.methods[key];
        if (value === undefined || gone(house, key, value)) continue;
        methods[key] = key.endsWith("layers") ? Number(value) : typed(key, value);
      }
      place.methods = methods as DraftMethods;
    });
    tell("Made as last time; undo takes it back.");
  };
  const reasons = Object.keys(was.reasons).map(word);
  return (
    <section className={style["last-time"]} aria-label="Last time">
      <h3 className="small-caps-head">Last time</h3>
      <p>
        {day(was.finished_on)}
        {was.customer && ` for ${was.customer}`}, {listed(alike.map((key) => SAME[key] ?? key))}:{" "}
        {was.method || "no method noted"}.{" "}
        <b>
          {counted(was.sewn - was.spoiled, "good piece")}
          {was.spoiled > 0 && `, ${was.spoiled} spoiled`}
          {reasons.length > 0 && ` (${listed(reasons)})`}
        </b>
        {taken > 0 && `; ${number(taken / 60 / was.sewn, 1)} min a piece`}.{" "}
        {row.said[0] && `${capital(row.said[0])}. `}
        {was.note && <i>{was.note}</i>}
      </p>
      {was.photo && (
        <img src={`/api/v1/photos/${was.photo}.jpg`} alt="From last time" className="mw-100" />
      )}
      <p className="d-flex gap-3 flex-wrap mb-0">
        {Object.keys(was.methods).length > 0 && (
          <button type="button" className="btn btn-outline-primary btn-sm" onClick={take}>
            Make it as last time
          </button>
        )}
        <Link to={`/log/${row.row_id}`}>Its row in the log</Link>
      </p>
    </section>
  );
}
