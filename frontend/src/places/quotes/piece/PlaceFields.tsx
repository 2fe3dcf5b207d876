// Where the design goes, typed: the place, its measures, turn, tilt, mirror.
import { Choose } from "../../../parts/fields";
import { useId } from "react";
import Form from "react-bootstrap/Form";
import { type House, type Place } from "../../../api";
import { text, useAt, useOpen, useOpenPlace, useHouse, type DraftPlace } from "../../../draft";
import { capital, number } from "../../../parts/format";
import { MeasureField } from "../../../parts/MeasureField";
import { Field } from "../Field";
import { placesOf } from "../goods/goods";
import { setPlace } from "../place";
import style from "./PlaceFields.module.scss";

type Position = House["positions"][string];

const short = (reference: string) =>
  reference
    .replace("point where shoulder seam meets collar", "collar point")
    .replace(/^the |^its /, "");

export function PlaceFields({ place }: { place: Place | undefined }) {
  const id = useId();
  const house = useHouse();
  const { lineAt, placement, placeAt, actions } = useOpenPlace();
  const goods = useOpen((open) => open.line.goods.class);
  const base = `lines[${lineAt}].placements[${placeAt}].place`;
  const positionId =
    placement.position || place?.position || house.goods[goods ?? ""]?.position || "";
  const position = house.positions[positionId];
  const own = placesOf(house, goods ?? "");
  const set = (change: DraftPlace) =>
    actions.placement(`place.${Object.keys(change).join()}`, (found) => setPlace(found, change));
  return (
    <div className={style["place-fields"]}>
      <div className="where">
        <Form.Label htmlFor={id}>Place</Form.Label>
        <Form.Select
          id={id}
          value={positionId}
          onChange={(e) =>
            actions.placement("position", (found) => {
              found.position = e.target.value;
              setPlace(found, { gap_mm: "", side_mm: "" });
            })
          }
        >
          <optgroup label="Usual here">
            {own.map((key) => (
              <option key={key} value={key}>
                {house.positions[key]?.label}
              </option>
            ))}
          </optgroup>
          <optgroup label="Elsewhere">
            {Object.entries(house.positions)
              .filter(([key]) => !own.includes(key))
              .map(([key, row]) => (
                <option key={key} value={key}>
                  {row.label}
                </option>
              ))}
          </optgroup>
        </Form.Select>
      </div>
      {position && <Measures position={position} place={place} base={base} set={set} />}
      <Turned base={base} set={set} tilt={position?.tilt_deg ?? 0} />
      {(placement.place ?? placement.position) && (
        <button
          type="button"
          className="btn btn-plain"
          onClick={() =>
            actions.placement("place", (found) => {
              delete found.position;
              delete found.place;
            })
          }
        >
          Back to usual
        </button>
      )}
    </div>
  );
}

interface PartProps {
  base: string;
  set: (change: DraftPlace) => void;
}

interface MeasuresProps extends PartProps {
  position: Position;
  place: Place | undefined;
}

function Measures({ position, place, base, set }: MeasuresProps) {
  const at = useAt();
  const typed = useOpenPlace().placement.place ?? {};
  const mark = place?.marks[0];
  const usual = position.anchor !== "centre" ? position.gap_mm : mark?.from_reference_mm;
  const shares: Record<number, string> = { 0.5: "half", 0.3333: "a third" };
  return (
    <>
      <MeasureField
        label={capital(`${position.direction} ${short(position.reference)}`)}
        value={text(typed.gap_mm)}
        placeholder={typeof usual === "number" ? number(usual, 1) : (shares[position.share] ?? "")}
        error={at(`${base}.gap_mm`)}
        onChange={(gap_mm) => set({ gap_mm })}
      />
      {!position.corner_deg && (
        <MeasureField
          label={`From ${short(position.side_reference)}`}
          value={text(typed.side_mm)}
          placeholder={number(mark?.side_mm ?? 0, 1)}
          error={at(`${base}.side_mm`)}
          onChange={(side_mm) => set({ side_mm })}
        />
      )}
    </>
  );
}

function Turned({ base, set, tilt }: PartProps & { tilt: number }) {
  const id = useId();
  const typed = useOpenPlace().placement.place ?? {};
  return (
    <>
      <Choose
        label="Turn"
        value={String(typed.turn ?? 0)}
        onChange={(to) => set({ turn: Number(to) as NonNullable<DraftPlace["turn"]> })}
        options={[0, 90, 180, 270].map((degrees) => [String(degrees), `${degrees}°`] as const)}
      />
      <Field
        label="Tilt, °"
        value={text(typed.tilt_deg)}
        placeholder={number(tilt)}
        inputMode="decimal"
        where={`${base}.tilt_deg`}
        onChange={(tilt_deg) => set({ tilt_deg })}
      />
      <Form.Check
        id={`${id}-mirror`}
        label="Mirror"
        checked={typed.mirror === true}
        onChange={(e) => set({ mirror: e.target.checked })}
      />
    </>
  );
}
