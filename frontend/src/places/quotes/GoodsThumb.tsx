// A class of goods as we draw it, small.
import { useQuery } from "@tanstack/react-query";
import { api } from "../../api/client";
import { drawings, extent } from "../../look/drawings";
import { Goods, tintOf } from "../../look/drawings/Goods";
import { drawingOf } from "./goods";

const SIZE = 78;

interface ThumbProps {
  goods: string;
  size?: number;
  /** What its cloth looks like, where that is known. */
  cloth?: string | null | undefined;
}

/** One class's own drawing, small. */
export function GoodsThumb({ goods, size = SIZE, cloth }: ThumbProps) {
  const view = drawings[goods]?.views[0];
  if (!view) return <svg width={size} height={size} aria-hidden="true" />;
  const { x, y, width, height } = extent(view);
  const scale = Math.min((size - 6) / width, (size - 6) / height);
  const place = `translate(${size / 2} ${size / 2}) scale(${scale}) translate(${-(x + width / 2)} ${-(y + height / 2)})`;
  return (
    <svg width={size} height={size} aria-hidden="true">
      <g transform={place}>
        <Goods view={view} scale={scale} tint={tintOf(cloth)} />
      </g>
    </svg>
  );
}

/** A class of the shop's, which may be a copy of one we draw. */
export function ClassThumb({ goods, size }: { goods: string; size: number }) {
  const house = useQuery({ queryKey: ["house"], queryFn: api.house });
  return <GoodsThumb goods={house.data ? drawingOf(house.data, goods) : goods} size={size} />;
}
