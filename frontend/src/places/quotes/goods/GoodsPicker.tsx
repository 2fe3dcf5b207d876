// Before the goods are chosen: all of them as drawn, to point at. After: what is still asked.
import { useBench, useDraft, useHouse } from "../../../draft";
import { BLANK, takeGoods, goodsName } from "./goods";
import { drawingOf, GoodsThumb } from "../../../parts/GoodsThumb";
import { PlaceTabs } from "../LineTabs";
import { Starts } from "./Starts";
import style from "./GoodsPicker.module.scss";

export function GoodsPicker() {
  return useDraft().line.goods.class ? <Begun /> : <Choice />;
}

/** The goods are chosen: what is still asked. */
function Begun() {
  const house = useHouse();
  const { price } = useBench();
  const { line } = useDraft();
  const { lacks, problems } = price;
  return (
    <section className={`panel ${style["picker"]}`} aria-label="How to begin">
      {line.placements.length > 1 && <PlaceTabs />}
      <div className={style["begun"]}>
        <GoodsThumb goods={drawingOf(house, line.goods.class)} size={230} />
        <div>
          <h2 className="small-caps-head">{goodsName(line, house)}</h2>
          <p>
            {lacks.length > 0
              ? `Still asked: ${lacks.join(", ")}.`
              : problems.length > 0
                ? "No price yet: what is typed cannot be read, as told below."
                : "Its price is being worked out."}
          </p>
          <p className="hint">
            Backing, topping, hoop, needle and bobbins are then proposed, each with its reason, and
            each yours to change. A stitch file may be dropped anywhere on this page.
          </p>
        </div>
      </div>
    </section>
  );
}

function Choice() {
  const house = useHouse();
  const { editable } = useBench();
  const { actions } = useDraft();
  const choose = (choice: string) =>
    actions.line("goods.class", (found) => {
      takeGoods(found, choice, house);
    });
  const one = (choice: string, goods: string, label: string) => (
    <li key={choice}>
      <button type="button" disabled={!editable} onClick={() => choose(choice)}>
        <GoodsThumb goods={drawingOf(house, goods)} />
        <span>{label}</span>
      </button>
    </li>
  );
  return (
    <section className={`panel ${style["picker"]}`} aria-label="How to begin">
      <header>
        <h2 className="small-caps-head">What is it sewn on?</h2>
        <span className="hint">three answers make a price: goods, how many, the design</span>
      </header>
      {Object.keys(house.blanks).length > 0 && (
        <>
          <h3>Blanks on your shelf</h3>
          <ul>
            {Object.entries(house.blanks).map(([id, row]) => one(BLANK + id, row.goods, row.label))}
          </ul>
          <h3>Any other</h3>
        </>
      )}
      <ul>{Object.entries(house.goods).map(([id, row]) => one(id, id, row.label))}</ul>
      {editable && <Starts />}
    </section>
  );
}
