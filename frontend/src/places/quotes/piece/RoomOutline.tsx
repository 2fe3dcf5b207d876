// The room at a place, outlined on the piece; what of the design lies beyond it is marked.
import { useId } from "react";
import { type Place } from "../../../api";
import { roomBox, type Box, type XY } from "./piece.geometry";
import style from "./PiecePicture.module.scss";

interface Props {
  room: NonNullable<Place["room"]>;
  /** Where the design's centre usually lies. [mm] */
  usual: XY;
  /** The point that measures are taken from. [mm] */
  from: XY;
  design: {
    at: XY;
    size: readonly [number, number];
    /** With its room, at a corner. */ tilt: number;
  };
  anchor: string;
  frame: { scale: number; x: number; y: number };
  /** How wide the piece is, for a room that runs along it. [mm] */
  wide: number;
}

const outline = ({ x, y, width, height }: Box) => `M${x} ${y}H${x + width}V${y + height}H${x}Z`;

export function RoomOutline({ room, usual, from, design, anchor, frame, wide }: Props) {
  const id = useId();
  const [w, h] = design.size;
  const { tilt } = design;
  // on the diagonal of a corner the room is round the design's usual place
  const edge: XY = tilt ? [0, -9000] : from;
  const box = roomBox(room, { at: usual, from: edge, high: h, anchor }, wide);
  const sewn = { x: design.at[0] - w / 2, y: design.at[1] - h / 2, width: w, height: h };
  return (
    <g
      transform={`translate(${frame.x} ${frame.y}) scale(${frame.scale})`}
      className={style[room.over ? "room-over" : "room"]}
      role="img"
      aria-label={`Room there: ${room.text}${room.over ? "; the design is larger" : ""}`}
    >
      <g transform={tilt ? `rotate(${tilt} ${usual[0]} ${usual[1]})` : undefined}>
        <path d={outline(box)} className={style["room-edge"]} vectorEffect="non-scaling-stroke" />
        {room.over && (
          <>
            <clipPath id={id}>
              <path d={`M-9000 -9000H9000V9000H-9000Z${outline(box)}`} clipRule="evenodd" />
            </clipPath>
            <g clipPath={`url(#${id})`}>
              <rect {...sewn} className={style["beyond"]} vectorEffect="non-scaling-stroke" />
            </g>
          </>
        )}
      </g>
    </g>
  );
}
