import { useCallback, useReducer, useState } from "react";
import { newLine, newPlacement, type Draft, type DraftLine, type DraftPlacement } from "./draft";

export interface DraftState {
  draft: Draft;
  past: Draft[];
  future: Draft[];
}

/** What a change is made of: the draft as it then is, which may be newer than the one on screen. */
type Change = Draft | ((draft: Draft) => Draft);
type Action =
  { do: "set"; to: Change } | { do: "undo" } | { do: "redo" } | { do: "load"; to: Draft };
const MOST_KEPT = 100;

function reduce(state: DraftState, action: Action): DraftState {
  const { draft, past, future } = state;
  if (action.do === "set" || action.do === "load") {
    const to = typeof action.to === "function" ? action.to(draft) : action.to;
    if (to === draft) return state;
    return { draft: to, past: [...past, draft].slice(-MOST_KEPT), future: [] };
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
  const set = useCallback((to: Change) => act({ do: "set", to }), []);
  const changeLine = useCallback(
    (at: number, change: (line: DraftLine) => DraftLine) =>
      set((now) => ({ ...now, lines: now.lines.map((old, n) => (n === at ? change(old) : old)) })),
    [set],
  );
  const undo = useCallback(() => act({ do: "undo" }), []);
  const redo = useCallback(() => act({ do: "redo" }), []);
  const [at, go] = useState({ line: 0, place: 0 });
  const lineAt = Math.min(at.line, draft.lines.length - 1);
  const line = draft.lines[lineAt] ?? newLine();
  const placeAt = Math.min(at.place, line.placements.length - 1);
  const placement = line.placements[placeAt] ?? newPlacement();
  const setLines = (lines: DraftLine[]) => set({ ...draft, lines });
  const setLine = (change: Partial<DraftLine>) =>
    setLines(draft.lines.map((old, n) => (n === lineAt ? { ...old, ...change } : old)));
  const setPlacements = (placements: DraftPlacement[]) => setLine({ placements });
  const setPlacement = (change: Partial<DraftPlacement>) =>
    setPlacements(line.placements.map((old, n) => (n === placeAt ? { ...old, ...change } : old)));
  return {
    state,
    draft,
    line,
    lineAt,
    placement,
    placeAt,
    go: (to: { line?: number; place?: number }) =>
      go({ line: to.line ?? lineAt, place: to.place ?? (to.line === undefined ? placeAt : 0) }),
    set,
    /** For what comes back later: changes a line as it then is, not as it was. */
    changeLine,
    setLine,
    setPlacement,
    addLine: (like?: DraftLine) => {
      setLines([...draft.lines, like ? structuredClone(like) : newLine()]);
      go({ line: draft.lines.length, place: 0 });
    },
    removeLine: () => {
      const rest = { ...draft.rest };
      delete rest["kits"]; // a set without one of its lines is none
      set({ ...draft, rest, lines: draft.lines.filter((_, n) => n !== lineAt) });
      go({ line: Math.max(0, lineAt - 1), place: 0 });
    },
    addPlacement: () => {
      setPlacements([...line.placements, newPlacement()]);
      go({ line: lineAt, place: line.placements.length });
    },
    removePlacement: () => {
      setPlacements(line.placements.filter((_, n) => n !== placeAt));
      go({ line: lineAt, place: Math.max(0, placeAt - 1) });
    },
    undo,
    redo,
    canUndo: state.past.length > 0,
    canRedo: state.future.length > 0,
  };
}

export type DraftTools = ReturnType<typeof useDraft>;
