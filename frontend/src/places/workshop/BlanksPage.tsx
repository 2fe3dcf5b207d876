// The blanks on the shelf: each a card of how it is bought, its prices drawn as a stair.
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { del, post, problemOf, useRenew, useShopHouse, type Standard } from "../../api";
import { PriceSteps } from "../../parts/PriceSteps";
import { wordsOf } from "../../parts/Told";
import { stepsOf } from "../../parts/priceSteps.geometry";
import { useTell } from "../../parts/toasts";
import { ClassThumb } from "../../parts/GoodsThumb";
import { AddRow } from "./AddRow";
import { PriceList } from "./PriceList";
import { sampleOfBlank } from "./sample";
import { SamplePrice } from "./SamplePrice";
import { textOf } from "./standard";
import { StandardCell } from "./StandardCell";
import { rowsOf } from "./rows";
import { Trials } from "./Trials";
import style from "./BlanksPage.module.scss";

const FIELDS = [
  ["label", "Called"],
  ["goods", "Class of goods"],
  ["supplier", "Bought from"],
  ["pack", "Packs of"],
  ["prices", "From a number on, each"],
  ["dearer", "Some sizes cost more"],
  ["sizes", "Sizes"],
  ["colours", "Colours"],
] as const;

export function BlanksPage({ all }: { all: Standard[] }) {
  const rows = [...rowsOf("blanks", all)];
  const house = useShopHouse();
  const [open, setOpen] = useState<string | null>(null);
  const shown = rows.find(([row]) => row === open) ?? rows[0];
  const label = (cells: Map<string, Standard>) => textOf(cells.get("label")?.value);
  return (
    <section aria-label="Blanks" className={style["blanks"]}>
      {shown && (
        <SamplePrice
          sample={sampleOfBlank(shown[0], textOf(shown[1].get("goods")?.value), label(shown[1]))}
        />
      )}
      {rows.length === 0 && (
        <p className="empty">
          Nothing is kept yet. Add what you buy often, or type a blank in a quote and press
          &ldquo;Keep this blank on the shelf&rdquo; there: next time its price is known.
        </p>
      )}
      <ul>
        {rows.map(([row, cells]) => (
          <BlankCard
            key={row}
            row={row}
            cells={cells}
            prices={house.data?.blanks[row]?.prices ?? {}}
            currency={house.data?.price.currency ?? ""}
            onOpen={() => setOpen(row)}
          />
        ))}
      </ul>
      <div className={style["blank-actions"]}>
        <AddRow
          section="blanks"
          rows={rows.map(([row, cells]) => [row, label(cells)])}
          button="+ a blank"
        />
        <PriceList />
        {rows.length > 0 && <a href="/api/v1/price-lists/blanks.csv">Take them out as a list</a>}
      </div>
      {house.data && <Trials house={house.data} />}
    </section>
  );
}

interface CardProps {
  row: string;
  cells: Map<string, Standard>;
  prices: Record<string, string>;
  currency: string;
  onOpen: () => void;
}

function BlankCard({ row, cells, prices, currency, onOpen }: CardProps) {
  const renew = useRenew("standards");
  const tell = useTell();
  const name = textOf(cells.get("label")?.value);
  const remove = useMutation({
    mutationFn: () => del("/standard-rows/{section}/{row}", { path: { section: "blanks", row } }),
    onSuccess: async () => {
      await renew();
      const values = Object.fromEntries([...cells].map(([column, cell]) => [column, cell.value]));
      tell(`${name} is off the shelf.`, {
        label: "Undo",
        does: () =>
          void post("/standard-rows", {
            body: { section: "blanks", like: "", label: name, values },
          }).then(renew),
      });
    },
    onError: (error) => {
      const problem = problemOf(error);
      if (problem) tell(`${name} stays: ${wordsOf(problem)}`);
    },
  });
  return (
    <li className={style["blank-card"]} onFocus={onOpen}>
      <ClassThumb goods={textOf(cells.get("goods")?.value)} size={72} />
      <div className={style["blank-fields"]}>
        {FIELDS.map(([column, said]) => {
          const cell = cells.get(column);
          return (
            cell && (
              <div key={column} className={`of-${column}`}>
                <span className="form-label" aria-hidden="true">
                  {said}
                </span>
                <StandardCell standard={cell} onFocus={() => undefined} />
              </div>
            )
          );
        })}
        <div className={style["of-steps"]}>
          <PriceSteps steps={stepsOf(prices)} quantity={null} currency={currency} />
        </div>
      </div>
      <button
        type="button"
        className="btn btn-plain"
        aria-label={`Remove ${name}`}
        onClick={() => remove.mutate()}
      >
        remove
      </button>
    </li>
  );
}
