// Every part in every state, for those who build it: not in the navigation.
import { useState } from "react";
import Form from "react-bootstrap/Form";
import { type Advice, type Minute, type Tier } from "../../api";
import { extent, useDrawings } from "../../look/drawings";
import { Goods } from "../../look/drawings/Goods";
import { AdviceList } from "../../parts/AdviceList";
import { COSTS } from "../../parts/costs";
import { GoesIn, type WayIn } from "../../parts/GoesIn";
import { Loading } from "../../parts/Loading";
import { MeasureField } from "../../parts/MeasureField";
import { MinutesStrip } from "../../parts/MinutesStrip";
import { PlainRod } from "../../parts/PlainRod";
import { PriceSteps } from "../../parts/PriceSteps";
import { Tape } from "../../parts/Tape";
import { ThreadCard } from "../../parts/ThreadCard";
import { useTell } from "../../parts/toasts";
import { YardRod } from "../../parts/YardRod";
import { lay, scaleEnd } from "../../parts/yardRod.geometry";
import style from "./PartsPage.module.scss";

const TILE = 132;
const TOKENS = [
  "linen", "linen-deep", "white", "ink", "ink-soft", "ink-faint", "line", "line-strong", "brass",
  "stop", "warn", "good", "focus", "cloth", "cloth-deep",
]; // prettier-ignore
const STEPS = [
  { from: 1, each: 6.4 },
  { from: 25, each: 5.95 },
  { from: 50, each: 5.7 },
  { from: 100, each: 5.4 },
];
const WAYS: WayIn[] = [
  { turned: 0, opening: "head", bulk: "foot", arm: true, words: "A hat turned up, on the arm." },
  { turned: 180, opening: "head", bulk: "foot", arm: true, words: "A sleeve, on the arm." },
  { turned: 90, opening: "left", bulk: "right", arm: false, words: "A sleeve, on a flat bed." },
  { turned: 270, opening: null, bulk: "left", arm: false, words: "A blanket's end." },
  { turned: 0, opening: null, bulk: null, arm: false, words: "A sheet: as the hoop takes it." },
];
const SUMS = [6.4, 0.22, 0.09, 0.28, 0.2, 0.9, 0.31, 1.27, 0.7, 0.41, 0.14];

const advice = (level: string, message: string, more: Partial<Advice> = {}) =>
  ({
    code: message,
    level,
    where: "",
    message,
    fix: "",
    apply: null,
    against: level === "warn",
    ...more,
  }) as Advice;

const ADVICE = [
  advice("stop", "The design and its clearance fit no hoop of this machine.", {
    fix: "Take a smaller size.",
  }),
  advice("warn", "The knit stretches and tear-away alone does not hold it.", {
    fix: "Use cut-away",
    apply: [{}],
  }),
  advice("warn", "Letters are 4.2 mm high: under 5 mm they close up.", {
    overruled: "the customer has seen a sew-out",
  }),
  advice("note", "A smaller hoop fits.", { fix: "Use 100 × 100", apply: [{}] }),
];

const minute = (
  label: string,
  kind: Minute["kind"],
  seconds: number,
  attend_s: number,
): Minute => ({
  placement: 0,
  label,
  kind,
  seconds,
  attend_s,
});

const MINUTES = [
  minute("mark", "hand", 30, 0),
  minute("hoop", "hand", 60, 0),
  minute("load", "machine", 25, 25),
  minute("sew", "sew", 310, 46),
  minute("trim", "machine", 40, 0),
  minute("pack", "hand", 20, 0),
];

const tier = (quantity: number, unit: string) =>
  ({ quantity, unit, line: "", unit_cost: "", margin: "" }) as Tier;
const TIERS = [
  tier(1, "30.90"),
  tier(6, "17.00"),
  tier(12, "15.30"),
  tier(24, "14.45"),
  tier(50, "13.95"),
];

function Block({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <section aria-label={name} className={style["part-block"]}>
      <h2 className="small-caps-head">{name}</h2>
      {children}
    </section>
  );
}

function Rods() {
  const lengths = lay(COSTS.map((kind, i) => ({ ...kind, amount: SUMS[i] ?? 0 })));
  const cost = SUMS.reduce((sum, part) => sum + part, 0);
  const [price, setPrice] = useState(15.2);
  const [quantity, setQuantity] = useState(24);
  const rod = { lengths, end: scaleEnd(16), cost, target: 15, step: 0.05, currency: "GBP" };
  const open = () => undefined;
  return (
    <div className={style["part-rods"]}>
      <YardRod name="At its price" {...rod} price={price} onOpen={open} onPrice={setPrice} />
      <YardRod name="Under its cost" {...rod} price={9.5} onOpen={open} />
      <PlainRod name="For a customer's eyes" price={15.2} currency="GBP" />
      <Tape quantity={quantity} tiers={TIERS} currency="GBP" onQuantity={setQuantity} />
      <MinutesStrip minutes={MINUTES} />
      {[null, 12, 60].map((bought) => (
        <PriceSteps key={bought} steps={STEPS} quantity={bought} currency="GBP" />
      ))}
    </div>
  );
}

