// Sizes and colours of a line: each cell its own count, and its own price if it differs.
import Form from "react-bootstrap/Form";
import { costsHidden } from "../../parts/money";
import { typedNumber, type DraftCell } from "./draft";
import type { DraftTools } from "./useDraft";
import type { useEstimate } from "./useEstimate";

interface Props {
  tools: DraftTools;
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

/** The pieces of all cells, when each is a count. */
function together(cells: DraftCell[]): string | null {
  const counts = cells.map((cell) => typedNumber(cell.quantity));
  const whole = counts.every((n) => typeof n === "number");
  return whole && counts.length > 0 ? String(counts.reduce((a, b) => a + b, 0)) : null;
}

export function Cells({ tools, at }: Props) {
  const { line, setLine, lineAt } = tools;
  const set = (cells: DraftCell[]) => {
    const quantity = together(cells);
    setLine(quantity === null ? { cells } : { cells, quantity, unit_price: undefined });
  };
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
              placeholder={key === "unit_cost" ? line.goods.unit_cost : undefined}
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
