// Once, along a band, several pieces in a hooping, or over several hoopings.
import { Choose } from "../../../parts/fields";
import { useId } from "react";
import Form from "react-bootstrap/Form";
import { text, useAt, useLinePrice, useOpenPlace, type DraftPlacement } from "../../../draft";
import { MeasureField } from "../../../parts/MeasureField";
import { Field } from "../Field";

const WAYS = ["band", "blocks", "together", "split"] as const;
type Way = (typeof WAYS)[number];
const NAMES: [Way | "once", string][] = [
  ["once", "Once"],
  ["band", "Repeated along a band"],
  ["blocks", "In blocks"],
  ["together", "Several pieces in a hooping"],
  ["split", "Over several hoopings"],
];
const START: Record<Way, object> = {
  band: { length_mm: 700, gap_mm: 10 },
  blocks: { columns: 4, rows: 4 },
  together: { spacing_mm: 10 },
  split: { overlap_mm: 5 },
};
const LENGTHS: Record<Way, [string, string][]> = {
  band: [
    ["length_mm", "Band long"],
    ["gap_mm", "Between motifs"],
  ],
  blocks: [
    ["width_mm", "Block wide"],
    ["height_mm", "Block high"],
  ],
  together: [["spacing_mm", "Between pieces"]],
  split: [["overlap_mm", "Overlap"]],
};

const CORNERS = [
  ["turned", "a motif is turned onto it"],
  ["mitred", "motifs are mitred"],
] as const;
const STARTS = [
  ["middle", "in the middle"],
  ["end", "at an end"],
] as const;
const ORDERS = [
  ["middle-out", "from the middle outwards"],
  ["rows", "row by row"],
] as const;

export function Repeat() {
  const id = useId();
  const at = useAt();
  const { lineAt, placement, placeAt, actions } = useOpenPlace();
  const way = WAYS.find((key) => placement[key]);
  const room = useLinePrice().line.places[placeAt]?.room;
  const roomOf: Record<string, string> = {
    width_mm: text(room?.width_mm),
    height_mm: text(room?.height_mm),
  };
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
      <Choose
        className="where"
        label="Sewn"
        value={way ?? "once"}
        onChange={(typed) => choose(typed)}
        options={NAMES}
      />
      {way && way !== "band" && (
        <>
          {(["columns", "rows"] as const).map((key) => (
            <Field
              key={key}
              label={key === "columns" ? "Columns" : "Rows"}
              value={text(now[key])}
              inputMode="numeric"
              placeholder={way === "blocks" ? undefined : "auto"}
              where={`${base}.${key}`}
              onChange={(typed) => set(key, typed)}
            />
          ))}
        </>
      )}
      {way &&
        LENGTHS[way].map(([key, label]) => (
          <MeasureField
            key={key}
            label={label}
            value={text(now[key])}
            placeholder={way === "blocks" ? roomOf[key] : undefined}
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
      {way === "band" && (
        <Field
          label="Corners"
          value={text(now["corners"])}
          placeholder="0"
          inputMode="numeric"
          where={`${base}.corners`}
          onChange={(typed) => set("corners", typed)}
        />
      )}
      {way === "band" && Number(now["corners"] ?? 0) > 0 && (
        <Choose
          label="At a corner"
          value={text(now["corner"]) || "turned"}
          options={CORNERS}
          onChange={(to) => set("corner", to)}
        />
      )}
      {way === "band" && now["closed"] !== true && now["fill"] === false && (
        <Choose
          label="Begins"
          value={text(now["start"]) || "middle"}
          options={STARTS}
          onChange={(to) => set("start", to)}
        />
      )}
      {way === "blocks" && (
        <Choose
          label="Block order"
          value={text(now["order"]) || "middle-out"}
          options={ORDERS}
          onChange={(to) => set("order", to)}
        />
      )}
      {way === "band" && now["closed"] !== true && (
        <Form.Check
          id={`${id}-fill`}
          label="Fill it to both ends"
          checked={now["fill"] !== false}
          onChange={(e) => set("fill", e.target.checked)}
        />
      )}
    </div>
  );
}