function Fields() {
  const [length, setLength] = useState("88.9");
  return (
    <div className="part-fields">
      <div>
        <Form.Label htmlFor="part-text">A field</Form.Label>
        <Form.Control id="part-text" defaultValue="24" />
      </div>
      <div>
        <Form.Label htmlFor="part-wrong">A wrong one</Form.Label>
        <Form.Control id="part-wrong" defaultValue="two dozen" isInvalid />
        <div className="invalid-feedback d-block">must be a whole number. Enter digits only.</div>
      </div>
      <div>
        <Form.Label htmlFor="part-off">Not now</Form.Label>
        <Form.Control id="part-off" defaultValue="sent" disabled />
      </div>
      <div>
        <Form.Label htmlFor="part-select">A choice</Form.Label>
        <Form.Select id="part-select">
          <option>Cut-away, medium</option>
        </Form.Select>
      </div>
      <MeasureField label="A measure" value={length} onChange={setLength} />
      <Form.Check id="part-check" label="A yes or no" defaultChecked />
    </div>
  );
}

function Buttons() {
  const tell = useTell();
  const told = () =>
    tell("Q-0147 is deleted.", { label: "Bring it back", does: () => tell("It is back.") });
  return (
    <p className="d-flex gap-3 flex-wrap align-items-center">
      <button type="button" className="btn btn-primary" onClick={told}>
        Say something
      </button>
      <button type="button" className="btn btn-outline-primary">
        Second
      </button>
      <button type="button" className="btn btn-outline-primary" disabled>
        Not now
      </button>
      <button type="button" className="btn btn-plain">
        in a line of text
      </button>
      {["draft", "sent", "accepted", "declined", "expired"].map((state) => (
        <span key={state} className={`state-tag ${state}`}>
          {state}
        </span>
      ))}
    </p>
  );
}

function GoodsSheet() {
  const drawings = useDrawings();
  return (
    <ul className={style["goods-sheet"]}>
      {Object.entries(drawings ?? {}).flatMap(([id, { views }]) =>
        views.map((view) => {
          const { x, y, width, height } = extent(view);
          const scale = Math.min(TILE / width, TILE / height);
          const left = 6 + (TILE - width * scale) / 2;
          const top = 6 + (TILE - height * scale) / 2;
          return (
            <li key={id + view.side}>
              <svg
                width={TILE + 12}
                height={TILE + 12}
                role="img"
                aria-label={`${id}, ${view.side}`}
              >
                <g transform={`translate(${left} ${top}) scale(${scale}) translate(${-x} ${-y})`}>
                  <Goods view={view} scale={scale} />
                  {Object.entries(view.anchors).map(([name, [ax, ay]]) => (
                    <circle key={name} cx={ax} cy={ay} r={2 / scale} fill="var(--stop)">
                      <title>{name}</title>
                    </circle>
                  ))}
                </g>
              </svg>
              <span>
                {id}, {view.side}
              </span>
            </li>
          );
        }),
      )}
    </ul>
  );
}

export function PartsPage() {
  return (
    <main className="standards">
      <h1>Parts</h1>
      <Block name="Colours">
        <ul className={style["tokens"]}>
          {[...TOKENS, ...COSTS.map(({ colour }) => colour)].map((name) => (
            <li key={name}>
              <i style={{ background: `var(--${name})` }} />
              {name}
            </li>
          ))}
        </ul>
      </Block>
      <Block name="Yard, tape, minutes">
        <Rods />
      </Block>
      <Block name="Buttons and states">
        <Buttons />
      </Block>
      <Block name="Fields">
        <Fields />
      </Block>
      <Block name="Advice">
        <AdviceList advice={ADVICE} onFix={() => undefined} onOverrule={() => undefined} />
      </Block>
      <Block name="Thread cards">
        <p className="d-flex gap-3">
          {["#1d3f8f", "#d9b310", "#f2e9c9", "#20262e", "#b8320a", null].map((colour, i) => (
            <ThreadCard key={i} colour={colour} />
          ))}
        </p>
      </Block>
      <Block name="How it goes in">
        <div className="d-flex gap-3 flex-wrap">
          {WAYS.map((way) => (
            <GoesIn key={way.words} way={way} />
          ))}
        </div>
      </Block>
      <Block name="Waiting">
        <Loading what="The quote" />
      </Block>
      <Block name="Goods, with their anchors">
        <GoodsSheet />
      </Block>
    </main>
  );
}
