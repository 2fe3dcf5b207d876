// What an order needs of the shelf, ticked as it lies ready; what lacks; what else is laid out.
import { useId } from "react";
import Form from "react-bootstrap/Form";
import { Link } from "react-router";
import { type OrderView } from "../../api";
import { counted, day, listed } from "../../parts/format";
import { lengthText, longText } from "../../parts/units";
import { Uncounted } from "../../parts/Uncounted";
import { useUnits } from "../../parts/useUnits";
import { itemAt } from "../../parts/stock";
import style from "./Orders.module.scss";

type Need = NonNullable<OrderView["needs"]>["needs"][number];

export function Needs({
  order,
  onReady,
}: {
  order: OrderView;
  onReady: (key: string, there: boolean) => void;
}) {
  const id = useId();
  const { units } = useUnits();
  const { needs } = order;
  if (!needs)
    return (
      <section aria-label="Get ready">
        <h2 className="small-caps-head">Get ready</h2>
        <p role="alert">{order.unready}</p>
      </section>
    );
  const uncounted = needs.needs.filter((need) => need.unknown);
  const there = new Set(order.ready);
  const left = needs.needs.filter((need) => !there.has(need.item)).length;
  const amount = (need: (typeof needs.needs)[number]) =>
    need.unit === "m"
      ? longText(Number(need.amount), units)
      : counted(Number(need.amount), "piece");
  return (
    <section aria-label="Get ready">
      <h2 className="small-caps-head" tabIndex={-1}>
        Get ready
      </h2>
      <Uncounted
        items={uncounted.map((need) => ({ ...need, amount: need.short ?? "0" }))}
        next="[aria-label='Get ready'] h2"
      />
      <p className="hint" role="status">
        {left === 0
          ? "All of it lies ready."
          : `${left} of ${needs.needs.length} still to lay out.`}{" "}
        Samples and spares are counted in.{" "}
        <a
          href={`/api/v1/orders/${order.id}/papers/get-ready.pdf`}
          target="_blank"
          rel="noreferrer"
        >
          Print it
        </a>
      </p>
      <ul className={style["od-needs"]}>
        {needs.needs.map((need, n) => (
          <li key={need.item}>
            <Form.Check
              id={`${id}-${n}`}
              checked={there.has(need.item)}
              onChange={(e) => onReady(need.item, e.target.checked)}
              label={
                <>
                  <b>{need.label}</b> {amount(need)}
                  {need.pieces > 0 &&
                    `, cut as ${counted(need.pieces, "piece")}${
                      need.cut_mm
                        ? ` of ${need.cut_mm.map((side) => lengthText(side, units)).join(" × ")}`
                        : ""
                    }`}
                  <Where need={need} />
                </>
              }
            />
          </li>
        ))}
      </ul>
      <dl className={style["od-laid"]}>
        <dt>Files</dt>
        <dd>
          {listed(
            needs.files.map(
              (file) => `${file.called || file.design || "a count"} on ${file.machine}`,
            ),
          )}
        </dd>
        <dt>Hoops</dt>
        <dd>{listed(needs.hoops) || "none fits"}</dd>
        <dt>Needles</dt>
        <dd>{listed(needs.needles)}</dd>
        {needs.wind.length > 0 && (
          <>
            <dt>Wind</dt>
            <dd>
              {listed(needs.wind.map((row) => `${counted(row.count, "bobbin")} of ${row.called}`))}
            </dd>
          </>
        )}
      </dl>
    </section>
  );
}

/** Where a need is: taken already, on the shelf, short; what of that comes, or would cover it. */
function Where({ need }: { need: Need }) {
  const { units } = useUnits();
  const text = (amount: string | undefined) =>
    need.unit === "m" ? longText(Number(amount), units) : counted(Number(amount), "piece");
  const short = Number(need.short) > 0;
  if (need.unknown) return <span className={style["od-short"]}> not counted</span>;
  if (!short)
    return (
      <span className="hint">
        {" "}
        {Number(need.taken) > 0 ? `${text(need.taken)} taken already` : "on the shelf"}
      </span>
    );
  return (
    <span className={style["od-short"]}>
      {" "}
      {text(need.short)} short
      {Number(need.coming) > 0
        ? `, ordered${need.coming_on ? ` for ${day(need.coming_on)}` : ""}`
        : need.buy.length > 0 &&
          `: ${listed(need.buy.map((row) => (row.name === "each" ? counted(row.count, "piece") : `${row.count} × ${row.name}`)))} to buy`}{" "}
      <Link to={itemAt(need.item)} aria-label={`${need.label} on the shelf`}>
        shelf
      </Link>
    </span>
  );
}
