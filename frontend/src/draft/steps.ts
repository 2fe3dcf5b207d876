// What hands do between the blocks: its order, its moving, what a new one begins as. No arithmetic
// of the job: seconds and patches come with the answer.
import type { Schemas } from "../api";

type Step = Schemas["Step"];
export type StepDo = Step["do"];
/** A step as it is typed: lengths and counts stay as they were entered. */
export type DraftStep = Partial<Omit<Step, "do">> & { do: StepDo };

export const AT_STOP: StepDo[] = ["lay", "tack", "trim", "turn", "tape", "insert", "open"];
export const AFTER_SEWING: StepDo[] = ["turn-out", "stuff", "close", "tie"];
export const DOES: [StepDo, string][] = [
  ["lay", "Lay a patch"],
  ["tack", "Hold it by hand"],
  ["trim", "Trim along it"],
  ["turn", "Turn the hoop"],
  ["tape", "Tape down"],
  ["insert", "Insert hardware"],
  ["open", "Open the zip"],
  ["press", "Press"],
  ["punch", "Punch out"],
  ["cut-out", "Cut out"],
  ["turn-out", "Turn right side out"],
  ["stuff", "Stuff"],
  ["close", "Close the opening"],
  ["tie", "Tie"],
];
const WORD = new Map(DOES);
export const doesWord = (does: StepDo) => WORD.get(does) ?? does;

export const AFTER = Infinity;

/** Blocks sewn by then: a half more at a stop inside one, AFTER once all is sewn. */
export function timeOf(step: DraftStep, stopAt: number[]): number {
  const stop = Number(step.at_stop ?? 0);
  if (stop > 0) return stopAt[stop - 1] ?? AFTER;
  return step.after_block === undefined || step.after_block === null
    ? AFTER
    : Number(step.after_block);
}

export interface Placed {
  /** Its place in the list. */
  index: number;
  step: DraftStep;
  at: number;
}

/** The steps in the order of the work: as listed among those of one time. */
export function inOrder(steps: DraftStep[], stopAt: number[]): Placed[] {
  return steps
    .map((step, index) => ({ step, index, at: timeOf(step, stopAt) }))
    .sort((a, b) => a.at - b.at || a.index - b.index);
}

export const mayBe = (does: StepDo, at: number): boolean =>
  at === AFTER ? !AT_STOP.includes(does) : !AFTER_SEWING.includes(does);

/** A step at another time: after a block, or after sewing. */
export function atTime(step: DraftStep, at: number): DraftStep {
  const { after_block: _, at_stop: __, ...rest } = step;
  return at === AFTER ? rest : { ...rest, after_block: at };
}

/** A step at a stop of the file. */
export function atStop(step: DraftStep, stop: number): DraftStep {
  const { after_block: _, ...rest } = step;
  return { ...rest, at_stop: stop };
}

/** The list with a step at a time, last of those there; and its place in the list then. */
export function put(steps: DraftStep[], index: number, at: number, stopAt: number[]) {
  const step = steps[index];
  if (!step || !mayBe(step.do, at)) return { steps, index };
  const rest = steps.filter((_, i) => i !== index);
  return insert(rest, atTime(step, Math.floor(at)), stopAt); // dropped on a stop: after its block
}

/** The list with a new step, last of its time. */
export function insert(steps: DraftStep[], step: DraftStep, stopAt: number[]) {
  const at = timeOf(step, stopAt);
  const place = steps.reduce((n, each, i) => (timeOf(each, stopAt) <= at ? i + 1 : n), 0);
  return { steps: [...steps.slice(0, place), step, ...steps.slice(place)], index: place };
}

/** One earlier or later: past its neighbour of the same time, else to the time before or after. */
export function moved(
  steps: DraftStep[],
  index: number,
  way: -1 | 1,
  blocks: number,
  stopAt: number[],
) {
  const order = inOrder(steps, stopAt);
  const here = order.findIndex((each) => each.index === index);
  const own = order[here];
  const next = order[here + way];
  if (!own) return { steps, index };
  if (next?.at === own.at) {
    const swapped = [...steps];
    [swapped[own.index], swapped[next.index]] = [next.step, own.step];
    return { steps: swapped, index: next.index };
  }
  const times = [...Array.from({ length: blocks + 1 }, (_, i) => i), AFTER];
  const later = times.filter((time) => (way > 0 ? time > own.at : time < own.at));
  const to = way > 0 ? later.find((time) => mayBe(own.step.do, time)) : later.at(-1);
  if (to === undefined || !mayBe(own.step.do, to)) return { steps, index };
  const rest = steps.filter((_, i) => i !== index);
  const step = atTime(own.step, to);
  if (way > 0) {
    // first of those there
    const place = rest.findIndex((each) => timeOf(each, stopAt) >= to);
    const at = place < 0 ? rest.length : place;
    return { steps: [...rest.slice(0, at), step, ...rest.slice(at)], index: at };
  }
  return insert(rest, step, stopAt);
}

export interface Outline {
  block: number;
  width_mm: number;
  height_mm: number;
  length_mm: number;
}

/** A patch or a cut along a block's outline: a patch is then as large as that, with its margin. */
export function along(step: DraftStep, outline: Outline | undefined, block: number): DraftStep {
  const length = outline && outline.length_mm > 0 ? Math.ceil(outline.length_mm) : undefined;
  const cut = { ...step, of_block: block, ...(length ? { outline_mm: length } : {}) };
  if (step.do !== "lay" || !outline) return cut;
  const { width_mm: _, height_mm: __, per: ___, ...sized } = cut;
  return sized;
}

interface Begun {
  /** Colour blocks of the design, and its size. */
  blocks: number;
  width: number;
  height: number;
  /** The first material the shop has, the first hardware. */
  sheet: string;
  hardware: string;
}

/** What a step begins as: where such a one usually is, as large as the design. */
export function begun(does: StepDo, steps: DraftStep[], stopAt: number[], at: Begun): DraftStep {
  const laid = inOrder(steps, stopAt).filter((each) => each.step.do === "lay");
  const last = laid.at(-1)?.at ?? 0;
  const sewn = Math.min(at.blocks, Math.floor(last) + (laid.length > 0 ? 1 : 0));
  const around = Math.ceil(2 * (at.width + at.height));
  if (AFTER_SEWING.includes(does) || does === "punch" || does === "cut-out") {
    if (does === "cut-out") return { do: does, outline_mm: around };
    return does === "close" ? { do: does, outline_mm: 60 } : { do: does };
  }
  if (does === "lay") {
    const after = laid.length > 0 ? sewn : at.blocks > 1 ? 1 : 0;
    const first = { after_block: Math.min(after, Math.max(0, at.blocks - 1)), sheet: at.sheet };
    return { do: does, ...first, per: "hooping" };
  }
  if (does === "trim") return { do: does, after_block: Math.max(1, sewn), outline_mm: around };
  if (does === "insert") return { do: does, after_block: sewn, hardware: at.hardware };
  return { do: does, after_block: does === "tack" ? Math.floor(last) : sewn };
}
