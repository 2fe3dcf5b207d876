// On a narrow screen: a thin rod, the piece price, how many, the line.
import { type EstimateLine } from "../../../api";
import { money } from "../../../parts/format";
import style from "./PriceBar.module.scss";

interface Props {
  line: EstimateLine;
  currency: string;
  quantity: number;
  onQuantity: (pieces: number) => void;
  children: React.ReactNode;
}

export function PriceBar({ line, currency, quantity, onQuantity, children }: Props) {
  return (
    <div className={`${style["only-narrow"]} ${style["price-bar"]}`}>
      <svg
        className={style["thin-rod"]}
        aria-hidden="true"
        viewBox="0 0 100 10"
        preserveAspectRatio="none"
      >
        {children}
      </svg>
      <div className={style["line"]}>
        <strong>{money(line.price.unit, currency)}</strong>
        <span className={style["step"]}>
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
