// The tape: how many, with the price tiers marked on it.
import { useRef } from "react";
import { type Tier } from "../api";
import { plainMoney } from "./format";
import { placeOf, quantityAt } from "./tape.geometry";
import { useWidth } from "./useWidth";

const TOP = 20;
const BODY = 26;
const EDGE = 22;

interface Props {
  quantity: number;
  tiers: Tier[];
  currency: string;
  onQuantity: (quantity: number) => void;
}

export function Tape({ quantity, tiers, currency, onQuantity }: Props) {
  const [ref, width] = useWidth<SVGSVGElement>();
  const dragging = useRef(false);
  const marks = tiers.map((tier) => tier.quantity);
  const span = Math.max(width - 2 * EDGE, 1);
  const x = (q: number) => EDGE + placeOf(q, marks) * span;
  const slide = (event: React.PointerEvent<SVGGElement>) => {
    const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
    if (box) onQuantity(quantityAt((event.clientX - box.left - EDGE) / span, marks));
  };
  const every = width < 520 ? 2 : 1;
  return (
    <svg ref={ref} className="tape" height={72} role="group" aria-label="How many, and price tiers">
      {width > 0 && (
        <>
          <rect
            x={EDGE - 12}
            y={TOP}
            width={span + 24}
            height={BODY}
            fill="var(--white)"
            stroke="var(--line-strong)"
          />
          <FineTicks marks={marks} x={x} />
          {tiers.map((tier, i) => (
            <g
              key={tier.quantity}
              className="length"
              onClick={() => onQuantity(tier.quantity)}
              aria-hidden="true"
            >
              <rect x={x(tier.quantity) - 20} y={0} width="40" height="72" fill="transparent" />
              <line
                x1={x(tier.quantity)}
                x2={x(tier.quantity)}
                y1={TOP}
                y2={TOP + BODY}
                stroke="var(--ink)"
                strokeWidth="1.5"
              />
              <text x={x(tier.quantity)} y={14} textAnchor="middle">
                {tier.quantity}
              </text>
              {i % every === 0 && (
                <text x={x(tier.quantity)} y={64} textAnchor="middle">
                  {plainMoney(tier.unit, currency)}
                </text>
              )}
            </g>
          ))}
          <g
            className="frame"
            role="slider"
            tabIndex={0}
            aria-label="How many pieces"
            aria-valuemin={marks[0] ?? 1}
            aria-valuemax={marks[marks.length - 1] ?? 1}
            aria-valuenow={quantity}
            onKeyDown={(e) => {
              const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[e.key];
              if (by) {
                e.preventDefault();
                onQuantity(Math.max(1, quantity + by * (e.shiftKey ? 10 : 1)));
              }
            }}
            onPointerDown={(e) => {
              dragging.current = true;
              e.currentTarget.setPointerCapture(e.pointerId);
            }}
            onPointerMove={(e) => dragging.current && slide(e)}
            onPointerUp={() => (dragging.current = false)}
          >
            <rect x={x(quantity) - 22} y={TOP - 9} width="44" height="44" fill="transparent" />
            <rect
              x={x(quantity) - 18}
              y={TOP - 3}
              width="36"
              height={BODY + 6}
              fill="var(--linen)"
              fillOpacity="0.9"
              stroke="var(--ink)"
              strokeWidth="2.5"
            />
            <rect className="ring" x={x(quantity) - 22} y={TOP - 7} width="44" height={BODY + 14} />
            <text
              x={x(quantity)}
              y={TOP + 18}
              textAnchor="middle"
              fontWeight="600"
              style={{ fontSize: 15 }}
            >
              {quantity}
            </text>
          </g>
        </>
      )}
    </svg>
  );
}

function FineTicks({ marks, x }: { marks: number[]; x: (q: number) => number }) {
  const lines: number[] = [];
  for (let i = 1; i < marks.length; i += 1) {
    const low = marks[i - 1] ?? 1;
    const high = marks[i] ?? low;
    const parts = [high - low, 10, 5].find((n) => n > 0 && (x(high) - x(low)) / n >= 6) ?? 1;
    for (let k = 1; k < parts; k += 1) lines.push(x(low) + ((x(high) - x(low)) * k) / parts);
  }
  return (
    <g aria-hidden="true">
      {lines.map((at) => (
        <line
          key={at}
          x1={at}
          x2={at}
          y1={TOP + BODY}
          y2={TOP + BODY - 6}
          stroke="var(--line-strong)"
        />
      ))}
    </g>
  );
}
