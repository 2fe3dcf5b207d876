// The drawings of goods, one a class; the papers draw the same. They are data, fetched beside the
// scripts: a first view does not wait for what it is drawn with.
import { useEffect, useSyncExternalStore } from "react";
import at from "../../../../src/clothyard/documents/drawings.json?url";
import type { Drawing } from "./shape";

type Drawings = Record<string, Drawing>;

let found: Drawings | null = null;
let coming: Promise<void> | null = null;
const listeners = new Set<() => void>();

function listen(tell: () => void) {
  listeners.add(tell);
  return () => void listeners.delete(tell);
}

function load() {
  coming ??= fetch(at)
    .then((answer) => answer.json() as Promise<Drawings>)
    .then(
      (drawings) => {
        found = drawings;
        listeners.forEach((tell) => tell());
      },
      () => {
        coming = null; // asked again by what is drawn next
      },
    );
}

/** The drawings by class; null while they are on their way. */
export function useDrawings(): Drawings | null {
  const drawings = useSyncExternalStore(listen, () => found);
  useEffect(load, []);
  return drawings;
}
