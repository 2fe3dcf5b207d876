// The piece: our drawing of the goods with the designs in place to scale. Drag one, or use arrows.
import { useState } from "react";
import { type EstimateLine, type House } from "../../../api";
import {
  useBench,
  useOpen,
  useOpenPlace,
  useHouse,
  useLinePrice,
  type DraftPlace,
} from "../../../draft";
import { extent, spotOn, useDrawings, viewOf, type View } from "../../../look/drawings";
import { Goods, tintOf } from "../../../look/drawings/Goods";
import { bareLength, lengthText } from "../../../parts/units";
import { usePictureHeight } from "../../../parts/usePictureHeight";
import { useUnits } from "../../../parts/useUnits";
import { useWidth } from "../../../parts/useWidth";
import { drawingOf } from "../../../parts/GoodsThumb";
import {
  fit,
  lyingHeight,
  lyingOn,
  lyingSize,
  lyingTurned,
  measuresAt,
  pointOf,
  snapped,
  usual,
  type Measures,
  type Position,
  type XY,
} from "./piece.geometry";
import { HoopOutline, PieceDesign } from "./PieceDesign";
import { PieceDimensions } from "./PieceDimensions";
import { PieceHold } from "./PieceHold";
import { RoomOutline } from "./RoomOutline";
import { SeamDrawn } from "./SeamDrawn";
import { edgeOf, grip, middleSize } from "./pieceSizes";
import { plainMm, setPlace } from "../place";
import style from "./PiecePicture.module.scss";

const ROOM = 18;
const SNAP_PX = 5;
const NAMES: Record<View["side"], string> = { front: "Front", back: "Back", side: "Side" };

/** The designs that a view of the piece shows, each with its mark of the drawn size. */
function shownOn(view: View, line: EstimateLine, house: House) {
  return line.places.flatMap((place, n) => {
    const position = house.positions[place.position] as Position | undefined;
    const drawnSize = middleSize(house, place.position)?.label;
    const mark = place.marks.find((m) => m.sizes === drawnSize) ?? place.marks[0];
    const spot = position && mark && spotOn(view, position, mark);
    const lying = spot && lyingOn(view, position, place, mark);
    return lying ? [{ n, place, position, from: spot.from as XY, lying }] : [];
  });
}

/** Measures with those that are typed as plain numbers in their stead. */
function typedOver(measures: Measures, place: DraftPlace | undefined): Measures {
  return {
    gap_mm: plainMm(place?.gap_mm) ?? measures.gap_mm,
    side_mm: plainMm(place?.side_mm) ?? measures.side_mm,
  };
}

export function PiecePicture() {
  const [ref, width] = useWidth<HTMLDivElement>();
  const high = usePictureHeight();
  const house = useHouse();
  const { placeAt } = useOpenPlace();
  const goods = useOpen((open) => open.line.goods.class);
  const { line } = useLinePrice();
  const drawings = useDrawings();
  const drawing = drawings?.[drawingOf(house, goods)];
  const here = house.positions[line.places[placeAt]?.position ?? ""] as Position | undefined;
  const proper = drawing && here ? viewOf(drawing, here) : undefined;
  const [turned, setTurned] = useState<{ of: View | undefined; to: View } | null>(null);
  const view = turned && turned.of === proper ? turned.to : (proper ?? drawing?.views[0]);
  if (!drawings)
    return <div className={style["piece-drawing"]} ref={ref} style={{ height: high }} />;
  if (!drawing || !view) return null;
  const shown = shownOn(view, line, house).filter(
    ({ position }) => viewOf(drawing, position) === view,
  );
  const current = shown.find((each) => each.n === placeAt);
  return (
    <div className={style["piece-drawing"]} ref={ref} style={{ height: high }}>
      {drawing.views.length > 1 && (
        <div className={style["sides"]} role="group" aria-label="Seen from">
          {drawing.views.map((each) => (
            <button
              key={each.side}
              type="button"
              aria-pressed={each === view}
              onClick={() => setTurned({ of: proper, to: each })}
            >
              {NAMES[each.side]}
            </button>
          ))}
        </div>
      )}
      {width > 0 && <Drawn view={view} shown={shown} width={width} high={high} />}
      {!current && (
        <p className={`hint ${style["on-drawing"]}`}>
          {here && !proper
            ? `A ${house.goods[goods ?? ""]?.label.toLowerCase()} has no ${here.reference.replace("the ", "")} in our drawing: the measure holds all the same.`
            : "This place is on another side of the piece."}
        </p>
      )}
    </div>
  );
}

