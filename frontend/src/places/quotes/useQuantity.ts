import { setQuantity as share, text, useBench, useDraft, useLinePrice } from "../../draft";

/** How many, as typed when it is a plain number, else as it was read; and a change of it. */
export function useQuantity() {
  const { editable } = useBench();
  const { line: asked, actions } = useDraft();
  const { line } = useLinePrice();
  const typed = text(asked.quantity);
  const quantity = /^[1-9]\d*$/.test(typed) ? Number(typed) : line.quantity;
  const setQuantity = (pieces: number) => {
    if (!editable) return;
    actions.line("quantity", (found) => share(found, pieces));
  };
  return { quantity, setQuantity };
}
