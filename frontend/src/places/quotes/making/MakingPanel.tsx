// The making: each method with its reason, and what another would cost or save.
import { type EstimateLine, type House, type Method } from "../../../api";
import {
  useBench,
  useDraft,
  useOpenPlace,
  useHouse,
  useLinePrice,
  type DraftMethods,
} from "../../../draft";
import { costsHidden } from "../../../parts/money";
import { MinutesStrip } from "../../../parts/MinutesStrip";
import { RunLanes } from "../../../parts/RunLanes";
import { longText } from "../../../parts/units";
import { useUnits } from "../../../parts/useUnits";
import { ClothColour } from "./ClothColour";
import { CutPlans } from "./CutPlans";
import { FromShelf } from "./FromShelf";
import { LastTime } from "./LastTime";
import { LookAhead } from "../sending/LookAhead";
import { Machines } from "./Machines";
import { MethodRow } from "./MethodRow";
import { PanelAdvice } from "../PanelAdvice";
import { Promised } from "../price/Promised";
import { Schools } from "./Schools";
import { StepStrip } from "./StepStrip";
import { Threads } from "../design/Threads";
import style from "./MakingPanel.module.scss";

type Key = keyof DraftMethods;
const ROWS: [Key, string][] = [
  ["backing", "Backing"],
  ["layers", "Layers"],
  ["second_backing", "Beside it"],
  ["second_layers", "Its layers"],
  ["topping", "Topping"],
  ["hold", "Hold"],
  ["baste", "Baste"],
  ["way", "Goes in"],
  ["knock_down", "Base"],
  ["edge", "Edge"],
  ["fixing", "Fixed on"],
  ["hoop", "Hoop"],
  ["needle", "Needle"],
  ["thread", "Thread"],
  ["bobbin", "Bobbin"],
  ["bobbin_policy", "Change"],
  ["marking", "Marked with"],
  ["set_by", "Needle set"],
  ["machine", "Machine"],
];
const MARKINGS = ["pen", "crease", "tape", "template", "chalk", "jig"];
/** What a place that shares a hooping has from the one before. */
const OF_HOOPING: Key[] = [
  "backing",
  "layers",
  "second_backing",
  "second_layers",
  "hold",
  "baste",
  "hoop",
  "machine",
];
const WORDS: Record<string, string> = {
  none: "None",
  hoop: "Hooped",
  float: "Floated on backing",
  true: "Basted down",
  false: "Not basted",
  white: "White",
  black: "Black",
  match: "Matching each colour",
  nearest: "Fine, nearest colour",
  "between-pieces": "Bobbins between pieces",
  "run-out": "Bobbins run out",
};
const BASE: Record<string, string> = {
  "way.0": "Upright",
  "way.90": "Turned 90°",
  "way.180": "Turned 180°",
  "way.270": "Turned 270°",
  "marking.pen": "Soluble pen",
  "marking.crease": "A crease",
  "marking.tape": "Tape",
  "marking.template": "Template and pins",
  "marking.chalk": "Chalk",
  "marking.jig": "A jig",
  "set_by.hoop-marks": "By the hoop's marks",
  "set_by.template": "Over a paper template",

  "edge.border": "Satin border, counted",
  "edge.own": "The design's own border",
  "edge.raw": "Left raw",
  "fixing.press": "Pressed, with film",
  "fixing.sew": "Sewn on",
  "knock_down.true": "Knock-down base of stitches",
  "knock_down.false": "No knock-down base",
};

/** Basting, a base and a second backing are shown where they matter. */
function idle(method: Method, chosen: DraftMethods): boolean {
  if (method.value === "true" || (chosen[method.key as Key] ?? null) !== null) return false;
  if (method.key === "second_backing")
    return method.value === "none" && (chosen.backing ?? null) === null;
  if (method.key === "baste") return (chosen.hold ?? null) === null;
  if (method.key === "set_by") return method.value === "hoop-marks" && !chosen.marking;
  return method.key === "knock_down" && method.others.length === 0;
}

