// The yard: a price drawn as a measuring rod to scale.
import { useId, useRef } from "react";
import { plainMoney } from "./format";
import { useWidth } from "./useWidth";
import {
  labelGroups,
  NARROW_PX,
  placeLabels,
  priceAt,
  ticks,
  type Length,
} from "./yardRod.geometry";
import style from "./YardRod.module.scss";

const SCALE_H = 16;
const TOP = 18;
const BODY = 30;
const LABEL_Y = TOP + BODY + 18;
const HEIGHT = 76;
const LABEL_CHAR_PX = 6.4;

interface Props {
  name: string;
  lengths: Length[];
  end: number;
  price: number;
  cost: number;
  target: number;
  /** What the cost lies between in 80 of 100 cases. */
  band?: readonly [number, number] | null;
  step: number;
  currency: string;
  onOpen: (working: string) => void;
  onPrice?: (price: number) => void;
  onBack?: () => void;
}

export function YardRod(props: Props) {
  const [ref, width] = useWidth<SVGSVGElement>();
  const scale = Math.max(width - 8, 1) / props.end;
  return (
    <svg
      ref={ref}
      className={style["yard"]}
      height={HEIGHT}
      role="group"
      aria-label={`${props.name}: price ${plainMoney(props.price, props.currency)}, cost ${plainMoney(props.cost, props.currency)}${bandText(props)}`}
    >
      {width > 0 && <Rod {...props} scale={scale} width={width} />}
    </svg>
  );
}

function Rod(props: Props & { scale: number; width: number }) {
  const { scale, lengths, price, cost, target, end, currency } = props;
  const hatch = useId();
  const stripe = useId();
  const priceX = price * scale;
  const costX = cost * scale;
  const short = cost - price;
  return (
    <>
      <defs>
        <pattern
          id={hatch}
          width="6"
          height="6"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45)"
        >
          <rect width="6" height="6" fill="var(--linen)" />
          <line x1="0" y1="0" x2="0" y2="6" stroke="var(--ink)" strokeWidth="1" opacity="0.5" />
        </pattern>
        <pattern id={stripe} width="5" height="5" patternUnits="userSpaceOnUse">
          <rect width="5" height="5" fill="var(--bobbin)" />
          <line x1="0" y1="0" x2="0" y2="5" stroke="var(--white)" strokeWidth="1.5" />
        </pattern>
      </defs>
      {short <= 0 && (
        <rect
          x={costX}
          y={TOP}
          width={Math.max(priceX - costX, 0)}
          height={BODY}
          fill={`url(#${hatch})`}
          stroke="var(--line-strong)"
        />
      )}
      {lengths.map((length) => (
        <LengthMark key={length.id} length={length} fill={stripe} {...props} />
      ))}
      <Ticks end={end} scale={scale} cost={cost} price={price} />
      <rect x="0" y={TOP - 1} width="6" height={BODY + 2} fill="var(--brass)" />
      {target > 0 && <Notch x={target * scale} up={false} word="target" roomPx={0} />}
      <Notch x={costX} up word="floor" roomPx={priceX - costX} />
      <Bracket {...props} />
      <Labels lengths={lengths} scale={scale} end={props.width} currency={currency} />
      {short > 0 && (
        <text x={Math.min(priceX + 12, props.width - 90)} y={TOP + 19} fontWeight="600">
          {plainMoney(short, currency)} short
        </text>
      )}
      <Ferrule {...props} x={priceX} />
    </>
  );
}

function bandText({ band, currency }: Pick<Props, "band" | "currency">): string {
  if (!band) return "";
  const [low, high] = band.map((amount) => plainMoney(amount, currency));
  return `, between ${low} and ${high} in 80 of 100 cases`;
}

/** How sure the cost is: a light bracket under the rod. */
function Bracket(props: Props & { scale: number }) {
  const { band, scale, end } = props;
  if (!band) return null;
  const [from, to] = band.map((amount) => Math.min(amount, end) * scale) as [number, number];
  const y = TOP + BODY + 5;
  return (
    <g className={style["bracket"]}>
      <path d={`M${from} ${y - 4}V${y}H${to}V${y - 4}`} fill="none" />
      <rect x={from} y={y - 5} width={Math.max(to - from, 1)} height="8" fill="transparent">
        <title>{`The cost is${bandText(props).replace(/^,/, "")}`}</title>
      </rect>
    </g>
  );
}

function Ticks(props: { end: number; scale: number; cost: number; price: number }) {
  const { end, scale, cost, price } = props;
  const marks = ticks(end, end * scale, 64);
  const step = (marks[1] ?? end) - (marks[0] ?? 0);
  const minor = [10, 5, 2].find((n) => (step / n) * scale >= 6) ?? 1;
  const count = Math.floor((end / step) * minor + 1e-9) + 1;
  const colour = (value: number) =>
    value <= cost ? "var(--white)" : value <= price ? "var(--ink)" : "var(--line-strong)";
  return (
    <g aria-hidden="true">
      {Array.from({ length: count }, (_, i) => {
        const value = (i * step) / minor;
        const deep = i % minor === 0 ? 12 : i % 5 === 0 && minor === 10 ? 8 : 5;
        return (
          <line
            key={i}
            x1={value * scale}
            x2={value * scale}
            y1={TOP}
            y2={TOP + deep}
            stroke={colour(value)}
          />
        );
      })}
      {marks.map((value) => (
        <text
          key={value}
          x={value * scale}
          y={SCALE_H - 4}
          textAnchor={value === 0 ? "start" : value > end * 0.98 ? "end" : "middle"}
          style={{ fill: "var(--ink-faint)" }}
        >
          {value.toFixed(step < 1 ? 2 : 0)}
        </text>
      ))}
    </g>
  );
}

