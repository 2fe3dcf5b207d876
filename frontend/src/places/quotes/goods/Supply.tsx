// How the blanks are bought: from the shelf's supplier, or as typed; or whose they are.
import { useState } from "react";
import { text, useBench, useDraft, useHouse } from "../../../draft";
import { counted, money } from "../../../parts/format";
import { costsHidden } from "../../../parts/money";
import { PriceSteps } from "../../../parts/PriceSteps";
import { stepsOf } from "../../../parts/priceSteps.geometry";
import { Field } from "../Field";
import { KeepBlank } from "./KeepBlank";
import { SupplyTyped } from "./SupplyTyped";
import style from "./Supply.module.scss";

export function Supply() {
  const house = useHouse();
  const { line, lineAt, actions } = useDraft();
  const [open, setOpen] = useState(false); // what was opened stays so when its last row goes
  const { goods } = line;
  if (costsHidden) return null;
  if (goods.supplied_by === "customer")
    return (
      <Field
        label="If one is spoiled, we owe (each)"
        value={text(goods.liability)}
        placeholder="0.00"
        inputMode="decimal"
        where={`lines[${lineAt}].goods.liability`}
        onChange={(owed) =>
          actions.line("goods.liability", (found) => void (found.goods.liability = owed))
        }
      />
    );
  const blank = house.blanks[goods.blank ?? ""];
  const typed =
    !!goods.price_breaks?.length ||
    !!text(goods.pack) ||
    !!text(goods.delivery) ||
    !!text(goods.spoil) ||
    !!text(goods.minutes);
  return (
    <>
      {blank && <FromShelf />}
      <details
        className={style["supply"]}
        open={open || typed}
        onToggle={(e) => setOpen(e.currentTarget.open)}
      >
        <summary>
          {blank ? "Other than on the shelf, this time" : "Cheaper in bulk, packs, delivery"}
        </summary>
        <SupplyTyped />
      </details>
      {!blank && goods.class && text(goods.unit_cost).trim() && <KeepBlank />}
    </>
  );
}

/** What the shelf knows: whose it is, when it comes, what it costs from each number on. */
function FromShelf() {
  const house = useHouse();
  const { price } = useBench();
  const { job, line, lineAt } = useDraft();
  const supplied = price.estimate?.lines[lineAt]?.supplied;
  const spares = price.estimate?.lines[lineAt]?.spares ?? 0;
  const blank = house.blanks[line.goods.blank ?? ""];
  const supplier = blank && house.suppliers[blank.supplier];
  if (!blank || !supplier) return null;
  const currency = job.currency ?? "";
  const free = Number(supplier.free_from);
  const parcel =
    Number(supplier.delivery) === 0
      ? "delivery free"
      : `delivery ${money(supplier.delivery, currency)}${
          free ? `, free from ${money(free, currency)}` : ""
        }`;
  const here = supplied && supplied.blank === line.goods.blank ? supplied : null;
  return (
    <div className={style["from-shelf"]} aria-label="From the shelf" role="group">
      <p className="hint">
        {[
          supplier.label,
          counted(Number(supplier.days), "day"),
          parcel,
          ...(blank.pack > 1 ? [`packs of ${blank.pack}`] : []),
        ].join(" · ")}
      </p>
      <PriceSteps
        steps={stepsOf(blank.prices)}
        quantity={text(line.goods.unit_cost).trim() ? null : (here?.step ?? null)}
        currency={currency}
      />
      {supplied && supplied.alike > 0 && (
        <p className="hint">{`Counted with ${supplied.alike} more of them in this order, spares too.`}</p>
      )}
      {supplied && supplied.more > 0 && (
        <p className="hint">
          {supplied.pack > 1
            ? `${supplied.more} more than asked are bought: it is the least in whole packs.`
            : supplied.more > spares
              ? `${supplied.more} more than asked ${supplied.more > 1 ? "are" : "is"} bought: so many cost less.`
              : `${supplied.more} ${supplied.more > 1 ? "spares are" : "spare is"} bought with them.`}
        </p>
      )}
    </div>
  );
}
