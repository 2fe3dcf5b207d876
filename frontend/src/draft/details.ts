// With a save the server tells all of the open line only, of the others what an overview shows.
// What was told of them last stands until they are opened, when all of them is asked for anew.
import { type EstimateLine, type QuoteView } from "../api";

const DETAILS = [
  "pieces",
  "designs",
  "places",
  "methods",
  "materials",
  "cuts",
  "supplied",
  "minutes",
  "needles",
  "schools",
  "next_step",
  "break_evens",
  "sure",
  "tiers",
] as const satisfies readonly (keyof EstimateLine)[];

/** A line told in short, with what was told of it last. */
function filled(line: EstimateLine, before: EstimateLine): EstimateLine {
  const details = Object.fromEntries(DETAILS.map((key) => [key, before[key]]));
  return { ...line, ...details, whole: true };
}

/** Lines as they were last told whole. */
export class Details {
  private readonly lines = new Map<string, EstimateLine>();

  /** Remember what an answer tells whole, and fill in what it tells in short. */
  fill = (view: QuoteView): QuoteView => {
    if (!view.estimate) return view;
    const lines = view.estimate.lines.map((line) => {
      const before = this.lines.get(line.id);
      if (line.whole) this.lines.set(line.id, line);
      return line.whole || !before ? line : filled(line, before);
    });
    return { ...view, estimate: { ...view.estimate, lines } };
  };
}
