// The piece: the design to scale in its hoop, its size, its thread colours.
import type { Advice, EstimateLine, House, Place } from "../../api/client";
import { AdviceList } from "../../parts/AdviceList";
import { number } from "../../parts/format";
import { costsHidden } from "../../parts/money";
import { StitchPicture } from "../../parts/StitchPicture";
import { lengthText, longText, sizeText, type Units } from "../../parts/units";
import { useUnits } from "../../parts/useUnits";
import { patched } from "./draft";
import { materialName } from "./goods";
import { PlaceTabs } from "./LineTabs";
import { PiecePicture } from "./PiecePicture";
import { PlaceFields } from "./PlaceFields";
import { Repeat } from "./Repeat";
import { lyingSize } from "./piece.geometry";
import type { DraftTools } from "./useDraft";
import type { FieldError } from "./useEstimate";
import { usePath } from "./usePath";

interface Props {
  tools: DraftTools;
  house: House;
  line: EstimateLine;
  advice: Advice[];
  onOverrule: ((advice: Advice, reason: string) => void) | undefined;
  editable: boolean;
  at: (where: string) => FieldError;
  onOpen: (id: string) => void;
}

export function PiecePanel({
  tools,
  house,
  line,
  advice,
  onOverrule,
  editable,
  at,
  onOpen,
}: Props) {
  const { units } = useUnits();
  const { placement, placeAt } = tools;
  const path = usePath(placement, tools.line);
  const design = line.designs[placeAt];
  const place = line.places[placeAt];
  const hoopId = line.methods.find((m) => m.key === "hoop" && m.placement === placeAt)?.value;
  const hoop = house.hoops[hoopId ?? ""] ?? null;
  if (!design) return null;
  const turned = place ? place.turn + place.tilt_deg : 0;
  return (
    <section className="panel piece-panel" aria-label="The piece">
      <header>
        <h2 className="small-caps-head">The piece</h2>
        <PlaceTabs tools={tools} house={house} editable={editable} />
      </header>
      <svg width="0" height="0" className="position-absolute" aria-hidden="true">
        <pattern id="design-hatch" width="6" height="6" patternUnits="userSpaceOnUse">
          <rect width="6" height="6" fill="var(--linen)" />
          <path d="M0 6L6 0" stroke="var(--line-strong)" strokeWidth="0.8" />
        </pattern>
      </svg>
      <div className="piece-pair">
        <PiecePicture tools={tools} house={house} line={line} editable={editable} />
        <StitchPicture
          path={path}
          widthMm={design.width_mm}
          heightMm={design.height_mm}
          hoop={hoop}
          turned={design.hoop_turned}
          turn={turned}
          mirror={place?.mirror ?? false}
          lyingMm={place ? lyingSize(place.corners_mm) : [design.width_mm, design.height_mm]}
        />
      </div>
      <p className="hint mb-1">
        {sizeText(design.width_mm, design.height_mm, units)}, {design.trims} trims
        {design.band > 0 && `, an estimate ±${number(design.band * 100)}%`}
        {place && hoopings(place, units)}
      </p>
      <AdviceList
        advice={advice}
        onFix={(patch) => tools.set(patched(tools.draft, patch))}
        onOverrule={onOverrule}
      />
      <div className="bare" inert={!editable}>
        <PlaceFields tools={tools} house={house} place={place} at={at} />
        <Repeat tools={tools} at={at} />
      </div>
      <ul className="mark-words">
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
      <Figures house={house} line={line} place={placeAt} onOpen={onOpen} />
    </section>
  );
}

function hoopings({ hooping, hoop_way, nearest_rim: rim }: Place, units: Units): string {
  const said: string[] = [];
  if (hooping.kind === "band")
    said.push(`${hooping.copies} motifs, ${lengthText(hooping.gap_mm, units)} apart`);
  if (hooping.kind === "together") said.push(`${hooping.pieces} pieces in a hooping`);
  if (hooping.per_piece > 1) said.push(`${hooping.per_piece} hoopings a piece`);
  if (hooping.kind !== "single") said.push(`${hooping.total} hoopings in all`);
  if (hoop_way) said.push(`lies ${hoop_way}° round in the hoop`);
  if (rim) said.push(`nearest to the rim at ${rim.sides}, ${lengthText(rim.left_mm, units)}`);
  return said.map((words) => `; ${words}`).join("");
}

interface FiguresProps {
  line: EstimateLine;
  place: number;
  house: House;
  onOpen: (id: string) => void;
}

function Figures({ house, line, place, onOpen }: FiguresProps) {
  const { units } = useUnits();
  const piece = line.per_piece;
  const cut = (what: string) => line.cuts.find((c) => c.what === what && c.placement === place);
  const backing = cut("backing");
  const topping = cut("topping");
  const at = `placements[${place}]`;
  const rows: [string, string, string][] = [
    ["Stitches", number(piece.stitches), `${at}.needle_bare`],
    ["Needle thread", longText(piece.needle_m, units), `${at}.needle`],
    ["Bobbin thread", longText(piece.bobbin_m, units), `${at}.bobbin`],
    ["Machine", `${number(piece.machine_min, 1)} min`, `${at}.machine_time`],
    ["Attending", `${number(piece.attend_min, 1)} min`, `${at}.attend_time`],
    ["Handwork", `${number(piece.hand_min, 1)} min`, "hand_time"],
    ["Bobbins", String(line.bobbins.count), `${at}.bobbins`],
    ["Spares", String(line.spares), "spares"],
  ];
  if (backing)
    rows.push([
      materialName(house, backing.material),
      longText(backing.length_mm / 1000, units),
      `${at}.backing_cut`,
    ]);
  if (topping)
    rows.push([
      materialName(house, topping.material),
      longText(topping.length_mm / 1000, units),
      `${at}.topping_cut`,
    ]);
  return (
    <dl className="figures">
      {rows.map(([name, value, id]) => (
        <div key={name}>
          <dt>{name}</dt>
          <dd>
            {costsHidden ? (
              value
            ) : (
              <button type="button" className="btn btn-plain" onClick={() => onOpen(id)}>
                {value}
              </button>
            )}
          </dd>
        </div>
      ))}
    </dl>
  );
}
