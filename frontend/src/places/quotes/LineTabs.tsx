// The lines of an order, and the places of the line that is open.
import type { House } from "../../api/client";
import type { DraftLine } from "./draft";
import { goodsName } from "./goods";
import { Kit } from "./Kit";
import type { DraftTools } from "./useDraft";

interface Props {
  tools: DraftTools;
  house: House | undefined;
  editable: boolean;
}

function named(line: DraftLine, house: House | undefined, n: number): string {
  const goods = house && goodsName(line, house);
  if (!goods) return `Line ${n + 1}`;
  return line.quantity ? `${line.quantity} × ${goods}` : goods;
}

export function LineTabs({ tools, house, editable }: Props) {
  const { draft, line, lineAt } = tools;
  return (
    <nav className="line-tabs" aria-label="Lines of the order">
      {draft.lines.map((each, n) => (
        <button
          key={n}
          type="button"
          className="line-tab"
          aria-current={n === lineAt ? "true" : undefined}
          onClick={() => tools.go({ line: n })}
        >
          {named(each, house, n)}
        </button>
      ))}
      {editable && (
        <>
          <button type="button" className="btn btn-plain" onClick={() => tools.addLine()}>
            + line
          </button>
          <button type="button" className="btn btn-plain" onClick={() => tools.addLine(line)}>
            copy this line
          </button>
          {draft.lines.length > 1 && (
            <button type="button" className="btn btn-plain" onClick={() => tools.removeLine()}>
              remove this line
            </button>
          )}
          <Kit tools={tools} />
        </>
      )}
    </nav>
  );
}

/** The places of a line: one button each, and one more. */
export function PlaceTabs({ tools, house, editable }: Props) {
  const { line, placeAt } = tools;
  const label = (position: string, n: number) => {
    if (!position && n > 0) return `Place ${n + 1}`; // not said yet: the usual one is taken
    const id = position || house?.goods[line.goods.class]?.position || "";
    return house?.positions[id]?.label ?? `Place ${n + 1}`;
  };
  return (
    <div className="place-tabs" role="group" aria-label="Places">
      {line.placements.map((placement, n) => (
        <button
          key={n}
          type="button"
          className="line-tab"
          aria-pressed={n === placeAt}
          onClick={() => tools.go({ place: n })}
        >
          {label(placement.position, n)}
        </button>
      ))}
      {editable && (
        <>
          <button type="button" className="btn btn-plain" onClick={() => tools.addPlacement()}>
            + place
          </button>
          {line.placements.length > 1 && (
            <button type="button" className="btn btn-plain" onClick={() => tools.removePlacement()}>
              remove this place
            </button>
          )}
        </>
      )}
    </div>
  );
}
