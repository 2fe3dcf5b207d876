// A price that was agreed with the customer: offered while it holds, taken and left by one press.
import { text, useDraft, useHead } from "../../../draft";
import { day, money } from "../../../parts/format";
import { costsHidden } from "../../../parts/money";
import { useKnown } from "../CustomerField";

export function AgreedOffer() {
  const { job, line, actions } = useDraft();
  const { customer } = useHead();
  const { whose } = useKnown(customer);
  const currency = job.currency ?? "GBP";
  const taken = line.agreed;
  if (costsHidden) return null;
  if (taken)
    return (
      <p className="hint mb-0">
        {money(text(taken.unit_price), currency)} a piece is agreed
        {taken.until ? `, until ${day(taken.until)}` : ""}.{" "}
        <button
          type="button"
          className="btn btn-plain"
          onClick={() => actions.line("agreed", (found) => void delete found.agreed)}
        >
          Price it as worked out
        </button>
      </p>
    );
  const pieces = Number(text(line.quantity)) || 0;
  const today = new Date().toISOString().slice(0, 10);
  const holding = (whose?.agreed ?? [])
    .filter((row) => !row.goods || row.goods === line.goods.class)
    .filter((row) => !row.until || row.until >= today)
    .filter((row) => (row.from_quantity ?? 1) <= Math.max(pieces, 1))
    .sort((a, b) => (b.from_quantity ?? 1) - (a.from_quantity ?? 1));
  const best = holding.find((row) => row.goods) ?? holding[0];
  if (!best || !line.goods.class) return null;
  return (
    <p className="hint mb-0">
      {money(best.unit_price, currency)} a piece was agreed with {whose?.name}
      {best.until ? `, until ${day(best.until)}` : ""}.{" "}
      <button
        type="button"
        className="btn btn-plain"
        onClick={() =>
          actions.line("agreed", (found) => {
            found.agreed = { unit_price: best.unit_price, until: best.until ?? "" };
            delete found.unit_price;
          })
        }
      >
        Take it
      </button>
    </p>
  );
}
