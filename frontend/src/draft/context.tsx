// What every part of the bench can ask for: the draft, its price, its saving, the shop's house.
import { createContext, useContext } from "react";
import { useStore } from "zustand";
import type { Advice, Estimate, EstimateLine, House, QuoteView } from "../api";
import type { DraftJob } from "./job";
import type { Price } from "./price";
import type { Saving } from "./saving";
import { openIn, type Actions, type DraftStore, type Head } from "./store";

export interface Upload {
  error: string | null;
  busy: string | null;
  send: (file: File) => void;
  cancel: () => void;
}

export interface Bench {
  quote: QuoteView;
  editable: boolean;
  store: DraftStore;
  actions: Actions;
  price: Price;
  upload: Upload;
  /** The house, once it is read. */
  house: House | undefined;
  /** Opens the working of a figure; with costs hidden nothing. */
  show: (working: string) => void;
}

const BenchContext = createContext<Bench | null>(null);
export const BenchProvider = BenchContext.Provider;

const SavingContext = createContext<Saving | null>(null);
export const SavingProvider = SavingContext.Provider;

/** How the saving stands, of the few parts that tell it: it changes with every letter typed. */
export function useSaved(): Saving {
  const saving = useContext(SavingContext);
  if (!saving) throw new Error("outside of a bench");
  return saving;
}

export function useBench(): Bench {
  const bench = useContext(BenchContext);
  if (!bench) throw new Error("outside of a bench");
  return bench;
}

/** The house, of a part that is drawn only when it is read. */
export function useHouse(): House {
  const { house } = useBench();
  if (!house) throw new Error("the house is not read yet");
  return house;
}

/** What is wrong at a place of the job. */
export const useAt = () => useBench().price.at;

export const useHead = (): Head => useStore(useBench().store, (state) => state.head);
export const useJob = (): DraftJob => useStore(useBench().store, (state) => state.job);

/** The open line and place, with the changes that can be made to them. */
export function useDraft() {
  const { store, actions } = useBench();
  const job = useJob();
  const lineId = useStore(store, (state) => state.lineId);
  const placeId = useStore(store, (state) => state.placeId);
  const go = useStore(store, (state) => state.go);
  return { job, go, ...openIn({ job, lineId, placeId }), actions };
}

/** A part of the open line or place: what asks for it is drawn anew only as that part changes. */
export function useOpen<T>(select: (open: ReturnType<typeof openIn>) => T): T {
  return useStore(useBench().store, (state) => select(openIn(state)));
}

/** The open place, with the changes that can be made; the rest of its line may change meanwhile. */
export function useOpenPlace() {
  const { store, actions } = useBench();
  const placement = useOpen((open) => open.placement);
  const placeAt = useOpen((open) => open.placeAt);
  const lineAt = useOpen((open) => open.lineAt);
  const go = useStore(store, (state) => state.go);
  return { placement, placeAt, lineAt, go, actions };
}

/** The price of the open line, of a part that is drawn only when there is one. */
export function useLinePrice(): { estimate: Estimate; line: EstimateLine; advice: Advice[] } {
  const { price } = useBench();
  const lineAt = useOpen((open) => open.lineAt);
  const line = price.estimate?.lines[lineAt];
  if (!price.estimate || !line) throw new Error("the line has no price yet");
  return { estimate: price.estimate, line, advice: line.advice };
}
