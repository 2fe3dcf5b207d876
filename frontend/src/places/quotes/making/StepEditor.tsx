// One step opened: what, when, with which material and how large.
import { Choose } from "../../../parts/fields";
import { useId } from "react";
import Form from "react-bootstrap/Form";
import {
  AFTER,
  along,
  atStop,
  atTime,
  AT_STOP,
  DOES,
  mayBe,
  text,
  timeOf,
  useAt,
  useHouse,
  useOpenPlace,
  type DraftStep,
  type StepDo,
} from "../../../draft";
import { MeasureField } from "../../../parts/MeasureField";
import { Field } from "../Field";
import { moveOn } from "../../../parts/moveOn";
import { useOutlines } from "../design/useOutlines";
import { stockedSheets, useSteps } from "./useSteps";
import style from "./StepStrip.module.scss";

interface Props {
  index: number;
  onMove: (way: -1 | 1) => void;
  /** It is another now, maybe at another time. */
  onPut: (to: DraftStep) => void;
  onRemove: () => void;
  onClose: () => void;
}

export function StepEditor({ index, onMove, onPut, onRemove, onClose }: Props) {
  const { steps, stopAt, blocks } = useSteps();
  const step = steps[index];
  if (!step) return null;
  const at = timeOf(step, stopAt);
  const choose = (does: StepDo) => {
    const next = { ...step, do: does };
    if (mayBe(does, at)) onPut(next);
    else onPut(atTime(next, AT_STOP.includes(does) ? blocks.length : AFTER));
  };
  const when = (value: string) => {
    if (value.startsWith("stop ")) onPut(atStop(step, Number(value.slice(5))));
    else onPut(atTime(step, value === "after" ? AFTER : Number(value)));
  };
  const stop = Number(step.at_stop ?? 0);
  const times = [
    ...[0, ...blocks.map((_, i) => i + 1)].map(
      (n) => [String(n), n === 0 ? "Before the first colour" : `After colour ${n}`, n] as const,
    ),
    ...stopAt.map((time, n) => [`stop ${n + 1}`, `At stop ${n + 1}`, time] as const),
    ["after", "Out of the hoop", AFTER] as const,
  ];
  return (
    <div
      className={style["sp-editor"]}
      data-step-editor
      role="group"
      aria-label="The step"
      onKeyDown={(event) => {
        if (event.key === "Escape") {
          event.stopPropagation();
          onClose();
        } else moveOn(event);
      }}
    >
      <Choose
        label="What"
        value={step.do}
        onChange={(value) => choose(value as StepDo)}
        options={DOES.map(([key, name]) => [key, name])}
      />
      <Choose
        label="When"
        value={stop ? `stop ${stop}` : at === AFTER ? "after" : String(at)}
        onChange={when}
        options={times
          .filter(([, , time]) => mayBe(step.do, time))
          .map(([key, name]) => [key, name])}
      />
      <OfStep index={index} step={step} onPut={onPut} />
      <div className={style["sp-does"]}>
        <button type="button" className="btn btn-outline-primary btn-sm" onClick={() => onMove(-1)}>
          Earlier
        </button>
        <button type="button" className="btn btn-outline-primary btn-sm" onClick={() => onMove(1)}>
          Later
        </button>
        <button
          type="button"
          aria-label="Remove this step"
          className="btn btn-outline-primary btn-sm"
          onClick={onRemove}
        >
          Remove
        </button>
        <button type="button" className="btn btn-outline-primary btn-sm" onClick={onClose}>
          Done
        </button>
      </div>
    </div>
  );
}

interface OfProps {
  index: number;
  step: DraftStep;
  onPut: (to: DraftStep) => void;
}