type Shown = ReturnType<typeof shownOn>[number];

interface DrawnProps {
  view: View;
  shown: Shown[];
  width: number;
  high: number;
}

function Drawn({ view, shown, width, high }: DrawnProps) {
  const { placeAt, go } = useOpenPlace();
  const placements = useOpen((open) => open.line.placements);
  const { cloth } = useLinePrice().line;
  const frame = fit(extent(view), Math.max(width, 100), high, ROOM);
  const current = shown.find((each) => each.n === placeAt);
  const tint = tintOf(cloth);
  return (
    <svg width={width} height={high} aria-label="Drawn to scale" role="group">
      <g transform={`translate(${frame.x} ${frame.y}) scale(${frame.scale})`}>
        <Goods view={view} scale={frame.scale} tint={tint} />
        {shown
          .filter((each) => each !== current)
          .map(({ n, place, lying }) => (
            <g
              key={n}
              transform={`translate(${lying.at[0]} ${lying.at[1]})`}
              opacity="0.55"
              onClick={() => go({ place: placements[n]?.id ?? "" })}
            >
              <PieceDesign n={n} scale={frame.scale} />
              <title>{place.label}</title>
            </g>
          ))}
      </g>
      {current && <Current view={view} current={current} frame={frame} />}
    </svg>
  );
}

interface CurrentProps {
  view: View;
  current: Shown;
  frame: { scale: number; x: number; y: number };
}

/** The design of the open place: its measures, and a hold to drag it by. */
function Current({ view, current, frame }: CurrentProps) {
  const house = useHouse();
  const { editable } = useBench();
  const { units } = useUnits();
  const { placement, actions } = useOpenPlace();
  const [held, setHeld] = useState<Measures | null>(null);
  const [from, setFrom] = useState<XY>([0, 0]);
  const { n, lying, place, position } = current;
  const { line } = useLinePrice();
  const design = line.designs[n];
  const diagonal = (house.positions[place.position]?.corner_deg ?? 0) > 0;
  const size =
    diagonal && design
      ? lyingTurned(design.width_mm, design.height_mm, place.turn)
      : lyingSize(place.corners_mm);
  // what is typed shows at once, before the server has answered
  const now = typedOver(lying.measures, placement.place);
  const at = pointOf(held ?? now, lying);
  const keep = (to: Measures) => actions.placement("place.gap_mm,side_mm", (p) => setPlace(p, to));
  const [x, y] = [frame.x + at[0] * frame.scale, frame.y + at[1] * frame.scale];
  return (
    <>
      <PieceDimensions
        from={current.from}
        at={at}
        frame={frame}
        upTo={edgeOf(at, place.corners_mm, position)}
        under={at[1] + lyingHeight(place.corners_mm) / 2}
        text={(mm) => bareLength(mm, units)}
      />
      <PieceHold
        label={`${place.label}: ${held ? lengthText(held.gap_mm, units) : place.marks[0]?.words}`}
        editable={editable}
        scale={frame.scale}
        onStart={() => setFrom(at)}
        onMove={(dx, dy, free) => {
          const found = measuresAt([from[0] + dx, from[1] + dy], lying);
          const aim = usual(position, view, middleSize(house, place.position));
          setHeld(free ? found : snapped(found, aim, SNAP_PX / frame.scale));
        }}
        onStep={(dx, dy) => keep(measuresAt([at[0] + dx, at[1] + dy], lying))}
        onDrop={() => {
          if (held) keep(held);
          setHeld(null);
        }}
        onCancel={() => setHeld(null)}
      >
        <g transform={`translate(${x} ${y}) scale(${frame.scale})`} className={held ? "held" : ""}>
          <rect {...grip(place.corners_mm, 44 / frame.scale)} fill="transparent" />
          <HoopOutline n={n} />
          <PieceDesign n={n} scale={frame.scale} current />
        </g>
      </PieceHold>
      <SeamDrawn at={at} size={size} frame={frame} />
      {place.room && (
        <RoomOutline
          room={place.room}
          from={current.from}
          usual={pointOf(usual(position, view, middleSize(house, place.position)), lying)}
          design={{ at, size, tilt: diagonal ? place.tilt_deg : 0 }}
          anchor={position.anchor}
          frame={frame}
          wide={extent(view).width}
        />
      )}
    </>
  );
}
