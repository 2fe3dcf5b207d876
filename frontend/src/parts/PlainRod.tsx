// A rod of the price alone: what a customer may see. Ink, to scale, nothing inside it.
import { money } from "./format";
import { useWidth } from "./useWidth";
import { scaleEnd, ticks } from "./yardRod.geometry";
import style from "./PlainRod.module.scss";

interface Props {
  name: string;
  price: number;
  currency: string;
}

export function PlainRod({ name, price, currency }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const end = scaleEnd(price);
  const scale = width / end;
  return (
    <div ref={ref} className={style["plain-rod"]}>
      {width > 0 && (
        <svg width={width} height={60} role="img" aria-label={`${name}: ${money(price, currency)}`}>
          {ticks(end, width, 64).map((tick) => (
            <text
              key={tick}
              x={tick * scale}
              y={12}
              className={style["tick"]}
              textAnchor={tick === 0 ? "start" : tick === end ? "end" : "middle"}
            >
              {tick}
            </text>
          ))}
          <rect
            x={0.5}
            y={18.5}
            width={width - 1}
            height={29}
            fill="none"
            stroke="var(--line-strong)"
          />
          <rect x={0} y={18} width={price * scale} height={30} fill="var(--ink)" />
          <rect x={price * scale - 3} y={12} width={6} height={42} fill="var(--brass)" />
        </svg>
      )}
    </div>
  );
}
