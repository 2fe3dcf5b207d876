// How the blanks are bought: from the shelf's supplier, or as typed; or whose they are.
import type { House, Supplied } from "../../api/client";
import { money } from "../../parts/format";
import { costsHidden } from "../../parts/money";
import { PriceSteps } from "../../parts/PriceSteps";
import { stepsOf } from "../../parts/priceSteps.geometry";
import { Field } from "./Field";
import { KeepBlank } from "./KeepBlank";
import { SupplyTyped } from "./SupplyTyped";
import type { DraftTools } from "./useDraft";
import type { FieldError } from "./useEstimate";

interface Props {
  tools: DraftTools;
  house: House;
  at: (where: string) => FieldError;
  supplied: Supplied | null;
}

export function Supply({ tools, house, at, supplied }: Props) {
  const { line, setLine, lineAt } = tools;
  if (costsHidden) return null;
  const goods = (line.rest["goods"] ?? {}) as Record<string, unknown>;
  if (line.goods.supplied_by === "customer")
    return (
      <Field
        label="If one is spoiled, we owe (each)"
        value={String(goods["liability"] ?? "")}
        placeholder="0.00"
        inputMode="decimal"
        error={at(`lines[${lineAt}].goods.liability`)}
        onChange={(text) =>
          setLine({ rest: { ...line.rest, goods: { ...goods, liability: text || undefined } } })
        }
      />
    );
  const blank = house.blanks[line.goods.blank];
  const typed = ["price_breaks", "pack", "delivery"].some((key) => {
    const value = goods[key];
    return Array.isArray(value) ? value.length > 0 : value !== undefined;
  });
  return (
    <>
      {blank && <FromShelf tools={tools} house={house} supplied={supplied} />}
      <details className="supply" open={typed || undefined}>
        <summary>
          {blank ? "Other than on the shelf, this time" : "Cheaper in bulk, packs, delivery"}
        </summary>
        <SupplyTyped tools={tools} at={at} />
      </details>
      {!blank && line.goods.class && line.goods.unit_cost.trim() && (
        <KeepBlank tools={tools} house={house} />
      )}
    </>
  );
}

/** What the shelf knows: whose it is, when it comes, what it costs from each number on. */
function FromShelf({ tools, house, supplied }: Pick<Props, "tools" | "house" | "supplied">) {
  const { line, draft } = tools;
  const blank = house.blanks[line.goods.blank];
  const supplier = blank && house.suppliers[blank.supplier];
  if (!blank || !supplier) return null;
  const free = Number(supplier.free_from);
  const parcel =
    Number(supplier.delivery) === 0
      ? "delivery free"
      : `delivery ${money(supplier.delivery, draft.currency)}${
          free ? `, free from ${money(free, draft.currency)}` : ""
        }`;
  const quantity = supplied && supplied.blank === line.goods.blank ? supplied.step : null;
  return (
    <div className="from-shelf" aria-label="From the shelf" role="group">
      <p className="hint">
        {[
          supplier.label,
          `${supplier.days} days`,
          parcel,
          ...(blank.pack > 1 ? [`packs of ${blank.pack}`] : []),
        ].join(" · ")}
      </p>
      <PriceSteps
        steps={stepsOf(blank.prices)}
        quantity={line.goods.unit_cost.trim() ? null : quantity}
        currency={draft.currency}
      />
      {supplied && supplied.alike > 0 && (
        <p className="hint">{`Counted with ${supplied.alike} more of them in this order.`}</p>
      )}
      {supplied && supplied.more > 0 && (
        <p className="hint">
          {supplied.pack > 1
            ? `${supplied.more} more than asked are bought: it is the least in whole packs.`
            : `${supplied.more} more than asked ${supplied.more > 1 ? "are" : "is"} bought: so many cost less.`}
        </p>
      )}
    </div>
  );
}
