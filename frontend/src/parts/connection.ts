// Whether the shop's server answers: every call says so, and the frame shows it.
import { useSyncExternalStore } from "react";

let reached = true;
const listeners = new Set<() => void>();

export function sayReached(now: boolean) {
  if (now === reached) return;
  reached = now;
  listeners.forEach((listen) => listen());
}

const subscribe = (listen: () => void) => {
  listeners.add(listen);
  return () => listeners.delete(listen);
};

export const useReached = () => useSyncExternalStore(subscribe, () => reached);
