// What hands do between the blocks, as one strip in the order of the work: moved by dragging or by
// keys, added from what such goods usually take, or said of the stops that the file has.
import { Fragment, useId, useState } from "react";
import Form from "react-bootstrap/Form";
import {
  AFTER,
  atStop,
  begun,
  DOES,
  doesWord,
  inOrder,
  insert,
  moved,
  put,
  timeOf,
  useHouse,
  useLinePrice,
  useDraft,
  useOpenPlace,
  type DraftStep,
  type StepDo,
} from "../../../draft";
import { number } from "../../../parts/format";
import { goOnAt } from "../../../parts/goOnAt";
import { ThreadCard } from "../../../parts/ThreadCard";
import { PartsFixed } from "./PartsFixed";
import { StepEditor } from "./StepEditor";
import { useRemembered } from "../design/useOutlines";
import { stockedSheets, useSteps } from "./useSteps";
import style from "./StepStrip.module.scss";

/** What such goods usually take comes first. */
const USUAL: Record<"made" | "other", StepDo[]> = {
  made: ["lay", "turn", "insert", "open", "cut-out", "turn-out", "close", "tie"],
  other: ["lay", "trim", "tack", "press"],
};

type Change = { steps: DraftStep[]; index: number };
const MOVE: Record<string, -1 | 1> = { ArrowLeft: -1, ArrowRight: 1 };

export function StepStrip() {
  const house = useHouse();
  const { placeAt } = useOpenPlace();
  const { line: asked } = useDraft();
  const { line } = useLinePrice();
  const { steps, stopAt, blocks, done, keep } = useSteps();
  const [open, setOpen] = useState<number | null>(null);
  const [dragged, setDragged] = useState<number | null>(null);
  const design = line.designs[placeAt];
  const made = house.goods[asked.goods.class ?? ""]?.made === true;
  const shown = open !== null && open < steps.length ? open : null;
  const change = ({ steps: to, index }: Change, where = "") => {
    keep(where, to);
    if (shown !== null) setOpen(index);
    return index;
  };
  const go = (index: number) => goOnAt(`[data-step="${index}"]`);
  const add = (does: StepDo, stop?: number) => {
    const first = begun(does, steps, stopAt, {
      blocks: blocks.length,
      width: design?.width_mm ?? 0,
      height: design?.height_mm ?? 0,
      sheet: stockedSheets(house)[0] ?? "",
      hardware: Object.keys(house.hardware)[0] ?? "",
    });
    const found = insert(steps, stop ? atStop(first, stop) : first, stopAt);
    keep("+", found.steps);
    setOpen(found.index);
    goOnAt("[data-step-editor] select");
  };
  const remove = (index: number) => {
    keep(
      "-",
      steps.filter((_, i) => i !== index),
    );
    setOpen(null);
    goOnAt(steps.length > 1 ? `[data-step="${Math.max(0, index - 1)}"]` : "[data-step-add]");
  };
  const drop = (at: number) => {
    if (dragged !== null) change(put(steps, dragged, at, stopAt));
    setDragged(null);
  };
  const keys = (event: React.KeyboardEvent, index: number) => {
    const way = event.altKey ? MOVE[event.key] : undefined;
    if (way) {
      event.preventDefault();
      go(change(moved(steps, index, way, blocks.length, stopAt)));
    } else if (event.key === "Delete") remove(index);
  };
  const onto = (at: number) => ({
    onDragOver: (event: React.DragEvent) => dragged !== null && event.preventDefault(),
    onDrop: () => drop(at),
  });
  const order = inOrder(steps, stopAt);
  const chip = ({ step, index, at }: (typeof order)[number]) => {
    const told = done.find((each) => each.step === index);
    const word = doesWord(step.do);
    return (
      <li key={`s${index}`} {...onto(at)}>
        <button
          type="button"
          data-step={index}
          className={style["sp-step"]}
          aria-expanded={shown === index}
          draggable
          onDragStart={() => setDragged(index)}
          onDragEnd={() => setDragged(null)}
          onKeyDown={(event) => keys(event, index)}
          onClick={() => setOpen(shown === index ? null : index)}
        >
          <b>{word}</b>
          <span>
            {[
              step.do === "lay" && (house.sheet_goods[step.sheet ?? ""]?.label ?? ""),
              step.side === "under" && "underneath",
              told && `${number(told.seconds, 0)} s`,
            ]
              .filter(Boolean)
              .join(", ")}
          </span>
        </button>
      </li>
    );
  };
  const bare = stopAt
    .map((at, n) => ({ at, stop: n + 1 }))
    .filter(({ stop }) => !steps.some((step) => Number(step.at_stop) === stop));
  const times = Array.from({ length: blocks.length + 1 }, (_, i) => i);
  // one after a colour that the design no longer has stands at its end, where it is told
  const slotOf = (at: number) => (at === AFTER ? at : Math.min(at, blocks.length));
  return (
    <section aria-label="Steps by hand">
      <div className="sub-head">
        <h3>Between the colours</h3>
        {steps.length > 0 && <span className="hint">Alt with ← or → moves one</span>}
      </div>
      <Remembered steps={steps} keep={(to) => keep("", to)} />
      {(steps.length > 0 || bare.length > 0) && (
        <ol className={style["sp-strip"]} aria-label="In the order of the work">
          {times.map((time) => (
            <Fragment key={time}>
              {time > 0 && (
                <li className={style["sp-block"]} {...onto(time)}>
                  <ThreadCard colour={blocks[time - 1]?.colour ?? null} />
                  <span aria-label={`colour ${time}, ${blocks[time - 1]?.colour_name ?? ""}`}>
                    {time}
                  </span>
                </li>
              )}
              {order.filter((each) => slotOf(each.at) === time).map(chip)}
              {order.filter((each) => each.at === time + 0.5).map(chip)}
              {bare
                .filter(({ at }) => at === time + 0.5)
                .map(({ stop }) => (
                  <li key={`b${stop}`}>
                    <button
                      type="button"
                      className={`${style["sp-step"]} ${style["sp-bare"]}`}
                      onClick={() => add("lay", stop)}
                    >
                      <b>Stop {stop}</b>
                      <span>what happens here?</span>
                    </button>
                  </li>
                ))}
            </Fragment>
          ))}
          <li className={style["sp-out"]} {...onto(AFTER)}>
            out of the hoop
          </li>
          {order.filter((each) => each.at === AFTER).map(chip)}
        </ol>
      )}
      {shown !== null && (
        <StepEditor
          index={shown}
          onMove={(way) => go(change(moved(steps, shown, way, blocks.length, stopAt)))}
          onPut={(to) => change(insertAt(steps, shown, to, stopAt))}
          onRemove={() => remove(shown)}
          onClose={() => {
            setOpen(null);
            go(shown);
          }}
        />
      )}
      <AddStep made={made} onAdd={add} />
      <PartsFixed />
    </section>
  );
}

