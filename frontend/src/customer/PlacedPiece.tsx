// The piece with its designs in place, to look at.
import { useEffect, useState } from "react";
import { drawings, extent, spotOn, viewOf } from "../look/drawings";
import { Goods, tintOf } from "../look/drawings/Goods";
import { stitchImage } from "../parts/stitches";
import { link, type CustomerLine, type CustomerPlace } from "./link";
import style from "./PlacedPiece.module.scss";

const SIZE = 230;

export function PlacedPiece({ token, line, n }: { token: string; line: CustomerLine; n: number }) {
  const drawing = drawings[line.drawing];
  if (!drawing) return null;
  const views = drawing.views.filter(
    (view, k) =>
      line.places.some((place) => viewOf(drawing, place.position) === view) ||
      (k === 0 && !line.places.some((place) => viewOf(drawing, place.position))),
  );
  return (
    <div className={style["customer-piece"]}>
      {views.map((view) => {
        const { x, y, width, height } = extent(view);
        const scale = Math.min(SIZE / width, SIZE / height);
        const name = line.places
          .filter((place) => viewOf(drawing, place.position) === view)
          .map((place) => place.label)
          .join(", ");
        return (
          <svg
            key={view.side}
            width={SIZE + 12}
            height={height * scale + 12}
            role="img"
            aria-label={`${line.goods}, ${view.side}: ${name}`}
          >
            <g
              transform={`translate(${6 + (SIZE - width * scale) / 2} 6) scale(${scale}) translate(${-x} ${-y})`}
            >
              <Goods view={view} scale={scale} tint={tintOf(line.cloth)} />
              {line.places.map((place, k) => {
                const spot =
                  viewOf(drawing, place.position) === view && spotOn(view, place.position, place);
                return (
                  spot && (
                    <g
                      key={k}
                      transform={`translate(${spot.at[0]} ${spot.at[1]}) rotate(${place.turn})${place.mirror ? " scale(-1 1)" : ""}`}
                    >
                      <Motif token={token} n={n} k={k} place={place} scale={scale} />
                    </g>
                  )
                );
              })}
            </g>
          </svg>
        );
      })}
    </div>
  );
}

interface MotifProps {
  token: string;
  n: number;
  k: number;
  place: CustomerPlace;
  scale: number;
}

function Motif({ token, n, k, place, scale }: MotifProps) {
  const [image, setImage] = useState("");
  const { drawn, colours } = place;
  useEffect(() => {
    if (!drawn) return;
    const draw = async () => {
      const path = await link.path(token, n, k);
      const blocks = path.blocks.map((block, i) => ({
        ...block,
        colour: colours[i] || block.colour,
      }));
      setImage(stitchImage({ ...path, blocks }, scale));
    };
    draw().catch(() => undefined); // without its picture the box stands for it
  }, [token, n, k, drawn, colours, scale]);
  const [w, h] = [place.width_mm, place.height_mm];
  const box = { x: -w / 2, y: -h / 2, width: w, height: h };
  return image ? (
    <image href={image} {...box} preserveAspectRatio="none" />
  ) : (
    <rect
      {...box}
      fill="var(--linen)"
      stroke="var(--ink-soft)"
      strokeDasharray="3 2"
      vectorEffect="non-scaling-stroke"
    />
  );
}
