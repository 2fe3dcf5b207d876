import { useEffect } from "react";
import type { DraftStore } from "../../draft";

const PANELS: Record<string, string> = {
  Digit1: "Ask",
  Digit2: "The piece",
  Digit3: "The making",
  Digit4: "Price",
};

/** Alt and a digit to a panel, Alt Z and Y to undo and redo. */
export function useBenchKeys(store: DraftStore) {
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (!event.altKey || event.ctrlKey || event.metaKey) return;
      const { undo, redo } = store.temporal.getState();
      const does = { KeyZ: () => undo(), KeyY: () => redo() }[event.code];
      const panel = PANELS[event.code];
      if (panel) {
        event.preventDefault();
        document
          .querySelector<HTMLElement>(
            `[aria-label="${panel}"] :is(select, input, button, [tabindex="0"])`,
          )
          ?.focus();
      }
      if (does) {
        event.preventDefault();
        does();
      }
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, [store]);
}
