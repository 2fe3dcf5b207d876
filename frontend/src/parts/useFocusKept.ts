// What was pressed may go away with what it did: then the keyboard goes on at the heading of the
// part that it stood in, or of the page, unless something else has taken the focus by then. What is
// at rest while it works has the focus again once it can be pressed again.
import { useEffect } from "react";

const HEADING = "h1, h2, h3, legend";
/** Whoever moves the focus on purpose does so within two frames. */
const FRAMES = 3;

/** The parts that an element stands in, the innermost first. */
function partsOf(element: Element): Element[] {
  const found: Element[] = [];
  for (let at = element.parentElement; at; at = at.parentElement) {
    if (at.matches("section, form, dialog, main, [role=dialog], [role=group]")) found.push(at);
  }
  return found;
}

function land(parts: Element[]) {
  const part =
    parts.find((each) => each.isConnected && each.querySelector(HEADING)) ??
    document.querySelector("main");
  const heading = part?.querySelector<HTMLElement>(HEADING);
  if (!heading) return;
  if (!heading.hasAttribute("tabindex")) heading.tabIndex = -1;
  heading.focus({ preventScroll: true });
}

function after(frames: number, then: () => void) {
  if (frames === 0) then();
  else window.requestAnimationFrame(() => after(frames - 1, then));
}

/** The focus is never lost to the page's body because what had it is gone. */
export function useFocusKept() {
  useEffect(() => {
    let last: Element | null = null;
    let parts: Element[] = [];
    let rests = false;
    const took = (event: FocusEvent) => {
      last = event.target instanceof Element ? event.target : null;
      parts = last ? partsOf(last) : [];
      rests = false;
    };
    const lost = () =>
      last !== null && !last.isConnected && document.activeElement === document.body;
    const changed = () => {
      if (last instanceof HTMLElement && last.isConnected) {
        const off = last.matches(":disabled"); // it loses the focus a little after this
        const idle = document.activeElement === document.body;
        if (rests && !off && idle) last.focus({ preventScroll: true });
        rests = off;
      }
      if (!lost()) return;
      after(FRAMES, () => {
        if (!lost()) return;
        last = null;
        land(parts);
      });
    };
    const observer = new MutationObserver(changed);
    observer.observe(document.body, {
      childList: true,
      subtree: true,
      attributes: true,
      attributeFilter: ["disabled"],
    });
    document.addEventListener("focusin", took);
    return () => {
      observer.disconnect();
      document.removeEventListener("focusin", took);
    };
  }, []);
}
