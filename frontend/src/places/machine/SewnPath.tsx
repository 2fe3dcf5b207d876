// The design as far as it is sewn: the path draws itself along, what is to come stands faint.
import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useRef } from "react";
import { get, keys, type DesignPath } from "../../api";
import { UNITS } from "../../parts/stitches";
import { useWidth } from "../../parts/useWidth";
import style from "./Machine.module.scss";

const PLAIN = "#6b6257";
const FAINT = 0.16;

interface Line {
  colour: string;
  points: number[];
}

/** A path's runs in sewing order, each with the thread that is on its needle, else the file's. */
const linesOf = (path: DesignPath, threads: (string | null)[]): Line[] =>
  path.blocks.flatMap((block, n) =>
    block.runs.map((points) => ({
      colour: threads[n] ?? block.colour ?? PLAIN,
      points: [...points],
    })),
  );

interface Props {
  sha256: string | null;
  /** Of each block, in sewing order. */
  threads: (string | null)[];
  /** How much of it is sewn, 0 to 1; null where nobody knows. */
  share: number | null;
  label: string;
  high: number;
}

export function SewnPath({ sha256, threads, share, label, high }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const found = useQuery({
    queryKey: keys.path(sha256),
    queryFn: () => get("/designs/{sha256}/path", { path: { sha256: sha256 ?? "" } }),
    enabled: !!sha256,
    staleTime: Infinity,
  });
  const path = found.data;
  const said = threads.join();
  const lines = useMemo(
    () =>
      path
        ? linesOf(
            path,
            said.split(",").map((each) => each || null),
          )
        : [],
    [path, said],
  );
  useEffect(() => {
    const element = canvas.current;
    const pen = element?.getContext("2d");
    if (!element || !pen || !path || width === 0) return;
    const ratio = window.devicePixelRatio || 1;
    element.width = width * ratio;
    element.height = high * ratio;
    const scale = Math.min(
      (width - 16) / (path.width / UNITS),
      (high - 16) / (path.height / UNITS),
    );
    const k = scale / UNITS;
    pen.setTransform(ratio, 0, 0, ratio, 0, 0);
    pen.clearRect(0, 0, width, high);
    pen.translate((width - path.width * k) / 2, (high - path.height * k) / 2);
    pen.lineCap = "round";
    pen.lineJoin = "round"; // a satin turns sharply: no spikes
    pen.lineWidth = Math.max(0.38 * scale, 0.8);
    const all = lines.reduce((n, line) => n + line.points.length / 2, 0);
    const reach = Math.round((share ?? 1) * all);
    let before = 0;
    let at: [number, number] | null = null;
    for (const line of lines) {
      const count = line.points.length / 2;
      const sewn = Math.max(0, Math.min(count, reach - before));
      const draw = (from: number, to: number, alpha: number) => {
        if (to - from < 1) return;
        pen.globalAlpha = alpha;
        pen.strokeStyle = line.colour;
        pen.beginPath();
        for (let i = from; i < to; i += 1) {
          const x = (line.points[2 * i] ?? 0) * k;
          const y = (line.points[2 * i + 1] ?? 0) * k;
          if (i === from) pen.moveTo(x, y);
          else pen.lineTo(x, y);
        }
        pen.stroke();
      };
      draw(Math.max(0, sewn - 1), count, FAINT);
      draw(0, sewn, 1);
      if (sewn > 0)
        at = [(line.points[2 * sewn - 2] ?? 0) * k, (line.points[2 * sewn - 1] ?? 0) * k];
      before += count;
    }
    if (at && share !== null && share > 0 && share < 1) {
      pen.globalAlpha = 1;
      pen.strokeStyle = "#20262e";
      pen.lineWidth = 2;
      pen.beginPath();
      pen.moveTo(at[0], at[1] - 14);
      pen.lineTo(at[0], at[1]);
      pen.stroke();
    }
  }, [lines, path, width, high, share]);
  return (
    <div
      ref={ref}
      className={style["mc-path"]}
      style={{ height: high }}
      role="img"
      aria-label={label}
    >
      {path && <canvas ref={canvas} />}
      {!sha256 && <span className="hint">No stitch file: there is no path to draw.</span>}
    </div>
  );
}
