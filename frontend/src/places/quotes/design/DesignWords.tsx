// Words to be lettered, and a name for each piece.
import { wordsOf } from "../../../parts/Told";
import { useId, useState } from "react";
import Form from "react-bootstrap/Form";
import { type FieldProblem } from "../../../api";
import {
  hasNames,
  layNames,
  NAME_MARK,
  namesByCell,
  namesOf,
  piecesOf,
  text,
  useAt,
  useBench,
  useDraft,
  useHouse,
} from "../../../draft";
import { MeasureField } from "../../../parts/MeasureField";
import { useDesign } from "./DesignCount";

export function DesignWords() {
  const id = useId();
  const at = useAt();
  const house = useHouse();
  const { line } = useDraft();
  const { design, base, set } = useDesign();
  const error = at(`${base}.text`);
  return (
    <div className="ask-fields">
      <div>
        <Form.Label htmlFor={id}>Words; {NAME_MARK} for each piece's own name</Form.Label>
        <Form.Control
          id={id}
          as="textarea"
          rows={2}
          value={text(design.text)}
          isInvalid={!!error}
          aria-invalid={!!error}
          onChange={(e) => set({ text: e.target.value })}
        />
        {error && <div className="invalid-feedback d-block">{wordsOf(error)}</div>}
      </div>
      <div className="pair">
        <div>
          <span className="form-label d-block">Of its own</span>
          <button
            type="button"
            className="btn btn-outline-primary w-100"
            onClick={() => set({ text: NAME_MARK })}
          >
            A name each
          </button>
        </div>
        <MeasureField
          label="Capitals high"
          value={text(design.height_mm)}
          placeholder={String(house.words.height_mm)}
          error={at(`${base}.height_mm`)}
          onChange={(height_mm) => set({ height_mm })}
        />
      </div>
      {hasNames(line) && <Names />}
    </div>
  );
}

/** The names: one list, or one for each size. */
function Names() {
  const at = useAt();
  const { price } = useBench();
  const { line, lineAt, actions } = useDraft();
  const cells = line.cells ?? [];
  const names = namesByCell(line);
  const wrong = at(`lines[${lineAt}].names`);
  const pieces = text(line.quantity) || text(price.estimate?.lines[lineAt]?.quantity) || "?";
  const set = (n: number, to: string[]) =>
    actions.line(`names.${cells[n]?.id ?? ""}`, (found) =>
      layNames(
        found,
        namesByCell(found).map((row, k) => (k === n ? to : row)),
      ),
    );
  if (cells.length === 0)
    return (
      <NameList
        label="Names, one a line; an empty line leaves a piece blank"
        kept={names[0] ?? []}
        rows={4}
        told={`${names[0]?.length ?? 0} of ${pieces}`}
        wrong={wrong}
        onChange={(to) => set(0, to)}
      />
    );
  return (
    <>
      <p className="hint mb-0">Names, one a line, by size; an empty line leaves a piece blank.</p>
      {cells.map((cell, n) => {
        const kind = [cell.size, cell.colour].filter(Boolean).join(" ") || `row ${n + 1}`;
        return (
          <NameList
            key={cell.id}
            label={`Names on ${kind}`}
            kept={names[n] ?? []}
            rows={Math.min(8, Math.max(2, names[n]?.length ?? 0))}
            told={`${names[n]?.length ?? 0} of ${piecesOf(cell)}${n < cells.length - 1 && names[n]?.length === piecesOf(cell) ? "; more go on to the next size" : ""}`}
            wrong={n === 0 ? wrong : undefined}
            onChange={(to) => set(n, to)}
          />
        );
      })}
    </>
  );
}

interface ListProps {
  label: string;
  kept: string[];
  rows: number;
  told: string;
  wrong: FieldProblem | undefined;
  onChange: (names: string[]) => void;
}

/** A list of names as text; how it stands is this field's own while it is typed. */
function NameList({ label, kept, rows, told, wrong, onChange }: ListProps) {
  const id = useId();
  const whole = kept.join("\n");
  const [typed, setTyped] = useState(whole);
  const shown = namesOf(typed).join("\n") === whole ? typed : whole;
  return (
    <div>
      <Form.Label htmlFor={id}>{label}</Form.Label>
      <Form.Control
        id={id}
        as="textarea"
        rows={rows}
        value={shown}
        isInvalid={!!wrong}
        aria-invalid={!!wrong}
        aria-describedby={`${id}-told`}
        onChange={(e) => {
          setTyped(e.target.value);
          onChange(namesOf(e.target.value));
        }}
      />
      <div id={`${id}-told`} className={wrong ? "invalid-feedback d-block" : "hint"}>
        {wrong ? wordsOf(wrong) : told}
      </div>
    </div>
  );
}
