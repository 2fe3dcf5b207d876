// A seam opened so that the place lies flat, and closed again; filling out and back.
import { Choose } from "../../../parts/fields";
import { useId } from "react";
import Form from "react-bootstrap/Form";
import { text, useAt, useDraft, useHouse, useLinePrice, useOpenPlace } from "../../../draft";
import { number } from "../../../parts/format";
import { MeasureField } from "../../../parts/MeasureField";
import { Field } from "../Field";

const SIDES = [
  ["left", "left of the design"],
  ["right", "right of it"],
  ["above", "above it"],
  ["below", "below it"],
] as const;

/** The room of this very piece, where it was measured; a piece of flat cloth as large as it is. */
function RoomHere() {
  const at = useAt();
  const { lineAt, placement, placeAt, actions } = useOpenPlace();
  const { line } = useDraft();
  const goods = useHouse().goods[line.goods.class ?? ""];
  const there = useLinePrice().line.places[placeAt]?.room;
  const room = placement.room;
  const base = `lines[${lineAt}].placements[${placeAt}].room`;
  const set = (side: "width_mm" | "height_mm", typed: string) =>
    actions.placement(`room.${side}`, (found) => {
      const other = side === "width_mm" ? "height_mm" : "width_mm";
      const known = found.room?.[other] ?? there?.[other] ?? 300;
      if (typed) found.room = { [other]: known, [side]: typed } as never;
      else delete found.room;
    });
  const piece = (side: "width_mm" | "height_mm", typed: string) =>
    actions.line(`goods.${side}`, (found) => {
      const { [side]: _, ...others } = found.goods;
      found.goods = typed ? ({ ...others, [side]: typed } as never) : (others as never);
    });
  return (
    <>
      {goods && goods.piece_width_mm > 0 && (
        <>
          <MeasureField
            label="Piece wide"
            value={text(line.goods.width_mm)}
            placeholder={String(goods.piece_width_mm)}
            error={at(`lines[${lineAt}].goods.width_mm`)}
            onChange={(typed) => piece("width_mm", typed)}
          />
          <MeasureField
            label="Piece long"
            value={text(line.goods.height_mm)}
            placeholder={String(goods.piece_height_mm)}
            error={at(`lines[${lineAt}].goods.height_mm`)}
            onChange={(typed) => piece("height_mm", typed)}
          />
        </>
      )}
      <MeasureField
        label="Room here, wide"
        value={text(room?.width_mm)}
        placeholder={there?.width_mm ? String(there.width_mm) : "as it is"}
        error={at(`${base}.width_mm`)}
        onChange={(typed) => set("width_mm", typed)}
      />
      <MeasureField
        label="Room here, high"
        value={text(room?.height_mm)}
        placeholder={there ? String(there.height_mm) : "as it is"}
        error={at(`${base}.height_mm`)}
        onChange={(typed) => set("height_mm", typed)}
      />
    </>
  );
}

export function Opening() {
  const id = useId();
  const at = useAt();
  const { lineAt, placement, placeAt, actions } = useOpenPlace();
  const { line } = useDraft();
  const goods = useHouse().goods[line.goods.class ?? ""];
  const base = `lines[${lineAt}].placements[${placeAt}].seam`;
  const seam = placement.seam;
  const filled = goods?.hooping === "awkward-toy";
  const finishing = line.finishing ?? [];
  const out = finishing.includes("restuff");
  return (
    <div className="place-fields repeat">
      <MeasureField
        label="Seam opened"
        value={text(seam?.length_mm)}
        placeholder="none"
        error={at(`${base}.length_mm`)}
        onChange={(length_mm) =>
          actions.placement("seam.length_mm", (found) => {
            if (length_mm) {
              found.seam = { ...(seam ?? {}), length_mm: length_mm as never } as never;
            } else delete found.seam;
          })
        }
      />
      {seam && (
        <Choose
          label="Seam lies"
          value={seam.side ?? "left"}
          options={SIDES}
          onChange={(side) =>
            actions.placement("seam.side", (found) => {
              if (found.seam) found.seam = { ...found.seam, side: side as "left" };
            })
          }
        />
      )}
      {seam && (
        <Form.Check
          id={`${id}-lining`}
          label="Lining loosened"
          checked={seam.lining === true}
          onChange={(e) =>
            actions.placement("seam.lining", (found) => {
              if (found.seam) found.seam = { ...found.seam, lining: e.target.checked };
            })
          }
        />
      )}
      {seam && (
        <Form.Check
          id={`${id}-felled`}
          label="Felled"
          checked={seam.felled === true}
          onChange={(e) =>
            actions.placement("seam.felled", (found) => {
              if (found.seam) found.seam = { ...found.seam, felled: e.target.checked };
            })
          }
        />
      )}
      <Field
        label="A piece weighs, g"
        value={text(line.goods.weight_g)}
        placeholder={goods?.weight_g ? number(goods.weight_g) : "little"}
        inputMode="decimal"
        where={`lines[${lineAt}].goods.weight_g`}
        onChange={(weight) =>
          actions.line("goods.weight_g", (found) => {
            if (weight) found.goods.weight_g = weight;
            else delete found.goods.weight_g;
          })
        }
      />
      <RoomHere />
      <Form.Check
        id={`${id}-patch`}
        label="Sewn as a patch, fixed on after"
        checked={placement.as_patch === true}
        onChange={(e) =>
          actions.placement("as_patch", (found) => {
            if (e.target.checked) found.as_patch = true;
            else delete found.as_patch;
          })
        }
      />
      {(filled || out) && (
        <Form.Check
          id={`${id}-filling`}
          label="Filling out and back"
          checked={out}
          onChange={() =>
            actions.line("finishing", (found) => {
              found.finishing = out
                ? finishing.filter((each) => each !== "restuff")
                : [...finishing, "restuff"];
            })
          }
        />
      )}
    </div>
  );
}
