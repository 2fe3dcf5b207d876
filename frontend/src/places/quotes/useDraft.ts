import { useCallback, useReducer } from "react";
import type { Draft, DraftLine } from "./draft";

export interface DraftState {
  draft: Draft;
  past: Draft[];
  future: Draft[];
}

type Action =
  { do: "set"; to: Draft } | { do: "undo" } | { do: "redo" } | { do: "load"; to: Draft };
const MOST_KEPT = 100;

function reduce(state: DraftState, action: Action): DraftState {
  const { draft, past, future } = state;
  if (action.do === "set" || action.do === "load") {
    const kept = [...past, draft].slice(-MOST_KEPT);
    return { draft: action.to, past: kept, future: [] };
  }
  const from = action.do === "undo" ? past : future;
  const to = from[from.length - 1];
  if (!to) return state;
  return action.do === "undo"
    ? { draft: to, past: past.slice(0, -1), future: [...future, draft] }
    : { draft: to, past: [...past, draft], future: future.slice(0, -1) };
}

/** The draft with undo and redo. */
export function useDraft(start: DraftState) {
  const [state, act] = useReducer(reduce, start);
  const { draft } = state;
  const set = useCallback((to: Draft) => act({ do: "set", to }), []);
  const undo = useCallback(() => act({ do: "undo" }), []);
  const redo = useCallback(() => act({ do: "redo" }), []);
  const setLine = (change: Partial<DraftLine>) =>
    set({ ...draft, lines: [{ ...draft.lines[0], ...change }] });
  const setPlacement = (change: Partial<DraftLine["placements"][0]>) =>
    setLine({ placements: [{ ...draft.lines[0].placements[0], ...change }] });
  return {
    state,
    draft,
    set,
    setLine,
    setPlacement,
    undo,
    redo,
    canUndo: state.past.length > 0,
    canRedo: state.future.length > 0,
  };
}

export type DraftTools = ReturnType<typeof useDraft>;
