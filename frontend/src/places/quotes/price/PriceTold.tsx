// The new price, told once and quietly to who cannot see it: when it has come to rest.
import { useEffect, useState } from "react";
import { useLinePrice } from "../../../draft";
import { counted, money } from "../../../parts/format";

const REST_MS = 1200;

export function PriceTold() {
  const { estimate, line } = useLinePrice();
  const { currency } = estimate;
  const now = `${money(line.price.unit, currency)} a piece at ${counted(line.quantity, "piece")}, ${money(estimate.total.to_pay, currency)} to pay.`;
  const [told, setTold] = useState({ first: now, text: "" });
  useEffect(() => {
    const timer = window.setTimeout(
      () => setTold((old) => (old.first === now && !old.text ? old : { ...old, text: now })),
      REST_MS,
    );
    return () => window.clearTimeout(timer);
  }, [now]);
  return (
    <p className="visually-hidden" role="status" aria-label="The price">
      {told.text}
    </p>
  );
}
