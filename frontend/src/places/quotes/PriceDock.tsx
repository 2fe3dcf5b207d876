// The dock: the yard for a piece and for the order, and the tape.
import type { Estimate, EstimateLine } from "../../api/client";
import { lengthsOf } from "../../parts/costs";
import { money, percent } from "../../parts/format";
import { costsHidden } from "../../parts/money";
import { PlainRod } from "../../parts/PlainRod";
import { Tape } from "../../parts/Tape";
import { YardRod } from "../../parts/YardRod";
import { scaleEnd } from "../../parts/yardRod.geometry";
import type { DraftTools } from "./useDraft";

interface Props {
  tools: DraftTools;
  estimate: Estimate;
  line: EstimateLine;
  step: number;
  editable: boolean;
  onOpen: (id: string) => void;
  onPrice: () => void;
  onCompare: () => void;
}

/** What stands beside the lines: charges, tax, what is to pay. */
function Charges({ estimate, onOpen }: { estimate: Estimate; onOpen?: (id: string) => void }) {
  const { currency, total } = estimate;
  return (
    <>
      {total.charges.map((charge, n) => {
        const amount = money(charge.amount, currency);
        return (
          <span key={charge.name} className="d-block hint">
            + {charge.name.toLowerCase()}{" "}
            {onOpen ? (
              <button
                type="button"
                className="btn btn-plain"
                onClick={() => onOpen(n === 0 ? "charge" : `charge.${n}`)}
              >
                {amount}
              </button>
            ) : (
              amount
            )}
          </span>
        );
      })}
      {Number(total.tax) > 0 && (
        <span className="d-block hint">tax {money(total.tax, currency)}</span>
      )}
      <span className="d-block hint">to pay {money(total.to_pay, currency)}</span>
    </>
  );
}

interface BarProps {
  line: EstimateLine;
  currency: string;
  quantity: number;
  onQuantity: (pieces: number) => void;
  children: React.ReactNode;
}

/** On a narrow screen: a thin rod, the piece price, how many, the line. */
function PriceBar({ line, currency, quantity, onQuantity, children }: BarProps) {
  return (
    <div className="only-narrow price-bar">
      <svg className="thin-rod" aria-hidden="true" viewBox="0 0 100 10" preserveAspectRatio="none">
        {children}
      </svg>
      <div className="line">
        <strong>{money(line.price.unit, currency)}</strong>
        <span className="step">
          <button
            type="button"
            className="btn btn-outline-primary"
            aria-label="One fewer"
            onClick={() => onQuantity(Math.max(1, quantity - 1))}
          >
            −
          </button>
          {quantity}
          <button
            type="button"
            className="btn btn-outline-primary"
            aria-label="One more"
            onClick={() => onQuantity(quantity + 1)}
          >
            +
          </button>
        </span>
        <strong>{money(line.price.line, currency)}</strong>
      </div>
    </div>
  );
}

export function PriceDock(props: Props) {
  const { tools, estimate, line, step, editable, onOpen } = props;
  const { currency } = estimate;
  const asked = tools.line;
  const { total } = estimate;
  const several = estimate.lines.length > 1 && total.parts !== null;
  const unit = Number(asked.unit_price ?? line.price.unit); // the end follows the hand at once
  const quantity = /^[1-9]\d*$/.test(asked.quantity) ? Number(asked.quantity) : line.quantity;
  const target = Number(line.price.cross_checks.margin);
  const cost = Number(line.piece_cost.total);
  const pieceEnd = scaleEnd(Math.max(unit, cost, target));
  // of one line the order follows the hand at once; of several it is what came back
  const order = several
    ? { price: Number(total.lines), cost: Number(total.parts?.total), target: 0 }
    : { price: unit * line.quantity, cost: cost * line.quantity, target: target * line.quantity };
  const orderEnd = scaleEnd(Math.max(order.price, order.cost, order.target));
  const typed = line.price.method === "typed";
  const places = currency === "JPY" ? 0 : 2;
  const setQuantity = (pieces: number) => {
    if (editable) tools.setLine({ quantity: String(pieces), unit_price: undefined });
  };
  if (costsHidden)
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
            <Charges estimate={estimate} />
          </span>
        </div>
        <div className="dock-row">
          <span className="row-name">How many</span>
          <Tape
            quantity={quantity}
            tiers={line.tiers}
            currency={currency}
            onQuantity={setQuantity}
          />
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
  return (
    <section className="dock" aria-label="Price">
      <div className="dock-row">
        <span className="row-name">A piece</span>
        <YardRod
          name="A piece"
          lengths={lengthsOf(line.piece_cost)}
          end={pieceEnd}
          price={unit}
          cost={cost}
          target={target}
          step={step}
          currency={currency}
          onOpen={onOpen}
          onPrice={
            editable ? (price) => tools.setLine({ unit_price: price.toFixed(places) }) : undefined
          }
          onBack={() => tools.setLine({ unit_price: undefined })}
        />
        <span className="row-end">
          <button
            type="button"
            className="btn btn-plain the-price"
            onClick={() => onOpen("price.unit")}
            data-testid="unit-price"
          >
            {money(line.price.unit, currency)}
          </button>
          <br />
          <button type="button" className="btn btn-plain" onClick={() => onOpen("price.margin")}>
            margin {percent(line.price.margin)}
          </button>
          {typed && editable && (
            <>
              {" "}
              <button
                type="button"
                className="btn btn-plain"
                onClick={() => tools.setLine({ unit_price: undefined })}
              >
                as worked out
              </button>
            </>
          )}
        </span>
      </div>
      <div className="dock-row">
        <span className="row-name">The order</span>
        <YardRod
          name="The order"
          lengths={lengthsOf(several && total.parts ? { ...total.parts } : { ...line.cost })}
          end={orderEnd}
          price={order.price}
          cost={order.cost}
          target={order.target}
          step={step}
          currency={currency}
          onOpen={onOpen}
        />
        <span className="row-end">
          <strong data-testid="line-price">
            {money(several ? total.lines : line.price.line, currency)}
          </strong>
          {several && (
            <span className="d-block hint">this line {money(line.price.line, currency)}</span>
          )}
          <Charges estimate={estimate} onOpen={onOpen} />
        </span>
      </div>
      <div className="dock-row">
        <span className="row-name">How many</span>
        <Tape quantity={quantity} tiers={line.tiers} currency={currency} onQuantity={setQuantity} />
        <span className="row-end hint">
          {line.next_step && (
            <span className="d-block">
              {line.next_step.more} more save {money(line.next_step.saves_each, currency)} each
            </span>
          )}
          <button type="button" className="btn btn-plain" onClick={props.onPrice}>
            more on it
          </button>
          {" · "}
          <button type="button" className="btn btn-plain" onClick={props.onCompare}>
            side by side
          </button>
        </span>
      </div>
      <PriceBar line={line} currency={currency} quantity={quantity} onQuantity={setQuantity}>
        {lengthsOf(line.piece_cost).map((length) => (
          <rect
            key={length.id}
            x={(length.from / pieceEnd) * 100}
            width={((length.to - length.from) / pieceEnd) * 100}
            height="10"
            fill={`var(--${length.colour})`}
          />
        ))}
        <rect x={(unit / pieceEnd) * 100} width="0.8" height="10" fill="var(--brass)" />
      </PriceBar>
    </section>
  );
}
