// Sizes and colours of a line: each cell its own count, and its own price if it differs.
import { useId } from "react";
import Form from "react-bootstrap/Form";
import type { House } from "../../api/client";
import { costsHidden } from "../../parts/money";
import { typedNumber } from "../../parts/typed";
import { isCounted, type DraftCell } from "./draft";
import type { DraftTools } from "./useDraft";
import type { useEstimate } from "./useEstimate";

interface Props {
  tools: DraftTools;
  house: House;
  at: ReturnType<typeof useEstimate>["at"];
}

const EMPTY: DraftCell = { size: "", colour: "", quantity: "", unit_cost: "" };
const ALL: [keyof DraftCell, string][] = [
  ["size", "Size"],
  ["colour", "Colour"],
  ["quantity", "Pieces"],
  ["unit_cost", "Costs"],
];
const COLUMNS = ALL.filter(([key]) => !costsHidden || key !== "unit_cost");

/** What a blank comes in, as the shelf has it; nothing where it says none in particular. */
function listed(text: string | undefined, between: string, unsaid: string): string[] {
  const found = (text ?? "").split(between).map((part) => part.trim());
  return found.filter((part) => part && part !== unsaid);
}

function Known({ id, values }: { id: string; values: string[] }) {
  return (
    <datalist id={id}>
      {values.map((value) => (
        <option key={value} value={value} />
      ))}
    </datalist>
  );
}

/** The pieces of all cells, when each is a count; those not filled in yet are none. */
function together(cells: DraftCell[]): string | null {
  const counts = cells.filter(isCounted).map((cell) => typedNumber(cell.quantity));
  const whole = counts.every((n) => typeof n === "number");
  return whole && counts.length > 0 ? String(counts.reduce((a, b) => a + b, 0)) : null;
}

export function Cells({ tools, house, at }: Props) {
  const id = useId();
  const { line, setLine, lineAt } = tools;
  const set = (cells: DraftCell[]) => {
    const quantity = together(cells);
    setLine(quantity === null ? { cells } : { cells, quantity, unit_price: undefined });
  };
  const blank = house.blanks[line.goods.blank];
  const sizes = listed(blank?.sizes, " ", "one-size");
  const colours = listed(blank?.colours, ",", "any");
  const base = `lines[${lineAt}].cells`;
  const whole = at(base);
  return (
    <fieldset className="cells">
      <legend className="form-label">Sizes and colours</legend>
      {line.cells.length > 0 && (
        <div className="cell-row hint" aria-hidden="true">
          {COLUMNS.map(([key, name]) => (
            <span key={key}>{name}</span>
          ))}
        </div>
      )}
      {line.cells.map((cell, n) => (
        <div className="cell-row" key={n}>
          {COLUMNS.map(([key, name]) => (
            <Form.Control
              key={key}
              size="sm"
              aria-label={`${name}, row ${n + 1}`}
              value={cell[key]}
              list={key === "size" ? `${id}-sizes` : key === "colour" ? `${id}-colours` : undefined}
              placeholder={{ unit_cost: line.goods.unit_cost, quantity: "0" }[String(key)]}
              isInvalid={!!at(`${base}[${n}].${key}`)}
              onChange={(e) =>
                set(line.cells.map((c, k) => (k === n ? { ...c, [key]: e.target.value } : c)))
              }
            />
          ))}
          <button
            type="button"
            className="btn btn-plain"
            aria-label={`Remove row ${n + 1}`}
            onClick={() => set(line.cells.filter((_, k) => k !== n))}
          >
            ×
          </button>
        </div>
      ))}
      {whole && <div className="invalid-feedback d-block">{`${whole.detail} ${whole.remedy}`}</div>}
      <Known id={`${id}-sizes`} values={sizes} />
      <Known id={`${id}-colours`} values={colours} />
      {sizes.length > 0 && line.cells.length === 0 && (
        <button
          type="button"
          className="btn btn-plain"
          onClick={() =>
            set(sizes.map((size, n) => ({ ...EMPTY, size, quantity: n > 0 ? "" : line.quantity })))
          }
        >
          {`${sizes[0] ?? ""} to ${sizes[sizes.length - 1] ?? ""}`}
        </button>
      )}
      <button
        type="button"
        className="btn btn-sm btn-outline-primary"
        onClick={() =>
          set([
            ...line.cells,
            line.cells.length > 0 ? EMPTY : { ...EMPTY, quantity: line.quantity },
          ])
        }
      >
        + size or colour
      </button>
    </fieldset>
  );
}
