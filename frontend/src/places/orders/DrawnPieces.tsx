// What an order makes, drawn: each line's piece with its designs in their places.
import { useQuery } from "@tanstack/react-query";
import { useCallback } from "react";
import { get, keys } from "../../api";
import { PlacedPiece } from "../../parts/PlacedPiece";
import style from "./Orders.module.scss";

interface Props {
  id: number;
  /** The one line that is shown, and of it the one place; all without. */
  only?: { line: number; place: number };
  size?: number;
}

export function DrawnPieces({ id, only, size = 150 }: Props) {
  const view = useQuery({
    queryKey: keys.preview(id),
    queryFn: () => get("/quotes/{quote_id}/preview", { path: { quote_id: id } }),
  });
  const place = only?.place;
  const pathOf = useCallback(
    (n: number, k: number) =>
      get("/quotes/{quote_id}/preview/lines/{line}/places/{place}/path", {
        path: { quote_id: id, line: n, place: place ?? k },
      }),
    [id, place],
  );
  const lines = (view.data?.lines ?? [])
    .map((line, n) => ({ line, n }))
    .filter(({ n }) => !only || n === only.line);
  return (
    <div className={style["od-drawn"]}>
      {lines.map(({ line, n }) => (
        <PlacedPiece
          key={n}
          line={only ? { ...line, places: line.places.filter((_, k) => k === only.place) } : line}
          n={n}
          pathOf={pathOf}
          size={size}
        />
      ))}
    </div>
  );
}
