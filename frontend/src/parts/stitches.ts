// Stitches on canvas, from the real path: thread-coloured, with light along the thread.
import { type DesignPath } from "../api";

const PLAIN = "#6b6257";
/** The path's units in a millimetre. */
export const UNITS = 10;

/** Paint a path at so many pixels a millimetre; the pen's origin is the design's top left. */
export function paint(pen: CanvasRenderingContext2D, path: DesignPath, scale: number) {
  const k = scale / UNITS;
  pen.lineCap = "round";
  pen.lineJoin = "round";
  for (const block of path.blocks) {
    const lines = new Path2D();
    block.runs.forEach((run, r) => {
      const floats = new Set(block.floats[r]);
      for (let i = 0; i < run.length / 2; i += 1) {
        const x = (run[2 * i] ?? 0) * k;
        const y = (run[2 * i + 1] ?? 0) * k;
        if (i === 0 || floats.has(i)) lines.moveTo(x, y);
        else lines.lineTo(x, y);
      }
    });
    pen.strokeStyle = block.colour ?? PLAIN;
    pen.lineWidth = Math.max(0.38 * scale, 0.7);
    pen.stroke(lines);
    pen.strokeStyle = "rgb(255 255 255 / 0.22)";
    pen.lineWidth = Math.max(0.1 * scale, 0.25);
    pen.stroke(lines);
  }
}

/** A path as a small picture, for use inside a drawing. */
export function stitchImage(path: DesignPath, scale: number): string {
  const ratio = 2 * (window.devicePixelRatio || 1);
  const canvas = document.createElement("canvas");
  canvas.width = Math.max(1, Math.round((path.width / UNITS) * scale * ratio));
  canvas.height = Math.max(1, Math.round((path.height / UNITS) * scale * ratio));
  const pen = canvas.getContext("2d");
  if (!pen) return "";
  paint(pen, path, scale * ratio);
  return canvas.toDataURL();
}
