// Where the design goes, typed: the place, its measures, turn, tilt, mirror.
import { useId } from "react";
import Form from "react-bootstrap/Form";
import type { House, Place } from "../../api/client";
import { capital, number } from "../../parts/format";
import { MeasureField } from "../../parts/MeasureField";
import { Field } from "./Field";
import { placeOf, withPlace, type DraftPlace } from "./place";
import type { DraftTools } from "./useDraft";
import type { FieldError } from "./useEstimate";

interface Props {
  tools: DraftTools;
  house: House;
  place: Place | undefined;
  at: (where: string) => FieldError;
}

const short = (reference: string) =>
  reference
    .replace("point where shoulder seam meets collar", "collar point")
    .replace(/^the |^its /, "");

export function PlaceFields({ tools, house, place, at }: Props) {
  const id = useId();
  const { placement } = tools;
  const base = `lines[${tools.lineAt}].placements[${tools.placeAt}].place`;
  const positionId = placement.position || house.goods[tools.line.goods.class]?.position || "";
  const position = house.positions[positionId];
  const typed = placeOf(placement);
  const set = (change: Partial<DraftPlace>) => tools.setPlacement(withPlace(placement, change));
  const moved = Object.keys((placement.rest["place"] as object | undefined) ?? {}).length > 0;
  const mark = place?.marks[0];
  const usual =
    position && position.anchor !== "centre" ? position.gap_mm : mark?.from_reference_mm;
  return (
    <div className="place-fields">
      <div className="where">
        <Form.Label htmlFor={id}>Place</Form.Label>
        <Form.Select
          id={id}
          value={positionId}
          onChange={(e) =>
            tools.setPlacement({
              position: e.target.value,
              ...withPlace(placement, { gap_mm: "", side_mm: "" }),
            })
          }
        >
          {Object.entries(house.positions).map(([key, row]) => (
            <option key={key} value={key}>
              {row.label}
            </option>
          ))}
        </Form.Select>
      </div>
      {position && (
        <>
          <MeasureField
            label={capital(`${position.direction} ${short(position.reference)}`)}
            value={typed.gap_mm}
            placeholder={
              typeof usual === "number"
                ? number(usual, 1)
                : ({ 0.5: "half", 0.3333: "a third" }[position.share] ?? "")
            }
            error={at(`${base}.gap_mm`)}
            onChange={(gap_mm) => set({ gap_mm })}
          />
          {!position.corner_deg && (
            <MeasureField
              label={`From ${short(position.side_reference)}`}
              value={typed.side_mm}
              placeholder={number(mark?.side_mm ?? 0, 1)}
              error={at(`${base}.side_mm`)}
              onChange={(side_mm) => set({ side_mm })}
            />
          )}
        </>
      )}
      <div>
        <Form.Label htmlFor={`${id}-turn`}>Turn</Form.Label>
        <Form.Select
          id={`${id}-turn`}
          value={typed.turn}
          onChange={(e) => set({ turn: Number(e.target.value) })}
        >
          {[0, 90, 180, 270].map((degrees) => (
            <option key={degrees} value={degrees}>{`${degrees}°`}</option>
          ))}
        </Form.Select>
      </div>
      <Field
        label="Tilt, °"
        value={typed.tilt_deg}
        placeholder="0"
        inputMode="decimal"
        error={at(`${base}.tilt_deg`)}
        onChange={(tilt_deg) => set({ tilt_deg })}
      />
      <Form.Check
        id={`${id}-mirror`}
        label="Mirror"
        checked={typed.mirror}
        onChange={(e) => set({ mirror: e.target.checked })}
      />
      {moved && (
        <button
          type="button"
          className="btn btn-plain"
          onClick={() => set({ gap_mm: "", side_mm: "", turn: 0, tilt_deg: "", mirror: false })}
        >
          Back to usual
        </button>
      )}
    </div>
  );
}
