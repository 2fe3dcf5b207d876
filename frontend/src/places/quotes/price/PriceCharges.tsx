// What stands beside the lines: charges, tax, what is to pay.
import { type Estimate } from "../../../api";
import { money } from "../../../parts/format";

interface Props {
  estimate: Estimate;
  /** Opens the working of a charge. */
  onOpen?: (id: string) => void;
}

export function PriceCharges({ estimate, onOpen }: Props) {
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
