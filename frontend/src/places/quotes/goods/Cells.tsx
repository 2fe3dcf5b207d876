// Sizes and colours of a line: each cell its own count, and its own price if it differs.
import { wordsOf } from "../../../parts/Told";
import { useId, useRef } from "react";
import Form from "react-bootstrap/Form";
import { newId, setCells, text, useAt, useDraft, useHouse, type DraftCell } from "../../../draft";
import { costsHidden } from "../../../parts/money";
import { TakeNames } from "../design/TakeNames";
import style from "./Cells.module.scss";

type Column = "size" | "colour" | "quantity" | "unit_cost";
const ALL: [Column, string][] = [
  ["size", "Size"],
  ["colour", "Colour"],
  ["quantity", "Pieces"],
  ["unit_cost", "Costs"],
];
const COLUMNS = ALL.filter(([key]) => !costsHidden || key !== "unit_cost");

/** What a blank comes in, as the shelf has it; nothing where it says none in particular. */
function listed(known: string | undefined, between: string, unsaid: string): string[] {
  const found = (known ?? "").split(between).map((part) => part.trim());
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

export function Cells() {
  const id = useId();
  const at = useAt();
  const { line, lineAt, actions } = useDraft();
  const cells = line.cells ?? [];
  // how many there are is then the cells' own sum: the core adds up what is typed
  const set = (place: string, to: DraftCell[]) =>
    actions.line(`cells.${place}`, (found) => setCells(found, to));
  const fields = useRef<HTMLFieldSetElement>(null);
  /** The keyboard goes on where the work does: at the row that was made, or the one that is left. */
  const goTo = (selector: string) =>
    window.requestAnimationFrame(() =>
      fields.current?.querySelector<HTMLElement>(selector)?.focus(),
    );
  const blank = useHouse().blanks[line.goods.blank ?? ""];
  const sizes = listed(blank?.sizes, " ", "one-size");
  const colours = listed(blank?.colours, ",", "any");
  const base = `lines[${lineAt}].cells`;
  const whole = at(base);
  const first = { quantity: line.quantity ?? "" };
  return (
    <fieldset className="cells" ref={fields}>
      <legend className="form-label">Sizes and colours</legend>
      {cells.length > 0 && (
        <div className={`${style["cell-row"]} hint`} aria-hidden="true">
          {COLUMNS.map(([key, name]) => (
            <span key={key}>{name}</span>
          ))}
        </div>
      )}
      {cells.map((cell, n) => (
        <CellRow
          key={cell.id}
          cell={cell}
          n={n}
          lists={id}
          wrong={(key) => !!at(`${base}[${n}].${key}`)}
          onChange={(key, value) =>
            set(
              `${cell.id}.${key}`,
              cells.map((c, k) => (k === n ? { ...c, [key]: value } : c)),
            )
          }
          onRemove={() => {
            set(
              `-${cell.id}`,
              cells.filter((_, k) => k !== n),
            );
            const left = Math.min(n, cells.length - 2);
            goTo(left >= 0 ? `[data-row="${left}"] input` : "[data-add]");
          }}
        />
      ))}
      {whole && <div className="invalid-feedback d-block">{wordsOf(whole)}</div>}
      <Known id={`${id}-sizes`} values={sizes} />
      <Known id={`${id}-colours`} values={colours} />
      {sizes.length > 0 && cells.length === 0 && (
        <button
          type="button"
          className="btn btn-plain"
          onClick={() =>
            set(
              "all",
              sizes.map((size, n) => ({ id: newId(), size, ...(n > 0 ? {} : first) })),
            )
          }
        >
          {`${sizes[0] ?? ""} to ${sizes[sizes.length - 1] ?? ""}`}
        </button>
      )}
      <button
        type="button"
        data-add
        className="btn btn-sm btn-outline-primary"
        onClick={() => {
          set("+", [...cells, { id: newId(), ...(cells.length > 0 ? {} : first) }]);
          goTo(`[data-row="${cells.length}"] input`);
        }}
      >
        + size or colour
      </button>
      <TakeNames colours={colours} />
    </fieldset>
  );
}

interface RowProps {
  cell: DraftCell;
  n: number;
  /** The lists of sizes and colours that are known. */
  lists: string;
  wrong: (key: Column) => boolean;
  onChange: (key: Column, value: string) => void;
  onRemove: () => void;
}

function CellRow({ cell, n, lists, wrong, onChange, onRemove }: RowProps) {
  const { line } = useDraft();
  const list = { size: `${lists}-sizes`, colour: `${lists}-colours` };
  const usual = { unit_cost: text(line.goods.unit_cost), quantity: "0" };
  return (
    <div className={style["cell-row"]} data-row={n}>
      {COLUMNS.map(([key, name]) => (
        <Form.Control
          key={key}
          size="sm"
          aria-label={`${name}, row ${n + 1}`}
          value={text(cell[key])}
          list={key === "size" || key === "colour" ? list[key] : undefined}
          placeholder={key === "size" || key === "colour" ? undefined : usual[key]}
          isInvalid={wrong(key)}
          aria-invalid={wrong(key)}
          onChange={(e) => onChange(key, e.target.value)}
        />
      ))}
      <button
        type="button"
        className="btn btn-plain"
        aria-label={`Remove row ${n + 1}`}
        onClick={onRemove}
      >
        ×
      </button>
    </div>
  );
}