/** The fields that differ by what is done. */
function OfStep({ index, step, onPut }: OfProps) {
  const house = useHouse();
  const at = useAt();
  const id = useId();
  const { lineAt, placeAt } = useOpenPlace();
  const { blocks, done } = useSteps();
  const { read } = useOutlines();
  const base = `lines[${lineAt}].placements[${placeAt}].steps[${index}]`;
  const told = (key: "width_mm" | "height_mm") =>
    text(done.find((each) => each.step === index)?.piece_mm?.[key === "width_mm" ? 0 : 1]);
  const set = (change: Partial<DraftStep>) => onPut({ ...step, ...change });
  const measure = (key: "width_mm" | "height_mm" | "outline_mm", label: string) => (
    <MeasureField
      label={label}
      value={text(step[key])}
      placeholder={key === "outline_mm" ? undefined : told(key)}
      error={at(`${base}.${key}`)}
      onChange={(held) => set({ [key]: held as never })}
    />
  );
  const tick = (key: "grain" | "precut" | "straight", label: string) => (
    <Form.Check
      id={`${id}-${key}`}
      label={label}
      checked={step[key] === true}
      onChange={(e) => set({ [key]: e.target.checked })}
    />
  );
  const sheets = stockedSheets(house).map(
    (key) => [key, house.sheet_goods[key]?.label ?? key] as const,
  );
  const parts = Object.entries(house.hardware).map(([key, row]) => [key, row.label] as const);
  const part = house.hardware[step.hardware ?? ""];
  const follows = (
    <Choose
      label="Follows the outline of"
      value={text(step.of_block)}
      onChange={(value) => {
        const block = Number(value);
        if (block === 0) set({ of_block: null });
        else
          void read().then((found) =>
            onPut(
              along(
                step,
                found.find((each) => each.block === block),
                block,
              ),
            ),
          );
      }}
      options={[
        ["", "none: as typed"],
        ...blocks.map((block, i) => [String(i + 1), `colour ${i + 1}, ${block.colour_name}`]),
      ].map(([key, name]) => [key ?? "", name ?? ""] as const)}
    />
  );
  return (
    <>
      {step.do === "lay" && (
        <>
          <Choose
            label="Material"
            value={step.sheet ?? ""}
            onChange={(sheet) => set({ sheet })}
            options={sheets}
          />
          <Choose
            label="Side"
            value={step.side ?? "top"}
            onChange={(side) => set({ side: side as "top" | "under" })}
            options={[
              ["top", "On top"],
              ["under", "Underneath"],
            ]}
          />
          {follows}
          {measure("width_mm", "Cut wide")}
          {measure("height_mm", "Cut high")}
          <Choose
            label="Fused with"
            value={step.web ?? ""}
            onChange={(web) => set({ web: web || null })}
            options={[["", "nothing"], ...sheets]}
          />
          <Choose
            label="Its edge"
            value={step.edge ?? ""}
            onChange={(edge) => set({ edge: (edge || null) as "satin" | "raw" | null })}
            options={[
              ["", "inside, not seen"],
              ["satin", "sewn over"],
              ["raw", "left raw"],
            ]}
          />
          {tick("grain", "Keep the grain")}
          {tick("precut", "Cut to its shape before")}
          {step.precut && measure("outline_mm", "Its outline")}
        </>
      )}
      {step.do === "trim" && (
        <>
          {follows}
          {measure("outline_mm", "Outline")}
        </>
      )}
      {step.do === "cut-out" && (
        <>
          {follows}
          {measure("outline_mm", "Outline")}
          {tick("straight", "Straight edges")}
        </>
      )}
      {step.do === "close" && measure("outline_mm", "Opening")}
      {(step.do === "insert" || step.do === "tie") && (
        <>
          <Choose
            label="Hardware"
            value={step.hardware ?? ""}
            onChange={(hardware) => set({ hardware: hardware || null })}
            options={step.do === "tie" ? [["", "nothing"], ...parts] : parts}
          />
          {part?.unit === "m" && measure("width_mm", "Length of each")}
        </>
      )}
      <Field
        label="How often"
        value={text(step.count)}
        placeholder="1"
        inputMode="numeric"
        where={`${base}.count`}
        onChange={(count) => set({ count: count as never })}
      />
      <Choose
        label="For"
        value={step.per ?? ""}
        onChange={(per) => set({ per: (per || null) as "piece" | "hooping" | null })}
        options={[
          ["", step.do === "turn" ? "each hooping, as usual" : "each piece, as usual"],
          ["piece", "each piece"],
          ["hooping", "each hooping"],
        ]}
      />
    </>
  );
}
