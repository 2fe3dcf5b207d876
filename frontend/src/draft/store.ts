// The quote being edited: one typed store with undo. A step of undo is what was typed at one place
// until a pause, not a letter.
import { applyPatch, type Operation } from "fast-json-patch";
import { produce } from "immer";
import { temporal } from "zundo";
import { createStore, type StoreApi } from "zustand/vanilla";
import { type Advice, type QuoteDocument, type QuoteView } from "../api";
import {
  copyLine,
  documentOfJob,
  jobOf,
  newLine,
  newPlacement,
  type DraftJob,
  type DraftLine,
  type DraftPlacement,
} from "./job";

export interface Head {
  customer: string;
  email: string;
  due_on: string;
  valid_until: string;
  notes: string;
  /** The day that its papers state; "" for the safe one. */
  promised_on: string;
  /** The order it goes before, by its id; 0 for none. */
  goes_before: number;
  express: boolean;
  /** Pieces that are delivered first; 0 for all at once. */
  first_part: number;
}

/** What is kept of a quote, and undone. */
export interface Draft {
  head: Head;
  job: DraftJob;
}

export interface DraftState extends Draft {
  lineId: string;
  placeId: string;
  edit: (place: string, change: (draft: Draft) => void) => void;
  replace: (to: Draft) => void;
  go: (to: { line?: string; place?: string }) => void;
}

export interface History {
  past: Draft[];
  future: Draft[];
}

/** The fields of the open line and place that can be set together. */
export interface Actions {
  head: (change: Partial<Head>) => void;
  job: (place: string, change: (job: DraftJob) => void) => void;
  line: (place: string, change: (line: DraftLine) => void) => void;
  lineById: (id: string, place: string, change: (line: DraftLine) => void) => void;
  placement: (place: string, change: (placement: DraftPlacement) => void) => void;
  addLine: (like?: DraftLine) => void;
  removeLine: () => void;
  addPlacement: () => void;
  removePlacement: () => void;
  /** The open place is sewn one earlier or later. */
  movePlacement: (way: -1 | 1) => void;
  fix: (patch: Record<string, unknown>[]) => void;
  takeOut: (where: string) => boolean;
  overrule: (advice: Advice, line: string, reason: string) => void;
}

const MOST_KEPT = 100;
export const PAUSE_MS = 700;

export const draftOf = (quote: QuoteView): Draft => {
  const { customer, email, due_on, valid_until, notes } = quote;
  return {
    head: {
      customer,
      email,
      due_on,
      valid_until,
      notes,
      promised_on: quote.promised_on ?? "",
      goes_before: quote.goes_before ?? 0,
      express: quote.express ?? false,
      first_part: quote.first_part ?? 0,
    },
    job: jobOf(quote.job, quote.currency),
  };
};

/** What is saved of a draft: its head and its whole job. */
export const documentOf = ({ head, job }: Draft): QuoteDocument => ({
  ...head,
  job: documentOfJob(job),
});

/** Keys in one order, so that what is the same reads the same however it came about. */
function sorted(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(sorted);
  if (typeof value !== "object" || value === null) return value;
  const rows = Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1));
  return Object.fromEntries(rows.map(([key, part]) => [key, sorted(part)]));
}

/** A draft as one text: equal texts are saved as the same. */
export const textOf = (draft: Draft): string => JSON.stringify(sorted(documentOf(draft)));

/** When steps of undo begin: at another place than the last change, or after a pause. */
function steps(now: () => number) {
  let last = { place: "", at: -Infinity };
  return (place: string): boolean => {
    const begins = place !== last.place || now() - last.at > PAUSE_MS;
    last = { place, at: now() };
    return begins;
  };
}

export type DraftStore = ReturnType<typeof createDraftStore>;

export function createDraftStore(
  start: Draft,
  history: History = { past: [], future: [] },
  now: () => number = () => performance.now(),
) {
  const begins = steps(now);
  let place = "";
  const first = start.job.lines[0];
  const store = createStore<DraftState>()(
    temporal(
      (set) => ({
        ...start,
        lineId: first?.id ?? "",
        placeId: first?.placements[0]?.id ?? "",
        edit: (at, change) => {
          place = at;
          set((state) =>
            produce({ head: state.head, job: state.job }, (draft: Draft) => {
              change(draft); // what a change returns is nothing
            }),
          );
        },
        replace: (to) => {
          place = `replace ${now()}`;
          set(to);
        },
        go: ({ line, place: to }) =>
          set((state) => {
            const lineId = line ?? state.lineId;
            const found = state.job.lines.find((each) => each.id === lineId);
            return { lineId, placeId: to ?? found?.placements[0]?.id ?? "" };
          }),
      }),
      {
        limit: MOST_KEPT,
        partialize: ({ head, job }): Draft => ({ head, job }),
        equality: (a, b) => a.head === b.head && a.job === b.job,
        handleSet: (record) => (past) => {
          if (begins(place)) record(past);
        },
      },
    ),
  );
  store.temporal.setState({ pastStates: history.past, futureStates: history.future });
  return store;
}

const NO_LINE = newLine();
const NO_PLACE = newPlacement();

