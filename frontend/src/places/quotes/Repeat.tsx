// Once, along a band, several pieces in a hooping, or over several hoopings.
import { useId } from "react";
import Form from "react-bootstrap/Form";
import { text, useAt, useOpenPlace, type DraftPlacement } from "../../draft";
import { MeasureField } from "../../parts/MeasureField";

const WAYS = ["band", "together", "split"] as const;
type Way = (typeof WAYS)[number];
const NAMES: [Way | "once", string][] = [
  ["once", "Once"],
  ["band", "Repeated along a band"],
  ["together", "Several pieces in a hooping"],
  ["split", "Over several hoopings"],
];
const START: Record<Way, object> = {
  band: { length_mm: 700, gap_mm: 10 },
  together: { spacing_mm: 10 },
  split: { overlap_mm: 5 },
};
const LENGTHS: Record<Way, [string, string][]> = {
  band: [
    ["length_mm", "Band long"],
    ["gap_mm", "Between motifs"],
  ],
  together: [["spacing_mm", "Between pieces"]],
  split: [["overlap_mm", "Overlap"]],
};

export function Repeat() {
  const id = useId();
  const at = useAt();
  const { lineAt, placement, placeAt, actions } = useOpenPlace();
  const way = WAYS.find((key) => placement[key]);
  const now = ((way && placement[way]) ?? {}) as Record<string, unknown>;
  const base = `lines[${lineAt}].placements[${placeAt}].${way ?? ""}`;
  const choose = (to: string) =>
    actions.placement("layout", (found) => {
      Object.assign(found, Object.fromEntries(WAYS.map((key) => [key, undefined])));
      if (to !== "once") Object.assign(found, { [to]: { ...START[to as Way] } });
    });
  const set = (key: string, value: unknown) =>
    actions.placement(`${way ?? ""}.${key}`, (found: DraftPlacement) => {
      if (way) Object.assign(found, { [way]: { ...now, [key]: value } });
    });
  return (
    <div className="place-fields repeat">
      <div className="where">
        <Form.Label htmlFor={id}>Sewn</Form.Label>
        <Form.Select id={id} value={way ?? "once"} onChange={(e) => choose(e.target.value)}>
          {NAMES.map(([key, name]) => (
            <option key={key} value={key}>
              {name}
            </option>
          ))}
        </Form.Select>
      </div>
      {way &&
        LENGTHS[way].map(([key, label]) => (
          <MeasureField
            key={key}
            label={label}
            value={text(now[key])}
            error={at(`${base}.${key}`)}
            onChange={(held) => set(key, held)}
          />
        ))}
      {way === "band" && (
        <Form.Check
          id={`${id}-ring`}
          label="Closed ring"
          checked={now["closed"] === true}
          onChange={(e) => set("closed", e.target.checked)}
        />
      )}
    </div>
  );
}
