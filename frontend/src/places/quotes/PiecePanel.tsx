// The piece: the design to scale in its hoop, its size, its thread colours.
import { useQuery } from "@tanstack/react-query";
import Form from "react-bootstrap/Form";
import { api, type Advice, type EstimateLine, type House } from "../../api/client";
import { AdviceList } from "../../parts/AdviceList";
import { number, words } from "../../parts/format";
import { StitchPicture } from "../../parts/StitchPicture";
import { ThreadCard } from "../../parts/ThreadCard";
import { patched } from "./draft";
import type { DraftTools } from "./useDraft";

interface Props {
  tools: DraftTools;
  house: House;
  line: EstimateLine;
  advice: Advice[];
  editable: boolean;
  onOpen: (id: string) => void;
}

const of = (line: EstimateLine, key: string) => line.methods.find((m) => m.key === key)?.value;

export function PiecePanel({ tools, house, line, advice, editable, onOpen }: Props) {
  const [placement] = tools.draft.lines[0].placements;
  const fromFile = placement.design.way === "file";
  const sha256 = placement.design.sha256;
  const path = useQuery({
    queryKey: ["path", sha256],
    queryFn: () => api.designPath(sha256),
    enabled: fromFile && sha256 !== "",
    staleTime: Infinity,
  });
  const design = line.designs[0];
  const hoop = house.hoops[of(line, "hoop") ?? ""] ?? null;
  if (!design) return null;
  const positionId = placement.position || house.goods[tools.draft.lines[0].goods.class]?.position;
  const position = positionId ? house.positions[positionId] : undefined;
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
        path={fromFile ? (path.data ?? null) : null}
        widthMm={design.width_mm}
        heightMm={design.height_mm}
        hoop={hoop}
        turned={design.hoop_turned}
      />
      <AdviceList advice={advice} onFix={(patch) => tools.set(patched(tools.draft, patch))} />
      <Figures line={line} onOpen={onOpen} />
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
        <span className="why hint">{position?.words}</span>
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

function Figures({ line, onOpen }: { line: EstimateLine; onOpen: (id: string) => void }) {
  const piece = line.per_piece;
  const material = (kind: string) => line.materials.find((m) => m.kind === kind);
  const backing = material("backing");
  const topping = material("topping");
  const rows: [string, string, string][] = [
    ["Stitches", number(piece.stitches), "placements[0].needle_bare"],
    ["Needle thread", `${number(piece.needle_m, 2, 2)} m`, "placements[0].needle"],
    ["Bobbin thread", `${number(piece.bobbin_m, 2, 2)} m`, "placements[0].bobbin"],
    ["Machine", `${number(piece.machine_min, 1)} min`, "placements[0].machine_time"],
    ["Attending", `${number(piece.attend_min, 1)} min`, "placements[0].attend_time"],
    ["Handwork", `${number(piece.hand_min, 1)} min`, "hand_time"],
    ["Bobbins", String(line.bobbins.count), "placements[0].bobbins"],
    ["Spares", String(line.spares), "spares"],
  ];
  if (backing)
    rows.push([
      words(backing.item),
      `${number(backing.quantity / 1000, 2, 2)} m`,
      "placements[0].backing_cut",
    ]);
  if (topping)
    rows.push([
      words(topping.item),
      `${number(topping.quantity / 1000, 2, 2)} m`,
      "placements[0].topping_cut",
    ]);
  return (
    <dl className="figures">
      {rows.map(([name, value, id]) => (
        <div key={name}>
          <dt>{name}</dt>
          <dd>
            <button type="button" className="btn btn-plain" onClick={() => onOpen(id)}>
              {value}
            </button>
          </dd>
        </div>
      ))}
    </dl>
  );
}