/** The open line and place: those gone to, else the first there is. */
export function openIn(state: Pick<DraftState, "job" | "lineId" | "placeId">) {
  const { lines } = state.job;
  const lineAt = Math.max(
    0,
    lines.findIndex((line) => line.id === state.lineId),
  );
  const line = lines[lineAt] ?? NO_LINE;
  const placeAt = Math.max(
    0,
    line.placements.findIndex((placement) => placement.id === state.placeId),
  );
  return { line, lineAt, placement: line.placements[placeAt] ?? NO_PLACE, placeAt };
}

/** The steps of a place in the job: "lines[0].goods.unit_cost" to lines, 0, goods, unit_cost. */
const stepsOf = (where: string) => where.split(/[.[\]]+/).filter(Boolean);

function without(job: DraftJob, where: string): DraftJob | null {
  const path = stepsOf(where);
  let at: unknown = job;
  for (const step of path) {
    if (typeof at !== "object" || at === null || !(step in at)) return null;
    at = (at as Record<string, unknown>)[step];
  }
  if (path.length === 0 || where.endsWith("]")) return null; // one of a list is not taken out
  return patched(job, [{ op: "remove", path: `/${path.join("/")}` }]);
}

/** A job with an advice's fix, a JSON Patch on the document, applied. */
function patched(job: DraftJob, patch: Record<string, unknown>[]): DraftJob {
  const document = documentOfJob(job);
  const fixed: unknown = applyPatch(document, patch as unknown as Operation[]).newDocument;
  return jobOf(fixed, job.currency ?? "");
}

/** The changes that the bench makes, each under the place that is typed at. */
export function actionsOf(store: StoreApi<DraftState>): Actions {
  const edit = (place: string, change: (draft: Draft) => void) =>
    store.getState().edit(place, change);
  const open = () => openIn(store.getState());
  const lineById: Actions["lineById"] = (id, place, change) =>
    edit(`${id}.${place}`, ({ job }) => {
      const line = job.lines.find((each) => each.id === id);
      if (line) change(line);
    });
  const replaceJob = (job: DraftJob) =>
    store.getState().replace({ head: store.getState().head, job });
  return {
    lineById,
    head: (change) =>
      edit(`head.${Object.keys(change).join()}`, (draft) => Object.assign(draft.head, change)),
    job: (place, change) => edit(place, ({ job }) => change(job)),
    line: (place, change) => lineById(open().line.id, place, change),
    placement: (place, change) => {
      const { line, placement } = open();
      lineById(line.id, `${placement.id}.${place}`, (found) => {
        const here = found.placements.find((each) => each.id === placement.id);
        if (here) change(here);
      });
    },
    addLine: (like) => {
      const line = like ? copyLine(like) : newLine();
      edit(`+${line.id}`, ({ job }) => job.lines.push(line));
      store.getState().go({ line: line.id });
    },
    removeLine: () => {
      const { line, lineAt } = open();
      edit(`-${line.id}`, ({ job }) => {
        job.lines.splice(lineAt, 1);
        if (job.overruled) job.overruled = job.overruled.filter((o) => o.line !== line.id);
        if (job.kits) job.kits = job.kits.filter((kit) => !kit.lines.includes(line.id));
      });
      const { lines } = store.getState().job;
      store.getState().go({ line: lines[Math.max(0, lineAt - 1)]?.id ?? "" });
    },
    addPlacement: () => {
      const placement = newPlacement();
      const { line } = open();
      lineById(line.id, `+${placement.id}`, (found) => void found.placements.push(placement));
      store.getState().go({ line: line.id, place: placement.id });
    },
    removePlacement: () => {
      const { line, placement, placeAt } = open();
      edit(`-${placement.id}`, ({ job }) => {
        job.lines.find((each) => each.id === line.id)?.placements.splice(placeAt, 1);
        if (job.overruled) job.overruled = job.overruled.filter((o) => o.where !== placement.id);
      });
      store.getState().go({ line: line.id });
    },
    movePlacement: (way) => {
      const { line, placement, placeAt } = open();
      const to = placeAt + way;
      if (to < 0 || to >= line.placements.length) return;
      lineById(line.id, "placements.order", ({ placements }) => {
        const [moved] = placements.splice(placeAt, 1);
        if (moved) placements.splice(to, 0, moved);
        delete placements[0]?.shares; // there is none before it
      });
      store.getState().go({ line: line.id, place: placement.id });
    },
    fix: (patch) => replaceJob(patched(store.getState().job, patch)),
    takeOut: (where) => {
      const rest = without(store.getState().job, where);
      if (rest) replaceJob(rest);
      return rest !== null;
    },
    overrule: (advice, line, reason) =>
      edit(`overrule.${advice.code}.${advice.of}`, ({ job }) => {
        const where = advice.of && advice.of !== line ? advice.of : advice.where;
        const others = (job.overruled ?? []).filter(
          (o) => !(o.code === advice.code && o.line === line && ["", where].includes(o.where)),
        );
        job.overruled = reason ? [...others, { code: advice.code, where, line, reason }] : others;
      }),
  };
}

/** Whether a value stands at a place of the job that could be taken out. */
export const canTakeOut = (job: DraftJob, where: string): boolean => without(job, where) !== null;
