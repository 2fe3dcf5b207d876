// A design of which only a count is known.
import { Choose } from "../../../parts/fields";
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
        <Choose
          label="Mostly"
          value={design.kind ?? "mixed"}
          onChange={(typed) => set({ kind: typed as NonNullable<DraftDesign["kind"]> })}
          options={Object.entries(house.kinds).map(([kind, row]) => [kind, row.label] as const)}
        />
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
