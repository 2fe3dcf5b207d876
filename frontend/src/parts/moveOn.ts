// Enter goes on to the next field, in the order of the work.
import type { KeyboardEvent } from "react";

/** Where Enter goes: fields and what is pressed on the way, past unit switches, help and removal. */
const GOES_ON = "input, select, textarea, button:not([data-aside], [aria-label^='Remove'])";

/** On to the next field, in the order of the work. */
export function moveOn(event: KeyboardEvent<HTMLElement>) {
  const from = event.target as HTMLElement;
  if (event.key !== "Enter" || !from.matches("input:not([type=checkbox]), select")) return;
  event.preventDefault();
  const fields = [...event.currentTarget.querySelectorAll<HTMLElement>(GOES_ON)];
  const next = fields.slice(fields.indexOf(from) + 1).find((f) => f.offsetParent !== null);
  next?.focus();
}
