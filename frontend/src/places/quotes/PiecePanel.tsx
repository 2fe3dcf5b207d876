// The piece: the design to scale in its hoop, its size, its thread colours.
import { useQuery } from "@tanstack/react-query";
import Form from "react-bootstrap/Form";
import { api, type Advice, type EstimateLine, type House, type Place } from "../../api/client";
import { AdviceList } from "../../parts/AdviceList";
import { number, words } from "../../parts/format";
import { costsHidden } from "../../parts/money";
import { StitchPicture } from "../../parts/StitchPicture";
import { ThreadCard } from "../../parts/ThreadCard";
import { NAME_MARK, namesOf, patched, type DraftDesign, type DraftLine } from "./draft";
import { PlaceTabs } from "./LineTabs";
import type { DraftTools } from "./useDraft";

interface Props {
  tools: DraftTools;
  house: House;
  line: EstimateLine;
  advice: Advice[];
  editable: boolean;
  onOpen: (id: string) => void;
}

export function PiecePanel({ tools, house, line, advice, editable, onOpen }: Props) {
  const { placement, placeAt } = tools;
  const path = usePath(placement.design, tools.line);
  const design = line.designs[placeAt];
  const place = line.places[placeAt];
  const hoopId = line.methods.find((m) => m.key === "hoop" && m.placement === placeAt)?.value;
  const hoop = house.hoops[hoopId ?? ""] ?? null;
  if (!design) return null;
  const positionId = placement.position || house.goods[tools.line.goods.class]?.position;
  return (
    <section className="panel piece-panel" aria-label="The piece">
      <header>
        <h2 className="small-caps-head">The piece</h2>
        <span className="hint">
          {number(design.width_mm, 1)} × {number(design.height_mm, 1)} mm, {design.trims} trims
          {design.band > 0 && `, an estimate ±${number(design.band * 100)}%`}
        </span>
      </header>
      <StitchPicture
        path={path}
        widthMm={design.width_mm}
        heightMm={design.height_mm}
        hoop={hoop}
        turned={design.hoop_turned}
      />
      <PlaceTabs tools={tools} house={house} editable={editable} />
      <AdviceList advice={advice} onFix={(patch) => tools.set(patched(tools.draft, patch))} />
      {line.places.length > 1 && (
        <p className="hint mb-0">
          A piece with all its places; each opens the working of this one.
        </p>
      )}
      <Figures line={line} place={placeAt} onOpen={onOpen} />
      <div className="method">
        <label className="form-label" htmlFor="position">
          Place
        </label>
        <Form.Select
          id="position"
          value={positionId ?? ""}
          disabled={!editable}
          onChange={(e) => tools.setPlacement({ position: e.target.value })}
        >
          {Object.entries(house.positions).map(([id, row]) => (
            <option key={id} value={id}>
              {row.label}
            </option>
          ))}
        </Form.Select>
        <span className="why hint">
          {place?.marks.map((mark) => (
            <span key={mark.sizes} className="d-block">
              {mark.sizes && place.marks.length > 1 && <strong>{mark.sizes}: </strong>}
              {mark.words}
            </span>
          ))}
          {place && hoopings(place)}
        </span>
      </div>
      <ul className="thread-cards" aria-label="Thread colours in sewing order">
        {design.blocks.map((block, i) => (
          <li key={i}>
            <ThreadCard colour={block.colour} />
            <span>
              {block.colour_name} {block.colour}
              <br />
              needle {number(block.needle_m, 2, 2)} m
              <br />
              bobbin {number(block.bobbin_m, 2, 2)} m
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** The path to draw: of a file, or of words (the longest name). */
function usePath(design: DraftDesign, line: DraftLine) {
  const [longest] = namesOf(line.names).sort((a, b) => b.length - a.length);
  const text = longest ? design.text.replaceAll(NAME_MARK, longest) : design.text;
  const height = Number(design.height_mm) || undefined;
  const file = useQuery({
    queryKey: ["path", design.sha256],
    queryFn: () => api.designPath(design.sha256),
    enabled: design.way === "file" && design.sha256 !== "",
    staleTime: Infinity,
  });
  const lettered = useQuery({
    queryKey: ["words", text, height],
    queryFn: () => api.words(text, height),
    enabled: design.way === "words" && text.trim() !== "",
    staleTime: Infinity,
    retry: false,
  });
  if (design.way === "words") return lettered.data?.path ?? null;
  return design.way === "file" ? (file.data ?? null) : null;
}

function hoopings({ hooping, hoop_way, nearest_rim: rim }: Place): string {
  const said: string[] = [];
  if (hooping.kind === "band")
    said.push(`${hooping.copies} motifs, ${number(hooping.gap_mm, 1)} mm apart`);
  if (hooping.kind === "together") said.push(`${hooping.pieces} pieces in a hooping`);
  if (hooping.per_piece > 1) said.push(`${hooping.per_piece} hoopings a piece`);
  if (hooping.kind !== "single") said.push(`${hooping.total} hoopings in all`);
  if (hoop_way) said.push(`lies ${hoop_way}° round in the hoop`);
  if (rim) said.push(`nearest to the rim at ${rim.sides}, ${number(rim.left_mm, 1)} mm`);
  return said.length > 0 ? `${said.join("; ")}.` : "";
}

interface FiguresProps {
  line: EstimateLine;
  place: number;
  onOpen: (id: string) => void;
}

function Figures({ line, place, onOpen }: FiguresProps) {
  const piece = line.per_piece;
  const cut = (what: string) => line.cuts.find((c) => c.what === what && c.placement === place);
  const backing = cut("backing");
  const topping = cut("topping");
  const at = `placements[${place}]`;
  const rows: [string, string, string][] = [
    ["Stitches", number(piece.stitches), `${at}.needle_bare`],
    ["Needle thread", `${number(piece.needle_m, 2, 2)} m`, `${at}.needle`],
    ["Bobbin thread", `${number(piece.bobbin_m, 2, 2)} m`, `${at}.bobbin`],
    ["Machine", `${number(piece.machine_min, 1)} min`, `${at}.machine_time`],
    ["Attending", `${number(piece.attend_min, 1)} min`, `${at}.attend_time`],
    ["Handwork", `${number(piece.hand_min, 1)} min`, "hand_time"],
    ["Bobbins", String(line.bobbins.count), `${at}.bobbins`],
    ["Spares", String(line.spares), "spares"],
  ];
  if (backing)
    rows.push([
      words(backing.material),
      `${number(backing.length_mm / 1000, 2, 2)} m`,
      `${at}.backing_cut`,
    ]);
  if (topping)
    rows.push([
      words(topping.material),
      `${number(topping.length_mm / 1000, 2, 2)} m`,
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
