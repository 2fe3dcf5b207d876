// A class of goods as we draw it, small.
import { useShopHouse, type House } from "../api";
import { extent, useDrawings } from "../look/drawings";
import { Goods, tintOf } from "../look/drawings/Goods";

const SIZE = 78;

/** Which of our drawings shows a class: its own, or that of the class it is a copy of. */
export function drawingOf(house: House, goods: string | undefined): string {
  const drawing = house.goods[goods ?? ""]?.drawing;
  return drawing && drawing !== "-" ? drawing : (goods ?? "");
}

interface ThumbProps {
  goods: string;
  size?: number;
  /** What its cloth looks like, where that is known. */
  cloth?: string | null | undefined;
}

/** One class's own drawing, small. */
export function GoodsThumb({ goods, size = SIZE, cloth }: ThumbProps) {
  const view = useDrawings()?.[goods]?.views[0];
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
  const house = useShopHouse();
  return <GoodsThumb goods={house.data ? drawingOf(house.data, goods) : goods} size={size} />;
}
