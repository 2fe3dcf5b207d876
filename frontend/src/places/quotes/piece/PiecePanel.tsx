// The piece: the design to scale in its hoop, its size, its thread colours.
import { type Place } from "../../../api";
import { useBench, useOpenPlace, useHouse, useLinePrice } from "../../../draft";
import { counted, number } from "../../../parts/format";
import { GoesIn } from "../../../parts/GoesIn";
import { StitchPicture } from "../../../parts/StitchPicture";
import { lengthText, type Units } from "../../../parts/units";
import { useUnits } from "../../../parts/useUnits";
import { PlaceTabs } from "../LineTabs";
import { BandPicture, BlocksPicture } from "./BandPicture";
import { Layers, usePatches } from "../making/Layers";
import { Opening } from "./Opening";
import { PanelAdvice } from "../PanelAdvice";
import { PieceFigures } from "./PieceFigures";
import { PlaceOrder } from "./PlaceOrder";
import { PiecePicture } from "./PiecePicture";
import { PlaceFields } from "./PlaceFields";
import { Repeat } from "./Repeat";
import { lyingSize, lyingTurned } from "./piece.geometry";
import { usePath } from "../design/usePath";
import style from "./PiecePanel.module.scss";

export function PiecePanel() {
  const { editable } = useBench();
  const { units } = useUnits();
  const { placeAt } = useOpenPlace();
  const { line } = useLinePrice();
  const design = line.designs[placeAt];
  const place = line.places[placeAt];
  if (!design) return null;
  return (
    <section className="panel piece-panel" aria-label="The piece">
      <header>
        <h2 className="small-caps-head">The piece</h2>
        <PlaceTabs />
      </header>
      <svg width="0" height="0" className="position-absolute" aria-hidden="true">
        <pattern id="design-hatch" width="6" height="6" patternUnits="userSpaceOnUse">
          <rect width="6" height="6" fill="var(--linen)" />
          <path d="M0 6L6 0" stroke="var(--line-strong)" strokeWidth="0.8" />
        </pattern>
      </svg>
      <PlaceOrder />
      <div className={style["piece-pair"]}>
        <PiecePicture />
        <InTheHoop place={place} />
      </div>
      <p className="hint mb-1">
        {design.size_text}, {counted(design.trims, "trim")}
        {design.band > 0 && `, an estimate ±${number(design.band * 100)}%`}
        {place && hoopings(place, units)}
        {place?.room && `; room there ${place.room.text}`}
      </p>
      <PanelAdvice panel="piece" />
      {place?.way && <GoesIn way={place.way} />}
      <div className="bare" inert={!editable}>
        {place?.band && <BandPicture band={place.band} />}
        {place && place.block_order.length > 0 && <BlocksPicture order={place.block_order} />}
        <Layers />
        <PlaceFields place={place} />
        <Repeat />
        <Opening />
      </div>
      <ul className={style["mark-words"]}>
        {place?.marks.map((mark) => (
          <li key={mark.sizes}>
            {mark.sizes && place.marks.length > 1 && <strong>{mark.sizes}: </strong>}
            {mark.words}
          </li>
        ))}
      </ul>
      {line.places.length > 1 && (
        <p className="hint mb-0">
          A piece with all its places; each opens the working of this one.
        </p>
      )}
      <PieceFigures />
    </section>
  );
}

/** The stitches to scale in their hoop. */
function InTheHoop({ place }: { place: Place | undefined }) {
  const house = useHouse();
  const { placement, placeAt } = useOpenPlace();
  const { line } = useLinePrice();
  const path = usePath(placement);
  const design = line.designs[placeAt];
  const patches = usePatches(design?.width_mm ?? 0, design?.height_mm ?? 0);
  if (!design) return null;
  // at a corner the hoop lies on the diagonal with its design
  const diagonal = (house.positions[place?.position ?? ""]?.corner_deg ?? 0) > 0;
  const hoopId = line.methods.find((m) => m.key === "hoop" && m.placement === placeAt)?.value;
  const together = place && ["together", "band"].includes(place.hooping.kind);
  return (
    <StitchPicture
      {...(together && {
        grid: {
          columns: place.hooping.columns,
          rows: place.hooping.rows,
          gapMm: place.hooping.gap_mm,
        },
      })}
      patches={patches}
      path={path}
      widthMm={design.width_mm}
      heightMm={design.height_mm}
      hoop={house.hoops[hoopId ?? ""] ?? null}
      turned={design.hoop_turned}
      turn={place ? place.turn + (diagonal ? 0 : place.tilt_deg) : 0}
      mirror={place?.mirror ?? false}
      lyingMm={
        place && !diagonal
          ? lyingSize(place.corners_mm)
          : lyingTurned(design.width_mm, design.height_mm, place?.turn ?? 0)
      }
    />
  );
}

function hoopings({ hooping, hoop_way, nearest_rim: rim }: Place, units: Units): string {
  const said: string[] = [];
  if (hooping.kind === "band")
    said.push(`${counted(hooping.copies, "motif")}, ${lengthText(hooping.gap_mm, units)} apart`);
  if (hooping.kind === "blocks") said.push(counted(hooping.copies, "block"));
  if (hooping.kind === "together") said.push(`${counted(hooping.pieces, "piece")} in a hooping`);
  if (hooping.per_piece > 1) said.push(`${hooping.per_piece} hoopings a piece`);
  if (hooping.kind !== "single") said.push(`${counted(hooping.total, "hooping")} in all`);
  if (hoop_way) said.push(`lies ${hoop_way}° round in the hoop`);
  if (rim) said.push(`nearest to the rim at ${rim.sides}, ${lengthText(rim.left_mm, units)}`);
  return said.map((words) => `; ${words}`).join("");
}