function label(house: House, key: string, value: string): string {
  const tables: Record<string, Record<string, { label: string }>> = {
    backing: house.backings,
    second_backing: house.backings,
    topping: house.toppings,
    hoop: house.hoops,
    needle: house.needles,
    thread: house.threads,
    machine: house.machines,
  };
  return BASE[`${key}.${value}`] ?? tables[key]?.[value]?.label ?? WORDS[value] ?? value;
}

/** A chosen value as the job has it. */
const typed = (key: Key, value: string) =>
  key === "baste" || key === "knock_down"
    ? value === "true"
    : key === "way"
      ? Number(value)
      : value;

export function MakingPanel() {
  const house = useHouse();
  const { placement, placeAt, actions } = useOpenPlace();
  const { line: asked } = useDraft();
  const { estimate, line } = useLinePrice();
  const { quote, price } = useBench();
  const whole = price.lacks.length === 0 && price.problems.length === 0;
  const design = line.designs[placeAt];
  const made = house.goods[asked.goods.class ?? ""]?.made === true;
  const shares = placement.shares === true;
  const chosen = placement.methods ?? {};
  const choose = (key: Key, value: string | null) =>
    actions.placement(`methods.${key}`, (found) => {
      const { [key]: _, ...others } = found.methods ?? {};
      found.methods = value === null ? others : { ...others, [key]: typed(key, value) };
    });
  return (
    <section className="panel" aria-label="The making">
      <header>
        <h2 className="small-caps-head">The making</h2>
        {!costsHidden && <span className="hint">differences are for the whole line</span>}
      </header>
      <PanelAdvice panel="making" />
      {shares && (
        <p className="hint">
          Held as the place before: the same hoop, backing and machine, hooped and loaded once.
        </p>
      )}
      {made && <StepStrip key={placement.id} />}
      {ROWS.map(([key, name]) => {
        const method = line.methods.find((m) => m.key === key && m.placement === placeAt);
        if (!method || idle(method, chosen)) return null;
        if (shares && OF_HOOPING.includes(key)) return null;
        return (
          <MethodRow
            key={key}
            name={name}
            method={method}
            more={
              key === "backing" || key === "second_backing"
                ? Object.keys(house.backings)
                : key === "marking"
                  ? MARKINGS
                  : []
            }
            text={(value) => label(house, key, value)}
            currency={estimate.currency}
            onChoose={(value) => choose(key, value)}
          />
        );
      })}
      {!shares && <ClothColour />}
      {!costsHidden && <LastTime keys={ROWS.map(([key]) => key)} typed={typed} />}
      {design && <Threads design={design} />}
      {!made && <StepStrip key={placement.id} />}
      <MinutesStrip minutes={line.minutes} />
      {!costsHidden && whole && (
        <RunLanes of="quotes" id={quote.id} revision={price.view.revision} />
      )}
      <BobbinWords bobbins={line.bobbins} />
      <CutPlans />
      <Schools />
      <Machines />
      {!costsHidden && <FromShelf />}
      {!costsHidden && whole && <Promised />}
      <LookAhead />
    </section>
  );
}

/** How many bobbins, for how long, and where they end. */
function BobbinWords({ bobbins }: { bobbins: EstimateLine["bobbins"] }) {
  const { ends, pieces_per_bobbin: each } = bobbins;
  const { units } = useUnits();
  return (
    <p className={`hint mb-1 ${style["bobbin-words"]}`}>
      {bobbins.count} {bobbins.count === 1 ? "bobbin" : "bobbins"} of{" "}
      {longText(bobbins.capacity_m, units, 0)}
      {each > 0 && `, ${each} ${each === 1 ? "piece" : "pieces"} each`}
      {ends.length > 0 &&
        `; they end ${ends
          .slice(0, 6)
          .map((end) => `in piece ${end.piece}, colour ${end.block}`)
          .join("; ")}${ends.length > 6 ? "; and so on" : ""}`}
      .
    </p>
  );
}
