// The dock: the yard for a piece and for the order, and the tape.
import { text, useBench, useDraft, useHouse, useLinePrice } from "../../../draft";
import { lengthsOf } from "../../../parts/costs";
import { keptPrice, money, percent, priceStep } from "../../../parts/format";
import { costsHidden } from "../../../parts/money";
import { Tape } from "../../../parts/Tape";
import { YardRod } from "../../../parts/YardRod";
import { scaleEnd } from "../../../parts/yardRod.geometry";
import { Guesses } from "./Guesses";
import { PieceInWords } from "../piece/PieceInWords";
import { PlainDock } from "./PlainDock";
import { PriceBar } from "./PriceBar";
import { PriceCharges } from "./PriceCharges";
import { PriceTold } from "./PriceTold";
import { useQuantity } from "../useQuantity";
import style from "./PriceDock.module.scss";

interface Props {
  onPrice: () => void;
  onCompare: () => void;
}

/** The price of a piece follows the hand at once; and a change of it. */
function useUnitPrice() {
  const { editable } = useBench();
  const { line: asked, actions } = useDraft();
  const { estimate, line } = useLinePrice();
  const set = (price: number | null) =>
    actions.line("unit_price", (found) => {
      if (price === null) delete found.unit_price;
      else found.unit_price = keptPrice(price, estimate.currency);
    });
  const kept = Number(text(asked.unit_price));
  const unit = text(asked.unit_price) && Number.isFinite(kept) ? kept : Number(line.price.unit);
  return { unit, pull: editable ? set : undefined, typed: line.price.method === "typed" };
}

export function PriceDock({ onPrice, onCompare }: Props) {
  const { estimate, line } = useLinePrice();
  const { quantity, setQuantity } = useQuantity();
  const { currency } = estimate;
  if (costsHidden) return <PlainDock />;
  return (
    <section className={style["dock"]} aria-label="Price">
      <PriceTold />
      <PieceRow />
      <OrderRow />
      <div className={style["dock-row"]}>
        <span className={style["row-name"]}>How many</span>
        <Tape quantity={quantity} tiers={line.tiers} currency={currency} onQuantity={setQuantity} />
        <span className={`${style["row-end"]} hint`}>
          {line.next_step && (
            <span className="d-block">
              {line.next_step.more} more save {money(line.next_step.saves_each, currency)} each
            </span>
          )}
          <button type="button" className="btn btn-plain" onClick={onPrice}>
            more on it
          </button>
          {" · "}
          <button type="button" className="btn btn-plain" onClick={onCompare}>
            side by side
          </button>
        </span>
      </div>
      <ThinRod />
    </section>
  );
}

/** What a cost lies between in 80 of 100 cases, over so many pieces. */
const bandOf = (
  sure: { p10: string; p90: string } | null | undefined,
  pieces: number,
): readonly [number, number] | null =>
  sure ? [Number(sure.p10) / pieces, Number(sure.p90) / pieces] : null;

function PieceRow() {
  const house = useHouse();
  const { show } = useBench();
  const { estimate, line } = useLinePrice();
  const { unit, pull, typed } = useUnitPrice();
  const { currency } = estimate;
  const [cost, target] = [Number(line.piece_cost.total), Number(line.price.cross_checks.margin)];
  return (
    <div className={style["dock-row"]}>
      <span className={style["row-name"]}>A piece</span>
      <div>
        <YardRod
          name="A piece"
          lengths={lengthsOf(line.piece_cost)}
          end={scaleEnd(Math.max(unit, cost, target))}
          price={unit}
          cost={cost}
          target={target}
          band={bandOf(line.sure, line.quantity)}
          step={priceStep(house.price.round_to, currency)}
          currency={currency}
          onOpen={show}
          onPrice={pull}
          onBack={() => pull?.(null)}
        />
        <PieceInWords />
      </div>
      <span className={style["row-end"]}>
        <button
          type="button"
          className={`btn btn-plain ${style["the-price"]}`}
          onClick={() => show("price.unit")}
          data-testid="unit-price"
        >
          {money(line.price.unit, currency)}
        </button>
        <br />
        <button type="button" className="btn btn-plain" onClick={() => show("price.margin")}>
          margin {percent(line.price.margin)}
        </button>
        {typed && pull && (
          <>
            {" "}
            <button type="button" className="btn btn-plain" onClick={() => pull(null)}>
              as worked out
            </button>
          </>
        )}
        <Guesses />
      </span>
    </div>
  );
}

function OrderRow() {
  const house = useHouse();
  const { show } = useBench();
  const { estimate, line } = useLinePrice();
  const { unit } = useUnitPrice();
  const { currency, total } = estimate;
  const several = estimate.lines.length > 1 && total.parts !== null;
  const [each, target] = [Number(line.piece_cost.total), Number(line.price.cross_checks.margin)];
  // of one line the order follows the hand at once; of several it is what came back
  const order = several
    ? { price: Number(total.lines), cost: Number(total.parts?.total), target: 0 }
    : { price: unit * line.quantity, cost: each * line.quantity, target: target * line.quantity };
  return (
    <div className={style["dock-row"]}>
      <span className={style["row-name"]}>The order</span>
      <YardRod
        name="The order"
        lengths={lengthsOf(several && total.parts ? { ...total.parts } : { ...line.cost })}
        end={scaleEnd(Math.max(order.price, order.cost, order.target))}
        price={order.price}
        cost={order.cost}
        target={order.target}
        band={bandOf(total.sure, 1)}
        step={priceStep(house.price.round_to, currency)}
        currency={currency}
        onOpen={show}
      />
      <span className={style["row-end"]}>
        <strong data-testid="line-price">
          {money(several ? total.lines : line.price.line, currency)}
        </strong>
        {several && (
          <span className="d-block hint">this line {money(line.price.line, currency)}</span>
        )}
        <PriceCharges estimate={estimate} onOpen={show} />
      </span>
    </div>
  );
}

/** On a narrow screen the rod is a thin bar of its lengths. */
function ThinRod() {
  const { estimate, line } = useLinePrice();
  const { quantity, setQuantity } = useQuantity();
  const { unit } = useUnitPrice();
  const [cost, target] = [Number(line.piece_cost.total), Number(line.price.cross_checks.margin)];
  const end = scaleEnd(Math.max(unit, cost, target));
  return (
    <PriceBar line={line} currency={estimate.currency} quantity={quantity} onQuantity={setQuantity}>
      {lengthsOf(line.piece_cost).map((length) => (
        <rect
          key={length.id}
          x={(length.from / end) * 100}
          width={((length.to - length.from) / end) * 100}
          height="10"
          fill={`var(--${length.colour})`}
        />
      ))}
      <rect x={(unit / end) * 100} width="0.8" height="10" fill="var(--brass)" />
    </PriceBar>
  );
}
