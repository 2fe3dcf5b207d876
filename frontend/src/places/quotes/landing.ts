// What was pressed is gone once a quote has become another (sent, accepted, revised): the bench is
// drawn anew, and the keyboard goes on at the quote's number.
let awaited = false;

/** The next bench that is drawn takes the focus. */
export function landOnNumber() {
  awaited = true;
}

/** Whether this one is it; asked once. */
export function lands(): boolean {
  const found = awaited;
  awaited = false;
  return found;
}

export const GOODS = "[data-begin=goods]";
export const DESIGN = "[data-begin=design][aria-pressed=true]";
export const LINE = "[aria-label='Lines of the order'] [aria-current]";
export const PLACE = "[aria-label='Places'] [aria-pressed=true]";
