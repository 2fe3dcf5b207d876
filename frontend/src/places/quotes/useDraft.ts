import { useCallback, useEffect, useReducer } from "react";
import { EMPTY, keepDraft, keptDraft, type Draft, type DraftLine } from "./draft";

interface State {
  draft: Draft;
  past: Draft[];
  future: Draft[];
}

type Action = { do: "set"; to: Draft } | { do: "undo" } | { do: "redo" };
const MOST_KEPT = 100;

function reduce(state: State, action: Action): State {
  const { draft, past, future } = state;
  if (action.do === "set")
    return { draft: action.to, past: [...past, draft].slice(-MOST_KEPT), future: [] };
  const from = action.do === "undo" ? past : future;
  const to = from[from.length - 1];
  if (!to) return state;
  return action.do === "undo"
    ? { draft: to, past: past.slice(0, -1), future: [...future, draft] }
    : { draft: to, past: [...past, draft], future: future.slice(0, -1) };
}

/** The draft with undo and redo, kept in this browser at every change. */
export function useDraft() {
  const [state, act] = useReducer(reduce, null, () => ({
    draft: keptDraft(),
    past: [] as Draft[],
    future: [] as Draft[],
  }));
  const { draft } = state;
  useEffect(() => keepDraft(draft), [draft]);
  const set = useCallback((to: Draft) => act({ do: "set", to }), []);
  const undo = useCallback(() => act({ do: "undo" }), []);
  const redo = useCallback(() => act({ do: "redo" }), []);
  const renew = useCallback(() => act({ do: "set", to: EMPTY }), []);
  const setLine = (change: Partial<DraftLine>) =>
    set({ ...draft, lines: [{ ...draft.lines[0], ...change }] });
  const setPlacement = (change: Partial<DraftLine["placements"][0]>) =>
    setLine({ placements: [{ ...draft.lines[0].placements[0], ...change }] });
  return {
    draft,
    set,
    setLine,
    setPlacement,
    undo,
    redo,
    renew,
    canUndo: state.past.length > 0,
    canRedo: state.future.length > 0,
  };
}

export type DraftTools = ReturnType<typeof useDraft>;
