// The piece with its designs in place, to look at.
import { useEffect, useState } from "react";
import { extent, spotOn, useDrawings, viewOf } from "../look/drawings";
import { Goods, tintOf } from "../look/drawings/Goods";
import type { Schemas } from "../api";
import { stitchImage } from "./stitches";
import style from "./PlacedPiece.module.scss";

type CustomerLine = Schemas["CustomerLine"];
type CustomerPlace = Schemas["CustomerPlace"];
type PathOf = (n: number, k: number) => Promise<Schemas["DesignPath"]>;

interface Props {
  line: CustomerLine;
  /** Which line of the order it is. */
  n: number;
  /** Reads the path of a line's place. */
  pathOf: PathOf;
  /** How large the longer side is drawn. */
  size?: number;
}

export function PlacedPiece({ line, n, pathOf, size = 230 }: Props) {
  const drawings = useDrawings();
  const drawing = drawings?.[line.drawing];
  if (!drawings) return <div className={style["customer-piece"]} style={{ minHeight: size }} />;
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
        const scale = Math.min(size / width, size / height);
        const name = line.places
          .filter((place) => viewOf(drawing, place.position) === view)
          .map((place) => place.label)
          .join(", ");
        return (
          <svg
            key={view.side}
            width={size + 12}
            height={height * scale + 12}
            role="img"
            aria-label={`${line.goods}, ${view.side}: ${name}`}
          >
            <g
              transform={`translate(${6 + (size - width * scale) / 2} 6) scale(${scale}) translate(${-x} ${-y})`}
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
                      <Motif pathOf={pathOf} n={n} k={k} place={place} scale={scale} />
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
  pathOf: PathOf;
  n: number;
  k: number;
  place: CustomerPlace;
  scale: number;
}

function Motif({ pathOf, n, k, place, scale }: MotifProps) {
  const [image, setImage] = useState("");
  const { drawn, colours } = place;
  useEffect(() => {
    if (!drawn) return;
    const draw = async () => {
      const path = await pathOf(n, k);
      const blocks = path.blocks.map((block, i) => ({
        ...block,
        colour: colours[i] || block.colour,
      }));
      setImage(stitchImage({ ...path, blocks }, scale));
    };
    draw().catch(() => undefined); // without its picture the box stands for it
  }, [pathOf, n, k, drawn, colours, scale]);
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
