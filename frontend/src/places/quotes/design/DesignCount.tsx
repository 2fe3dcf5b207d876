// A design of which only a count is known.
import { useId } from "react";
import Form from "react-bootstrap/Form";
import { text, useAt, useOpenPlace, useHouse, type DraftDesign } from "../../../draft";
import { MeasureField } from "../../../parts/MeasureField";
import { Field } from "../Field";

/** The open placement's design: its place in the job, and a change of one of its values. */
export function useDesign() {
  const { placement, lineAt, placeAt, actions } = useOpenPlace();
  const set = (change: DraftDesign) =>
    actions.placement(`design.${Object.keys(change).join()}`, (found) =>
      Object.assign(found.design, change),
    );
  return {
    design: placement.design,
    base: `lines[${lineAt}].placements[${placeAt}].design`,
    set,
  };
}

export function DesignCount() {
  const id = useId();
  const at = useAt();
  const house = useHouse();
  const { design, base, set } = useDesign();
  const length = (key: "width_mm" | "height_mm" | "letter_height_mm", label: string) => (
    <MeasureField
      label={label}
      value={text(design[key])}
      error={at(`${base}.${key}`)}
      onChange={(held) => set({ [key]: held })}
    />
  );
  const field = (key: "stitches" | "colours" | "trims", label: string) => (
    <Field
      label={label}
      value={text(design[key])}
      inputMode="numeric"
      placeholder={key === "stitches" ? undefined : "proposed"}
      where={`${base}.${key}`}
      onChange={(typed) => set({ [key]: typed })}
    />
  );
  return (
    <div className="ask-fields">
      {field("stitches", "Stitches")}
      <div className="pair">
        <div>
          <Form.Label htmlFor={id}>Mostly</Form.Label>
          <Form.Select
            id={id}
            value={design.kind ?? "mixed"}
            onChange={(e) => set({ kind: e.target.value as NonNullable<DraftDesign["kind"]> })}
          >
            {Object.entries(house.kinds).map(([kind, row]) => (
              <option key={kind} value={kind}>
                {row.label}
              </option>
            ))}
          </Form.Select>
        </div>
        {field("colours", "Colours")}
      </div>
      <div className="pair">
        {length("width_mm", "Width")}
        {length("height_mm", "Height")}
      </div>
      <div className="pair">
        {field("trims", "Trims")}
        {length("letter_height_mm", "Letters high")}
      </div>
    </div>
  );
}
