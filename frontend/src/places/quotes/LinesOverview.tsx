// All lines of an order at a glance: pieces, price, advice; one opens by a press, sought by its words.
import { TextField } from "../../parts/fields";
import { useState } from "react";
import { useBench, useDraft } from "../../draft";
import { Dialog } from "../../parts/Dialog";
import { counted, money } from "../../parts/format";
import { goodsName } from "./goods/goods";
import { goOnAt } from "../../parts/goOnAt";
import { LINE } from "./landing";
import { GoodsThumb } from "../../parts/GoodsThumb";
import style from "./LinesOverview.module.scss";

const SIGNS = [
  ["stop", "stop"],
  ["warn", "warning"],
] as const;

export function LinesOverview({ onClose }: { onClose: () => void }) {
  const { house, price } = useBench();
  const { job, line: open, go } = useDraft();
  const [search, setSearch] = useState("");
  const estimate = price.estimate;
  const currency = estimate?.currency ?? "GBP";
  const rows = job.lines
    .map((asked, n) => ({
      asked,
      n,
      name: (house && goodsName(asked, house)) ?? "goods not yet said",
      priced: estimate?.lines[n],
    }))
    .filter(({ name, n, asked }) =>
      `${n + 1} ${name} ${(asked.cells ?? []).map((c) => `${c.size ?? ""} ${c.colour ?? ""}`).join(" ")}`
        .toLowerCase()
        .includes(search.trim().toLowerCase()),
    );
  return (
    <Dialog title={`${counted(job.lines.length, "line")} of the order`} size="xl" onClose={onClose}>
      <div className="d-flex gap-3 align-items-end mb-2 flex-wrap">
        <TextField
          label="Search"
          type="search"
          autoFocus
          value={search}
          placeholder="goods, size, colour, number"
          onChange={(typed) => setSearch(typed)}
        />
        <span className="hint" role="status">
          {counted(rows.length, "line")}
          {estimate && `, ${money(estimate.total.to_pay, currency)} to pay for all`}
        </span>
      </div>
      <table className={style["lines-overview"]}>
        <thead>
          <tr>
            <th scope="col">Line</th>
            <th scope="col">Goods</th>
            <th scope="col">Pieces</th>
            <th scope="col">Each</th>
            <th scope="col">Line</th>
            <th scope="col">To see to</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ asked, n, name, priced }) => (
            <tr key={asked.id} aria-current={asked.id === open.id ? "true" : undefined}>
              <th scope="row">
                <button
                  type="button"
                  className="btn btn-plain"
                  onClick={() => {
                    go({ line: asked.id });
                    onClose();
                    goOnAt(LINE);
                  }}
                >
                  {`Line ${n + 1}`}
                </button>
              </th>
              <td>
                <span aria-hidden="true" className="me-2">
                  <GoodsThumb goods={asked.goods.class ?? ""} size={24} cloth={priced?.cloth} />
                </span>
                {name}
              </td>
              <td>{priced?.quantity ?? ""}</td>
              <td>{priced && money(priced.price.unit, currency)}</td>
              <td>{priced && money(priced.price.line, currency)}</td>
              <td>
                {SIGNS.map(([level, word]) => {
                  const found = (priced?.advice ?? []).filter(
                    (each) => each.level === level && !each.overruled,
                  ).length;
                  return (
                    found > 0 && (
                      <span key={level} className="me-2">
                        {counted(found, word)}
                      </span>
                    )
                  );
                })}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Dialog>
  );
}
