/** After something was added, removed or left the keyboard goes on where the work does, once it is drawn. */
export function goOnAt(selector: string) {
  window.requestAnimationFrame(() =>
    window.requestAnimationFrame(() => document.querySelector<HTMLElement>(selector)?.focus()),
  );
}