/** A changed step in its right place of the list. */
function insertAt(steps: DraftStep[], index: number, to: DraftStep, stopAt: number[]): Change {
  const same = timeOf(to, stopAt) === timeOf(steps[index] ?? to, stopAt);
  if (same) return { steps: steps.map((each, i) => (i === index ? to : each)), index };
  return insert(
    steps.filter((_, i) => i !== index),
    to,
    stopAt,
  );
}

function AddStep({ made, onAdd }: { made: boolean; onAdd: (does: StepDo) => void }) {
  const id = useId();
  const usual = USUAL[made ? "made" : "other"];
  const [does, setDoes] = useState<StepDo>(usual[0] ?? "lay");
  const option = ([key, name]: (typeof DOES)[number]) => (
    <option key={key} value={key}>
      {name}
    </option>
  );
  return (
    <form
      className={style["sp-add"]}
      onSubmit={(event) => {
        event.preventDefault();
        onAdd(does);
      }}
    >
      <label htmlFor={id}>Add</label>
      <Form.Select
        id={id}
        data-step-add
        value={does}
        onChange={(e) => setDoes(e.target.value as StepDo)}
      >
        <optgroup label="usual here">
          {DOES.filter(([key]) => usual.includes(key)).map(option)}
        </optgroup>
        <optgroup label="also">{DOES.filter(([key]) => !usual.includes(key)).map(option)}</optgroup>
      </Form.Select>
      <button type="submit" className="btn btn-outline-primary">
        Add the step
      </button>
    </form>
  );
}

/** A design that was sewn with steps before offers them again. */
function Remembered({ steps, keep }: { steps: DraftStep[]; keep: (to: DraftStep[]) => void }) {
  const last = useRemembered() as unknown as DraftStep[];
  if (steps.length > 0 || last.length === 0) return null;
  const words = last.map((step) => doesWord(step.do).toLowerCase());
  return (
    <p className={style["sp-last"]}>
      As it was sewn last: {words.slice(0, 6).join(", ")}
      {words.length > 6 && ` and ${words.length - 6} more`}.{" "}
      <button
        type="button"
        className="btn btn-outline-primary btn-sm"
        onClick={() => {
          keep(last);
          goOnAt('[data-step="0"]');
        }}
      >
        Take these steps
      </button>
    </p>
  );
}