function LengthMark(props: Props & { length: Length; fill: string; scale: number }) {
  const { length, scale, price, currency } = props;
  const x = length.from * scale;
  const w = Math.max((length.to - length.from) * scale - 1, 0.5);
  const beyond = length.from >= price;
  const open = () => props.onOpen(length.working);
  return (
    <g
      className={style["length"]}
      role="button"
      tabIndex={props.onPrice ? 0 : -1}
      aria-label={`${length.name} ${plainMoney(length.amount, currency)}: open its working`}
      onClick={open}
      onKeyDown={(e) => {
        if (e.key === "Enter" || e.key === " ") {
          e.preventDefault();
          open();
        }
      }}
    >
      <title>{`${length.name} ${plainMoney(length.amount, currency)}`}</title>
      <rect
        x={x}
        y={TOP}
        width={w}
        height={BODY}
        fill={length.id === "bobbin" ? `url(#${props.fill})` : `var(--${length.colour})`}
        opacity={beyond ? 0.35 : 1}
        stroke={beyond ? "var(--ink)" : "none"}
        strokeDasharray={beyond ? "3 3" : undefined}
      />
    </g>
  );
}

function Notch(props: { x: number; up: boolean; word: string; roomPx: number }) {
  const y = props.up ? TOP + BODY : TOP;
  const d = props.up ? -8 : 8;
  return (
    <g>
      <path
        d={`M ${props.x - 5} ${y} L ${props.x} ${y + d} L ${props.x + 5} ${y} Z`}
        fill="var(--white)"
        stroke="var(--ink)"
      >
        <title>{props.word}</title>
      </path>
      {props.roomPx > 48 && (
        <>
          <rect x={props.x + 7} y={TOP + 14} width="30" height="14" fill="var(--linen)" />
          <text x={props.x + 9} y={TOP + 25}>
            {props.word}
          </text>
        </>
      )}
    </g>
  );
}

function Labels(props: { lengths: Length[]; scale: number; end: number; currency: string }) {
  const groups = labelGroups(props.lengths, props.scale, NARROW_PX);
  const texts = groups.map(({ lengths }) => {
    const sum = lengths.reduce((total, l) => total + l.amount, 0);
    const name = lengths.length === 1 ? lengths[0]?.name : `${lengths.length} more`;
    return `${name} ${plainMoney(sum, props.currency)}`;
  });
  const places = placeLabels(
    groups.map((group) => group.x),
    texts.map((text) => text.length * LABEL_CHAR_PX),
    props.end,
  );
  return (
    <g>
      {groups.map(({ lengths }, i) => {
        const [first] = lengths;
        const colour = lengths.length === 1 ? `var(--${first?.colour}-text)` : "var(--ink-soft)";
        return (
          <text key={first?.id} x={places[i]} y={LABEL_Y} style={{ fill: colour }}>
            {texts[i]}
            <title>
              {lengths.map((l) => `${l.name} ${plainMoney(l.amount, props.currency)}`).join(", ")}
            </title>
          </text>
        );
      })}
    </g>
  );
}

function Ferrule(props: Props & { x: number; scale: number }) {
  const dragging = useRef(false);
  const { x, onPrice, step, price, currency } = props;
  const shape = (
    <>
      <rect x={x - 3} y={TOP - 6} width="6" height={BODY + 12} fill="var(--brass)" />
      <rect className={style["ring"]} x={x - 7} y={TOP - 10} width="14" height={BODY + 20} />
    </>
  );
  if (!onPrice) return shape;
  const pull = (event: React.PointerEvent<SVGGElement>) => {
    const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
    if (box) onPrice(priceAt(event.clientX - box.left, props.scale, step));
  };
  return (
    <g
      className={style["ferrule"]}
      role="slider"
      tabIndex={0}
      aria-label="Price of a piece"
      aria-valuemin={0}
      aria-valuemax={props.end}
      aria-valuenow={price}
      aria-valuetext={plainMoney(price, currency)}
      onKeyDown={(e) => {
        const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[e.key];
        if (by) {
          e.preventDefault();
          onPrice(Math.max(step, price + by * step * (e.shiftKey ? 10 : 1)));
        }
        if (e.key === "Escape") props.onBack?.();
      }}
      onPointerDown={(e) => {
        dragging.current = true;
        e.currentTarget.setPointerCapture(e.pointerId);
      }}
      onPointerMove={(e) => dragging.current && pull(e)}
      onPointerUp={() => (dragging.current = false)}
    >
      <rect x={x - 22} y={TOP - 7} width="44" height="44" fill="transparent" />
      {shape}
    </g>
  );
}
