// A seam opened so that the place lies flat, and closed again; filling out and back.
import { Choose } from "../../../parts/fields";
import { useId } from "react";
import Form from "react-bootstrap/Form";
import { text, useAt, useDraft, useHouse, useOpenPlace } from "../../../draft";
import { number } from "../../../parts/format";
import { MeasureField } from "../../../parts/MeasureField";
import { Field } from "../Field";

const SIDES = [
  ["left", "left of the design"],
  ["right", "right of it"],
  ["above", "above it"],
  ["below", "below it"],
] as const;

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
      <Form.Check
        id={`${id}-jig`}
        label="Marked with a jig"
        checked={placement.jig === true}
        onChange={(e) =>
          actions.placement("jig", (found) => {
            if (e.target.checked) found.jig = true;
            else delete found.jig;
          })
        }
      />
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
