// A motif once, repeated along a band, or several pieces in one hooping.
import { useId } from "react";
import Form from "react-bootstrap/Form";
import { MeasureField } from "../../parts/MeasureField";
import { typedLength } from "./place";
import type { DraftTools } from "./useDraft";
import type { FieldError } from "./useEstimate";

type Kept = Record<string, unknown>;
const KINDS = [
  ["once", "Once"],
  ["band", "Repeated along a band"],
  ["together", "Several pieces in a hooping"],
  ["split", "Over several hoopings"],
] as const;
const START: Record<string, Kept> = {
  band: { length_mm: 700, gap_mm: 10 },
  together: { spacing_mm: 10 },
  split: { overlap_mm: 5 },
};
const shown = (value: unknown) => (value === undefined || value === null ? "" : String(value));
interface Props {
  tools: DraftTools;
  at: (where: string) => FieldError;
}

export function Repeat({ tools, at }: Props) {
  const id = useId();
  const { rest } = tools.placement;
  const kind = ["band", "together", "split"].find((key) => rest[key]) ?? "once";
  const now = (rest[kind] ?? {}) as Kept;
  const base = `lines[${tools.lineAt}].placements[${tools.placeAt}].${kind}`;
  const choose = (to: string, value: Kept | undefined) => {
    const others = Object.entries(rest).filter(
      ([key]) => !["band", "together", "split"].includes(key),
    );
    const next = Object.fromEntries(others);
    tools.setPlacement({ rest: value ? { ...next, [to]: value } : next });
  };
  const length = (key: string, label: string) => (
    <MeasureField
      label={label}
      value={shown(now[key])}
      error={at(`${base}.${key}`)}
      onChange={(text) => choose(kind, { ...now, [key]: typedLength(text) })}
    />
  );
  return (
    <div className="place-fields repeat">
      <div className="where">
        <Form.Label htmlFor={id}>Sewn</Form.Label>
        <Form.Select
          id={id}
          value={kind}
          onChange={(e) => choose(e.target.value, START[e.target.value])}
        >
          {KINDS.map(([key, name]) => (
            <option key={key} value={key}>
              {name}
            </option>
          ))}
        </Form.Select>
      </div>
      {kind === "band" && (
        <>
          {length("length_mm", "Band long")}
          {length("gap_mm", "Between motifs")}
          <Form.Check
            id={`${id}-ring`}
            label="Closed ring"
            checked={now["closed"] === true}
            onChange={(e) => choose(kind, { ...now, closed: e.target.checked })}
          />
        </>
      )}
      {kind === "together" && length("spacing_mm", "Between pieces")}
      {kind === "split" && length("overlap_mm", "Overlap")}
    </div>
  );
}
