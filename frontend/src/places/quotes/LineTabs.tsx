// The lines of an order, and the places of the line that is open.
import { memo, useEffect, useRef, useState } from "react";
import { type House } from "../../api";
import { text, useBench, useDraft, type DraftLine } from "../../draft";
import { goodsName } from "./goods/goods";
import { Kit } from "./price/Kit";
import { goOnAt } from "../../parts/goOnAt";
import { DESIGN, GOODS, LINE, PLACE } from "./landing";
import style from "./LineTabs.module.scss";
import { later } from "../../parts/later";

const LinesOverview = later(() => import("./LinesOverview").then((found) => found.LinesOverview));

/** From so many lines on there is an overview of them. */
const MANY = 4;

function named(line: DraftLine, house: House | undefined, n: number, counted?: number): string {
  const goods = house && goodsName(line, house);
  if (!goods) return `Line ${n + 1}`;
  const quantity = text(line.quantity) || text(line.cells?.length ? counted : "");
  return quantity ? `${quantity} × ${goods}` : goods;
}

export const LineTabs = memo(function LineTabs() {
  const { house, editable, price } = useBench();
  const { job, line, go, actions } = useDraft();
  const [all, setAll] = useState(false);
  const tabs = useRef<HTMLElement>(null);
  useEffect(() => {
    tabs.current
      ?.querySelector("[aria-current]")
      ?.scrollIntoView({ inline: "nearest", block: "nearest" });
  }, [line.id]);
  return (
    <nav className={style["line-tabs"]} aria-label="Lines of the order" ref={tabs}>
      {job.lines.length >= MANY && (
        <button
          type="button"
          className={`btn btn-sm btn-outline-primary ${style["all-lines"] ?? ""}`}
          onClick={() => setAll(true)}
        >
          {`All ${job.lines.length} lines`}
        </button>
      )}
      {all && <LinesOverview onClose={() => setAll(false)} />}
      {job.lines.map((each, n) => (
        <button
          key={each.id}
          type="button"
          className={style["line-tab"]}
          aria-current={each.id === line.id ? "true" : undefined}
          onClick={() => go({ line: each.id })}
        >
          {named(each, house, n, price.estimate?.lines[n]?.quantity)}
        </button>
      ))}
      {editable && (
        <>
          <button
            type="button"
            className="btn btn-plain"
            onClick={() => {
              actions.addLine();
              goOnAt(GOODS);
            }}
          >
            + line
          </button>
          <button
            type="button"
            className="btn btn-plain"
            onClick={() => {
              actions.addLine(line);
              goOnAt(GOODS);
            }}
          >
            copy this line
          </button>
          {job.lines.length > 1 && (
            <button
              type="button"
              className="btn btn-plain"
              onClick={() => {
                actions.removeLine();
                goOnAt(LINE);
              }}
            >
              remove this line
            </button>
          )}
          <Kit />
        </>
      )}
    </nav>
  );
});

/** The places of a line: one button each, and one more. */
export function PlaceTabs() {
  const { house, editable, price } = useBench();
  const { line, lineAt, placement, go, actions } = useDraft();
  const label = (position: string, n: number) => {
    const priced = price.estimate?.lines[lineAt]?.places[n]; // what is proposed, where none is said
    if (!position && priced) return priced.label;
    return house?.positions[position]?.label ?? `Place ${n + 1}`;
  };
  return (
    <div className={style["place-tabs"]} role="group" aria-label="Places">
      {line.placements.map((each, n) => (
        <button
          key={each.id}
          type="button"
          className={style["line-tab"]}
          aria-pressed={each.id === placement.id}
          onClick={() => go({ place: each.id })}
        >
          {label(text(each.position), n)}
        </button>
      ))}
      {editable && (
        <>
          <button
            type="button"
            className="btn btn-plain"
            onClick={() => {
              actions.addPlacement();
              goOnAt(DESIGN);
            }}
          >
            + place
          </button>
          {line.placements.length > 1 && (
            <button
              type="button"
              className="btn btn-plain"
              onClick={() => {
                actions.removePlacement();
                goOnAt(PLACE);
              }}
            >
              remove this place
            </button>
          )}
        </>
      )}
    </div>
  );
}
