// Ask: goods, how many, design. Everything else is proposed.
import { Asks } from "../../../parts/Asks";
import { TextField } from "../../../parts/fields";
import { useId, useState } from "react";
import Form from "react-bootstrap/Form";
import { piecesOf, setQuantity, text, useBench, useDraft, useHead, useHouse } from "../../../draft";
import { plainMoney, symbol } from "../../../parts/format";
import { costsHidden } from "../../../parts/money";
import { AgreedOffer } from "../price/AgreedOffer";
import { Cells } from "./Cells";
import { DesignField } from "../design/DesignField";
import { Field } from "../Field";
import { moveOn } from "../../../parts/moveOn";
import { Finishing } from "../making/Finishing";
import { GoodsSelect } from "./GoodsSelect";
import { PanelAdvice } from "../PanelAdvice";
import { Pricing } from "../price/Pricing";
import { Sampled } from "../making/Sampled";
import { Supply } from "./Supply";
import { Tried } from "./Tried";
import style from "./AskPanel.module.scss";

export function AskPanel() {
  const goodsId = useId();
  const { quote } = useBench();
  return (
    <section className="panel" aria-label="Ask" onKeyDown={moveOn}>
      {quote.version > 0 && <Asks quote={quote.id} />}
      <header>
        <h2 className="small-caps-head">Ask</h2>
      </header>
      <div className={style["ask-fields"]}>
        <div>
          <Form.Label htmlFor={goodsId}>Goods</Form.Label>
          <GoodsSelect id={goodsId} />
        </div>
        <Tried />
        <HowMany />
        <AgreedOffer />
        <OwnGoods />
        <DesignField />
        <Supply />
        <Cells />
        <PanelAdvice panel="ask" />
        <Finishing />
        <Sampled />
        {!costsHidden && <Pricing />}
        <Notes />
      </div>
    </section>
  );
}

/** What a blank costs, and how many of them. */
function HowMany() {
  const { job, line, lineAt, actions } = useDraft();
  const { price } = useBench();
  const currency = job.currency ?? "";
  const made = useHouse().goods[line.goods.class ?? ""]?.made === true;
  const own = line.goods.supplied_by === "customer";
  const priced = price.estimate?.lines[lineAt];
  const supplied = line.goods.blank && !line.goods.unit_cost ? priced?.supplied : null;
  const base = `lines[${lineAt}]`;
  const [typed, setTyped] = useState<string | null>(null); // while it is typed in
  const sum = (line.cells ?? []).reduce((total, cell) => total + piecesOf(cell), 0);
  // of cells it is their sum, as the answer says
  const counted = line.cells?.length ? price.counted[lineAt] : undefined;
  return (
    <div className="pair">
      {!costsHidden && !made && (
        <Field
          label={`A blank costs, ${symbol(currency)}`}
          value={own ? "0" : text(line.goods.unit_cost)}
          placeholder={supplied ? plainMoney(supplied.each, currency) : undefined}
          inputMode="decimal"
          where={`${base}.goods.unit_cost`}
          onChange={(unit_cost) =>
            actions.line("goods.unit_cost", ({ goods }) => void (goods.unit_cost = unit_cost))
          }
        />
      )}
      <Field
        label="How many"
        value={typed ?? (text(sum || "") || text(line.quantity) || text(counted || ""))}
        inputMode="numeric"
        where={`${base}.quantity`}
        hint={sum > 0 ? "shared over the sizes as they stand" : ""}
        onChange={(quantity) => {
          setTyped(quantity);
          actions.line("quantity", (found) => setQuantity(found, quantity));
        }}
        onBlur={() => setTyped(null)}
      />
    </div>
  );
}

function OwnGoods() {
  const id = useId();
  const { line, actions } = useDraft();
  return (
    <Form.Check
      id={id}
      label="The customer brings the goods"
      checked={line.goods.supplied_by === "customer"}
      onChange={(e) => {
        const by = e.target.checked ? "customer" : "shop";
        actions.line("goods.supplied_by", ({ goods }) => void (goods.supplied_by = by));
      }}
    />
  );
}

function Notes() {
  const { notes } = useHead();
  const { actions } = useBench();
  return (
    <TextField
      label="Notes, on the customer's paper"
      rows={3}
      value={notes}
      onChange={(typed) => actions.head({ notes: typed })}
    />
  );
}
