// The places of a piece in the order they are sewn: moved, and whether two share a hooping.
import { wordsOf } from "../../../parts/Told";
import { useId } from "react";
import Form from "react-bootstrap/Form";
import { useAt, useBench, useDraft, useHouse, useLinePrice } from "../../../draft";
import { useDrawings, viewOf } from "../../../look/drawings";
import { drawingOf } from "../../../parts/GoodsThumb";
import type { Position } from "./piece.geometry";
import style from "../LineTabs.module.scss";

const SIDES: Record<string, string> = { front: "front", back: "back", side: "side" };

export function PlaceOrder() {
  const id = useId();
  const house = useHouse();
  const at = useAt();
  const { editable } = useBench();
  const { line: asked, lineAt, placement, placeAt, actions } = useDraft();
  const { line } = useLinePrice();
  const count = asked.placements.length;
  const place = line.places[placeAt];
  const drawings = useDrawings();
  if (count < 2 || !place) return null;
  const drawing = drawings?.[drawingOf(house, asked.goods.class)];
  const position = house.positions[place.position] as Position | undefined;
  const side = drawing && position && viewOf(drawing, position)?.side;
  const before = line.places[placeAt - 1];
  const move = (way: -1 | 1) => actions.movePlacement(way);
  const wrong = at(`lines[${lineAt}].placements[${placeAt}].shares`);
  return (
    <div className={style["place-order"]} role="group" aria-label="Order of the places">
      <span className="hint">
        sewn {placeAt + 1} of {count}
        {side && `, ${SIDES[side] ?? side}`}
      </span>
      {editable && (
        <>
          <button
            type="button"
            className="btn btn-plain"
            aria-disabled={placeAt === 0}
            onClick={() => move(-1)}
          >
            earlier
          </button>
          <button
            type="button"
            className="btn btn-plain"
            aria-disabled={placeAt === count - 1}
            onClick={() => move(1)}
          >
            later
          </button>
        </>
      )}
      {before && (
        <Form.Check
          id={id}
          disabled={!editable}
          label={`In the hooping of ${before.label.toLowerCase()}`}
          checked={placement.shares === true}
          isInvalid={!!wrong}
          onChange={(e) =>
            actions.placement("shares", (found) => {
              if (e.target.checked) found.shares = true;
              else delete found.shares;
            })
          }
        />
      )}
      {wrong && <span className="invalid-feedback d-block">{wordsOf(wrong)}</span>}
    </div>
  );
}
