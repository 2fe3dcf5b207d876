// Ask: goods, how many, design. Everything else is proposed.
import { useId } from "react";
import Form from "react-bootstrap/Form";
import type { Advice, House, Supplied } from "../../api/client";
import { AdviceList } from "../../parts/AdviceList";
import { plainMoney, symbol } from "../../parts/format";
import { costsHidden } from "../../parts/money";
import { Cells } from "./Cells";
import { DesignField } from "./DesignField";
import { patched } from "./draft";
import { Field, moveOn } from "./Field";
import { GoodsSelect } from "./GoodsSelect";
import { Supply } from "./Supply";
import type { DraftTools } from "./useDraft";
import type { useEstimate } from "./useEstimate";

const FINISHING = [
  ["press", "Press"],
  ["label", "Label or tag"],
  ["soft-cover", "Soft cover inside"],
  ["wash", "Wash the batch"],
] as const;

interface Props {
  tools: DraftTools;
  house: House;
  at: ReturnType<typeof useEstimate>["at"];
  advice: Advice[];
  /** How the blanks of this line are bought, when it has a price. */
  supplied: Supplied | null;
  onOverrule: ((advice: Advice, reason: string) => void) | undefined;
  upload: {
    error: string | null;
    busy: string | null;
    send: (f: File) => void;
    cancel: () => void;
  };
}

export function AskPanel({ tools, house, at, advice, supplied, onOverrule, upload }: Props) {
  const { draft, line, setLine } = tools;
  const base = `lines[${tools.lineAt}]`;
  const goodsId = useId();
  const fromShelf = line.goods.blank && !line.goods.unit_cost ? supplied : null;
  const toggle = (task: string) =>
    setLine({
      finishing: line.finishing.includes(task)
        ? line.finishing.filter((t) => t !== task)
        : [...line.finishing, task],
    });
  return (
    <section className="panel" aria-label="Ask" onKeyDown={moveOn}>
      <header>
        <h2 className="small-caps-head">Ask</h2>
      </header>
      <div className="ask-fields">
        <div>
          <Form.Label htmlFor={goodsId}>Goods</Form.Label>
          <GoodsSelect id={goodsId} tools={tools} house={house} at={at} />
        </div>
        <div className="pair">
          {!costsHidden && (
            <Field
              label={`A blank costs, ${symbol(draft.currency)}`}
              value={line.goods.supplied_by === "customer" ? "0" : line.goods.unit_cost}
              placeholder={fromShelf ? plainMoney(fromShelf.each, draft.currency) : undefined}
              inputMode="decimal"
              error={at(`${base}.goods.unit_cost`)}
              onChange={(unit_cost) => setLine({ goods: { ...line.goods, unit_cost } })}
            />
          )}
          <Field
            label="How many"
            value={line.quantity}
            inputMode="numeric"
            error={at(`${base}.quantity`)}
            onChange={(quantity) => setLine({ quantity, unit_price: undefined })}
          />
        </div>
        <Form.Check
          id={`${goodsId}-own`}
          label="The customer brings the goods"
          checked={line.goods.supplied_by === "customer"}
          onChange={(e) =>
            setLine({
              goods: { ...line.goods, supplied_by: e.target.checked ? "customer" : "shop" },
            })
          }
        />
        <DesignField tools={tools} house={house} at={at} upload={upload} />
        <Supply tools={tools} house={house} at={at} supplied={supplied} />
        <Cells tools={tools} house={house} at={at} />
        <AdviceList
          advice={advice}
          onFix={(patch) => tools.set(patched(tools.draft, patch))}
          onOverrule={onOverrule}
        />
        <fieldset>
          <legend className="form-label">Finishing, besides the usual</legend>
          {FINISHING.map(([task, name]) => (
            <Form.Check
              key={task}
              id={`${goodsId}-${task}`}
              label={name}
              checked={line.finishing.includes(task)}
              onChange={() => toggle(task)}
            />
          ))}
        </fieldset>
        {!costsHidden && <Pricing tools={tools} house={house} at={at} />}
        <div>
          <Form.Label htmlFor={`${goodsId}-notes`}>Notes, on the customer's paper</Form.Label>
          <Form.Control
            id={`${goodsId}-notes`}
            as="textarea"
            rows={3}
            value={draft.notes}
            onChange={(e) => tools.set({ ...draft, notes: e.target.value })}
          />
        </div>
      </div>
    </section>
  );
}

function Pricing({ tools, house, at }: Pick<Props, "tools" | "house" | "at">) {
  const { draft, set } = tools;
  const id = useId();
  return (
    <>
      <div className="pair">
        <div>
          <Form.Label htmlFor={id}>Priced by</Form.Label>
          <Form.Select
            id={id}
            value={draft.price_method || house.price.method}
            onChange={(e) => set({ ...draft, price_method: e.target.value })}
          >
            <option value="margin">Margin</option>
            <option value="stitch-rate">Stitch rate</option>
            <option value="hour-rate">Hour rate</option>
          </Form.Select>
        </div>
        <Field
          label="Margin, %"
          value={draft.margin}
          placeholder={String(Number(house.price.margin) * 100)}
          inputMode="decimal"
          error={at("margin")}
          onChange={(margin) => set({ ...draft, margin })}
        />
      </div>
    </>
  );
}
