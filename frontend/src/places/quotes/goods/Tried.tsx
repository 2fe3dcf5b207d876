// What trials said of blanks of these goods, the best first; a press takes one, with its minutes
// and what was spoiled of it.
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { get, keys, type Trial } from "../../../api";
import { useDraft, useHouse } from "../../../draft";
import { money, number } from "../../../parts/format";
import { goOnAt } from "../../../parts/goOnAt";
import { costsHidden } from "../../../parts/money";
import { useTell } from "../../../parts/toasts";
import { BLANK, takeGoods } from "./goods";
import style from "./Tried.module.scss";

const MOST = 3;

export function Tried() {
  const house = useHouse();
  const tell = useTell();
  const { line, actions } = useDraft();
  const trials = useQuery({
    queryKey: keys.trials(),
    queryFn: () => get("/trials"),
    enabled: !costsHidden,
  });
  const own = line.goods.supplied_by === "customer";
  const here = (trials.data ?? []).filter((row) => row.goods === line.goods.class);
  if (costsHidden || own || here.length === 0) return null;
  const taken = (row: Trial) =>
    line.goods.spoil === row.spoil &&
    (row.of ? line.goods.blank === row.of : line.goods.unit_cost === row.price);
  const take = (row: Trial) => {
    actions.line("goods.class", (found) => {
      if (row.of && house.blanks[row.of]) takeGoods(found, BLANK + row.of, house);
      else {
        takeGoods(found, row.goods, house);
        found.goods.unit_cost = row.price;
      }
      found.goods.spoil = row.spoil;
      if (row.minutes) found.goods.minutes = row.minutes;
    });
    goOnAt("[data-begin=goods]"); // the button goes with the press
    tell(`${row.blank} is taken, with its minutes and what was spoiled of it.`);
  };
  return (
    <section aria-label="By trial" className={style["tried"]}>
      <h3 className="small-caps-head">By trial</h3>
      <ul>
        {here.slice(0, MOST).map((row) => (
          <li key={row.id}>
            <span>
              {row.blank}
              {row.took && `: ${row.took}`}
            </span>
            <span>
              {row.good_cost
                ? `${money(row.good_cost, house.price.currency)} a good one`
                : "none was good"}
              <span className="hint">
                {" "}
                {number(row.minutes, 1)} min, {row.spoiled} of {row.tried} spoiled
              </span>
            </span>
            {taken(row) ? (
              <span className="hint">taken</span>
            ) : (
              row.good_cost && (
                <button
                  type="button"
                  className="btn btn-sm btn-outline-primary"
                  onClick={() => take(row)}
                >
                  Take it <span className="visually-hidden">{row.blank}</span>
                </button>
              )
            )}
          </li>
        ))}
      </ul>
      <Link to="/shelf/blanks">All trials</Link>
    </section>
  );
}
