// Whether the shop's server answers, and whether it is still the shop that this page was opened on:
// every call says so, and the frame shows it.
import { useSyncExternalStore } from "react";

function told<T>(value: T) {
  const listeners = new Set<() => void>();
  return {
    say: (now: T) => {
      if (now === value) return;
      value = now;
      listeners.forEach((listen) => listen());
    },
    subscribe: (listen: () => void) => {
      listeners.add(listen);
      return () => listeners.delete(listen);
    },
    now: () => value,
  };
}

const reached = told(true);
const moved = told(false);
const newer = told(false);

export const sayReached = reached.say;
export const sayMoved = moved.say;
export const sayNewer = newer.say;
export const useReached = () => useSyncExternalStore(reached.subscribe, reached.now);
export const useMoved = () => useSyncExternalStore(moved.subscribe, moved.now);

/** Whether the server has another build than this page runs. */
export const useNewer = () => useSyncExternalStore(newer.subscribe, newer.now);
