// The making: each method with its reason, and what another would cost or save.
import Form from "react-bootstrap/Form";
import type { Advice, Estimate, EstimateLine, House, Method } from "../../api/client";
import { AdviceList } from "../../parts/AdviceList";
import { number, signedMoney } from "../../parts/format";
import { costsHidden } from "../../parts/money";
import { MinutesStrip } from "../../parts/MinutesStrip";
import { longText } from "../../parts/units";
import { useUnits } from "../../parts/useUnits";
import { patched, type MethodValue } from "./draft";
import { CutPlans } from "./CutPlans";
import { Machines } from "./Machines";
import { Schools } from "./Schools";
import { Threads } from "./Threads";
import type { DraftTools } from "./useDraft";

const ROWS: [string, string][] = [
  ["backing", "Backing"],
  ["layers", "Layers"],
  ["topping", "Topping"],
  ["hold", "Hold"],
  ["baste", "Baste"],
  ["knock_down", "Base"],
  ["hoop", "Hoop"],
  ["needle", "Needle"],
  ["thread", "Thread"],
  ["bobbin", "Bobbin"],
  ["bobbin_policy", "Change"],
  ["machine", "Machine"],
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
  "between-pieces": "Bobbins between pieces",
  "run-out": "Bobbins run out",
};

const BASE: Record<string, string> = {
  "knock_down.true": "Knock-down base of stitches",
  "knock_down.false": "No knock-down base",
};

/** Basting and a base are shown where they matter. */
function idle(method: Method, chosen: Record<string, MethodValue>): boolean {
  if (method.value === "true" || method.key in chosen) return false;
  if (method.key === "baste") return chosen["hold"] === undefined;
  return method.key === "knock_down" && method.others.length === 0;
}

function label(house: House, key: string, value: string): string {
  const tables: Record<string, Record<string, { label: string }>> = {
    backing: house.backings,
    topping: house.toppings,
    hoop: house.hoops,
    needle: house.needles,
    thread: house.threads,
    machine: house.machines,
  };
  return tables[key]?.[value]?.label ?? WORDS[value] ?? value;
}

function typed(key: string, value: string): MethodValue {
  if (key === "layers") return Number(value);
  return key === "baste" || key === "knock_down" ? value === "true" : value;
}

interface Props {
  tools: DraftTools;
  house: House;
  line: EstimateLine;
  advice: Advice[];
  onOverrule: ((advice: Advice, reason: string) => void) | undefined;
  estimate: Estimate;
}

export function MakingPanel({ tools, house, line, advice, onOverrule, estimate }: Props) {
  const { currency } = estimate;
  const { placement, placeAt } = tools;
  const design = line.designs[placeAt];
  const choose = (key: string, value: string | null) => {
    const others = Object.entries(placement.methods).filter(([name]) => name !== key);
    const chosen: [string, MethodValue][] = value === null ? [] : [[key, typed(key, value)]];
    tools.setPlacement({ methods: Object.fromEntries([...others, ...chosen]) });
  };
  return (
    <section className="panel" aria-label="The making">
      <header>
        <h2 className="small-caps-head">The making</h2>
        {!costsHidden && <span className="hint">differences are for the whole line</span>}
      </header>
      <AdviceList
        advice={advice}
        onFix={(patch) => tools.set(patched(tools.draft, patch))}
        onOverrule={onOverrule}
      />
      {ROWS.map(([key, name]) => {
        const method = line.methods.find((m) => m.key === key && m.placement === placeAt);
        if (!method || idle(method, placement.methods)) return null;
        return (
          <MethodRow
            key={key}
            name={name}
            method={method}
            more={key === "backing" ? Object.keys(house.backings) : []}
            text={(value) => BASE[`${key}.${value}`] ?? label(house, key, value)}
            currency={currency}
            onChoose={(value) => choose(key, value)}
          />
        );
      })}
      {design && <Threads tools={tools} house={house} design={design} />}
      <MinutesStrip minutes={line.minutes} />
      <BobbinWords bobbins={line.bobbins} />
      <CutPlans house={house} line={line} place={placeAt} estimate={estimate} />
      <Schools tools={tools} line={line} currency={currency} />
      <Machines tools={tools} estimate={estimate} />
    </section>
  );
}

/** How many bobbins, for how long, and where they end. */
function BobbinWords({ bobbins }: { bobbins: EstimateLine["bobbins"] }) {
  const { ends, pieces_per_bobbin: each } = bobbins;
  const { units } = useUnits();
  return (
    <p className="hint mb-1 bobbin-words">
      {bobbins.count} {bobbins.count === 1 ? "bobbin" : "bobbins"} of{" "}
      {longText(bobbins.capacity_m, units, 0)}
      {each > 0 && `, ${each} pieces each`}
      {ends.length > 0 &&
        `; they end ${ends
          .slice(0, 6)
          .map((end) => `in piece ${end.piece}, colour ${end.block}`)
          .join("; ")}${ends.length > 6 ? "; and so on" : ""}`}
      .
    </p>
  );
}

interface RowProps {
  name: string;
  method: Method;
  more: string[];
  text: (value: string) => string;
  currency: string;
  onChoose: (value: string | null) => void;
}

function MethodRow({ name, method, more, text, currency, onChoose }: RowProps) {
  const id = `method-${method.key}`;
  const chosen = method.source === "chosen";
  const told = [method.value, ...method.others.map((other) => other.value)];
  const rest = more.filter((value) => !told.includes(value));
  const differs = (money: string | null, minutes: number | null) => {
    if (money === null || minutes === null) return "";
    const time = minutes ? `, ${minutes > 0 ? "+" : "−"}${number(Math.abs(minutes), 1)} min` : "";
    return ` (${signedMoney(money, currency)}${time})`;
  };
  return (
    <div className={`method${chosen ? " chosen" : ""}`}>
      <label className="form-label" htmlFor={id}>
        {name}
      </label>
      <Form.Select
        id={id}
        value={method.value}
        aria-describedby={`${id}-why`}
        onChange={(e) => onChoose(e.target.value)}
      >
        <option value={method.value}>{text(method.value)}</option>
        {method.others.map((other) => (
          <option key={other.value} value={other.value} title={other.reason}>
            {text(other.value) + differs(other.cost_difference, other.minutes_difference)}
          </option>
        ))}
        {rest.map((value) => (
          <option key={value} value={value}>
            {text(value)}
          </option>
        ))}
      </Form.Select>
      <span className="why hint" id={`${id}-why`}>
        {method.reason}
        {chosen && (
          <>
            {" "}
            <button type="button" className="btn btn-plain" onClick={() => onChoose(null)}>
              Back to proposed
            </button>
          </>
        )}
      </span>
    </div>
  );
}
