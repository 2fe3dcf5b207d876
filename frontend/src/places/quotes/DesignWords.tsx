// Words to be lettered, and a name for each piece.
import { useId, useState } from "react";
import Form from "react-bootstrap/Form";
import {
  hasNames,
  NAME_MARK,
  namesOf,
  text,
  useAt,
  useBench,
  useDraft,
  useHouse,
} from "../../draft";
import { MeasureField } from "../../parts/MeasureField";
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
        {error && (
          <div className="invalid-feedback d-block">{`${error.detail} ${error.remedy}`}</div>
        )}
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

/** The names, one a line; how the text stands is this field's own while it is typed. */
function Names() {
  const id = useId();
  const at = useAt();
  const { price } = useBench();
  const { line, lineAt, actions } = useDraft();
  const kept = (line.names ?? []).join("\n");
  const [typed, setTyped] = useState(kept);
  const shown = namesOf(typed).join("\n") === kept ? typed : kept;
  const wrong = at(`lines[${lineAt}].names`);
  const pieces = text(line.quantity) || text(price.estimate?.lines[lineAt]?.quantity) || "?";
  return (
    <div>
      <Form.Label htmlFor={id}>Names, one a line; an empty line leaves a piece blank</Form.Label>
      <Form.Control
        id={id}
        as="textarea"
        rows={4}
        value={shown}
        isInvalid={!!wrong}
        aria-invalid={!!wrong}
        onChange={(e) => {
          setTyped(e.target.value);
          actions.line("names", (found) => void (found.names = namesOf(e.target.value)));
        }}
      />
      <div className={wrong ? "invalid-feedback d-block" : "hint"}>
        {wrong ? `${wrong.detail} ${wrong.remedy}` : `${line.names?.length ?? 0} of ${pieces}`}
      </div>
    </div>
  );
}
