// The dock while a customer looks: prices as plain lengths, no cost.
import { useLinePrice } from "../../../draft";
import { money } from "../../../parts/format";
import { PlainRod } from "../../../parts/PlainRod";
import { Tape } from "../../../parts/Tape";
import { scaleEnd } from "../../../parts/yardRod.geometry";
import { PriceBar } from "./PriceBar";
import { PriceCharges } from "./PriceCharges";
import { useQuantity } from "../useQuantity";

export function PlainDock() {
  const { estimate, line } = useLinePrice();
  const { quantity, setQuantity } = useQuantity();
  const { currency, total } = estimate;
  const unit = Number(line.price.unit);
  return (
    <section className="dock" aria-label="Price">
      <div className="dock-row">
        <span className="row-name">A piece</span>
        <PlainRod name="A piece" price={unit} currency={currency} />
        <span className="row-end">
          <span className="the-price" data-testid="unit-price">
            {money(line.price.unit, currency)}
          </span>
        </span>
      </div>
      <div className="dock-row">
        <span className="row-name">The order</span>
        <PlainRod name="The order" price={Number(total.lines)} currency={currency} />
        <span className="row-end">
          <strong data-testid="line-price">{money(total.lines, currency)}</strong>
          <PriceCharges estimate={estimate} />
        </span>
      </div>
      <div className="dock-row">
        <span className="row-name">How many</span>
        <Tape quantity={quantity} tiers={line.tiers} currency={currency} onQuantity={setQuantity} />
        <span className="row-end hint">
          {line.next_step &&
            `${line.next_step.more} more save ${money(line.next_step.saves_each, currency)} each`}
        </span>
      </div>
      <PriceBar line={line} currency={currency} quantity={quantity} onQuantity={setQuantity}>
        <rect width={(unit / scaleEnd(unit)) * 100} height="10" fill="var(--ink)" />
      </PriceBar>
    </section>
  );
}
