// Before the goods are chosen: all of them as drawn, to point at. After: what is still asked.
import type { House } from "../../api/client";
import { drawings, extent } from "../../look/drawings";
import { Goods } from "../../look/drawings/Goods";
import { BLANK, chooseGoods, goodsName } from "./goods";
import { PlaceTabs } from "./LineTabs";
import type { DraftTools } from "./useDraft";

const SIZE = 78;

/** One class's own drawing, small. */
export function GoodsThumb({ goods, size = SIZE }: { goods: string; size?: number }) {
  const view = drawings[goods]?.views[0];
  if (!view) return <svg width={size} height={size} aria-hidden="true" />;
  const { x, y, width, height } = extent(view);
  const scale = Math.min((size - 6) / width, (size - 6) / height);
  const place = `translate(${size / 2} ${size / 2}) scale(${scale}) translate(${-(x + width / 2)} ${-(y + height / 2)})`;
  return (
    <svg width={size} height={size} aria-hidden="true">
      <g transform={place}>
        <Goods view={view} scale={scale} />
      </g>
    </svg>
  );
}

interface Props {
  tools: DraftTools;
  house: House;
  lacks: string[];
  wrong: boolean;
  editable: boolean;
}

export function GoodsPicker({ tools, house, lacks, wrong, editable }: Props) {
  const chosen = tools.line.goods.class;
  if (chosen)
    return (
      <section className="panel picker" aria-label="How to begin">
        {tools.line.placements.length > 1 && (
          <PlaceTabs tools={tools} house={house} editable={editable} />
        )}
        <div className="begun">
          <GoodsThumb goods={chosen} size={230} />
          <div>
            <h2 className="small-caps-head">{goodsName(tools.line, house)}</h2>
            <p>
              {lacks.length > 0
                ? `Still asked: ${lacks.join(", ")}.`
                : wrong
                  ? "No price yet: what is typed cannot be read, as told below."
                  : "Its price is being worked out."}
            </p>
            <p className="hint">
              Backing, topping, hoop, needle and bobbins are then proposed, each with its reason,
              and each yours to change. A stitch file may be dropped anywhere on this page.
            </p>
          </div>
        </div>
      </section>
    );
  return (
    <section className="panel picker" aria-label="How to begin">
      <header>
        <h2 className="small-caps-head">What is it sewn on?</h2>
        <span className="hint">three answers make a price: goods, how many, the design</span>
      </header>
      {Object.keys(house.blanks).length > 0 && (
        <>
          <h3>Blanks on your shelf</h3>
          <ul>
            {Object.entries(house.blanks).map(([id, row]) => (
              <li key={id}>
                <button
                  type="button"
                  disabled={!editable}
                  onClick={() => tools.setLine(chooseGoods(tools.line, BLANK + id, house))}
                >
                  <GoodsThumb goods={row.goods} />
                  <span>{row.label}</span>
                </button>
              </li>
            ))}
          </ul>
          <h3>Any other</h3>
        </>
      )}
      <ul>
        {Object.entries(house.goods).map(([id, row]) => (
          <li key={id}>
            <button
              type="button"
              disabled={!editable}
              onClick={() => tools.setLine(chooseGoods(tools.line, id, house))}
            >
              <GoodsThumb goods={id} />
              <span>{row.label}</span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
