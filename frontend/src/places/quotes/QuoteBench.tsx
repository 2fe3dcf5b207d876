// The bench: where a quote is made. Loads and holds state; no arithmetic.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import {
  api,
  ProblemError,
  type Advice,
  type EstimateLine,
  type Problem,
  type QuoteView,
} from "../../api/client";
import { costsHidden } from "../../parts/money";
import { useTell } from "../../parts/toasts";
import { WorkingSheet } from "../../parts/WorkingSheet";
import { AskPanel } from "./AskPanel";
import { MakingPanel } from "./MakingPanel";
import { Compare } from "./Compare";
import { GoodsPicker } from "./GoodsPicker";
import { LineTabs } from "./LineTabs";
import { PiecePanel } from "./PiecePanel";
import { overruledIn, reasonIn, takenOut, type Draft } from "./draft";
import { whereText } from "./place";
import { PriceDock } from "./PriceDock";
import { PriceSheet } from "./PriceSheet";
import { QuoteBar } from "./QuoteBar";
import { useDraft, type DraftState, type DraftTools } from "./useDraft";
import { useEstimate } from "./useEstimate";
import { useSaving } from "./useSaving";

const ASK_CODES = [
  "names-unused", "sample-none", "spare-none", "skin-cover", "wear-special", "blank-differs",
  "blank-unpriced", "cell-none",
]; // prettier-ignore
const PIECE_CODES = [
  "hoop-none", "hoop-tight", "place-big", "letter-small", "stitch-short", "stitch-long",
  "density-hot", "colour-none", "cap-tall", "name-odd", "names-missing", "name-long", "band-short",
  "split-join", "file-changed", "seam-near",
]; // prettier-ignore

function useUpload(tools: DraftTools) {
  const queries = useQueryClient();
  const [busy, setBusy] = useState<string | null>(null);
  const [error, setError] = useState<string | null>(null);
  const stop = useRef<AbortController | null>(null);
  const send = async (file: File) => {
    stop.current?.abort();
    const control = new AbortController();
    stop.current = control;
    setBusy(file.name);
    setError(null);
    const { lineAt, placeAt } = tools; // it belongs where it was dropped, whatever is typed since
    try {
      const kept = await api.keepDesign(file, control.signal);
      await queries.invalidateQueries({ queryKey: ["designs"] });
      tools.changeLine(lineAt, (line) => ({
        ...line,
        placements: line.placements.map((old, n) =>
          n === placeAt
            ? { ...old, design: { ...old.design, way: "file", sha256: kept.sha256 } }
            : old,
        ),
      }));
    } catch (problem) {
      if (problem instanceof ProblemError) {
        const { where, detail, remedy } = problem.problem;
        setError(`${where ? `${where}: ` : ""}${detail} ${remedy}`);
      }
    } finally {
      if (stop.current === control) setBusy(null);
    }
  };
  const cancel = () => stop.current?.abort();
  return { busy, error, send: (file: File) => void send(file), cancel };
}

const PANELS: Record<string, string> = {
  Digit1: "Ask",
  Digit2: "The piece",
  Digit3: "The making",
  Digit4: "Price",
};

function useKeys(tools: DraftTools) {
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (!event.altKey || event.ctrlKey || event.metaKey) return;
      const does = { KeyZ: tools.undo, KeyY: tools.redo }[event.code];
      const panel = PANELS[event.code];
      if (panel) {
        event.preventDefault();
        document
          .querySelector<HTMLElement>(
            `[aria-label="${panel}"] :is(select, input, button, [tabindex="0"])`,
          )
          ?.focus();
      }
      if (does) {
        event.preventDefault();
        does();
      }
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, [tools.undo, tools.redo]);
}

interface Props {
  frame: React.ReactNode;
  quote: QuoteView;
  start: DraftState;
  revision: number;
  saved: Draft;
  reopen: () => void;
}

export function QuoteBench({ frame, quote, start, revision, saved, reopen }: Props) {
  const tools = useDraft(start);
  const editable = quote.state === "draft";
  const saving = useSaving({ id: quote.id, revision, saved, editable }, tools);
  const house = useQuery({ queryKey: ["house"], queryFn: api.house });
  const [open, setOpen] = useState<string | null>(null);
  const [comparing, setComparing] = useState(false);
  const [side, setSide] = useState<"piece" | "making">("piece");
  const { estimate, lacks, problem, at } = useEstimate(
    tools.draft,
    open !== null && open !== "the price",
    quote,
    tools.lineAt,
  );
  const upload = useUpload(tools);
  const tell = useTell();
  useKeys(tools);
  const line = estimate?.lines[tools.lineAt];
  const all = estimate?.lines.flatMap((each) => each.advice) ?? [];
  const placed = line && (!editable || tools.placeAt < line.places.length);
  const here = `placements[${tools.placeAt}]`;
  // of other places of this line only what stops it: the rest stands at its place
  const advice = [...(line?.advice ?? []), ...filesChanged(quote, tools)]
    .filter((a) => !a.where.startsWith("placements[") || a.where === here || a.level === "stop")
    .map((a) => elsewhere(a, here, line))
    .map((a) => (editable ? a : { ...a, apply: null })); // a sent quote stands as it was
  const show = (id: string) => {
    if (costsHidden) return; // the working tells costs
    setOpen(id);
    setSide("making");
  };
  const overrule = editable
    ? (advice: Advice, reason: string) =>
        tools.set(overruledIn(tools.draft, advice, tools.lineAt, reason))
    : undefined;
  const pick = (codes: string[]) => advice.filter((a) => codes.includes(a.code));
  const others = advice.filter((a) => ![...ASK_CODES, ...PIECE_CODES].includes(a.code));
  return (
    <div
      className="bench"
      onDragOver={(e) => e.preventDefault()}
      onDrop={(e) => {
        e.preventDefault();
        const file = e.dataTransfer.files[0];
        if (file && editable) upload.send(file);
        if (file && !editable)
          tell(`${quote.number} was sent: ${file.name} is not taken in. Revise the quote first.`);
      }}
    >
      {frame}
      <QuoteBar
        quote={quote}
        tools={tools}
        saving={saving}
        advice={all}
        toPay={lacks.length > 0 ? null : (estimate?.total.to_pay ?? null)}
        reopen={reopen}
      >
        <div className="switch-panels" role="group" aria-label="Show">
          {(["piece", "making"] as const).map((which) => (
            <button
              key={which}
              type="button"
              className={`btn btn-sm ${side === which ? "btn-primary" : "btn-outline-primary"}`}
              aria-pressed={side === which}
              onClick={() => setSide(which)}
            >
              {which === "piece" ? "Piece" : "Making"}
            </button>
          ))}
        </div>
      </QuoteBar>
      <LineTabs tools={tools} house={house.data} editable={editable} />
      <main className={`bench-panels show-${side}`}>
        {house.data ? (
          <div className="bare" inert={!editable}>
            <AskPanel
              tools={tools}
              house={house.data}
              at={at}
              advice={pick(ASK_CODES)}
              supplied={line?.supplied ?? null}
              onOverrule={overrule}
              upload={upload}
            />
          </div>
        ) : (
          <section className="panel" aria-busy="true">
            {house.error ? "The shop's server does not answer. Start it, then reload." : ""}
          </section>
        )}
        {house.data && line && placed ? (
          <>
            <PiecePanel
              tools={tools}
              house={house.data}
              line={line}
              advice={pick(PIECE_CODES)}
              onOverrule={overrule}
              editable={editable}
              at={at}
              onOpen={show}
            />
            <div className="making-wrap">
              <div className="bare" inert={!editable}>
                <MakingPanel
                  tools={tools}
                  house={house.data}
                  line={line}
                  advice={others}
                  onOverrule={overrule}
                  estimate={estimate}
                />
              </div>
              {open === "the price" && estimate && (
                <PriceSheet
                  tools={tools}
                  house={house.data}
                  estimate={estimate}
                  line={line}
                  at={at}
                  editable={editable}
                  onClose={() => setOpen(null)}
                />
              )}
              {open && open !== "the price" && (
                <WorkingSheet
                  id={open}
                  working={line.working.length > 0 ? line.working : null}
                  onOpen={setOpen}
                  onClose={() => setOpen(null)}
                />
              )}
            </div>
          </>
        ) : (
          house.data && (
            <GoodsPicker
              tools={tools}
              house={house.data}
              lacks={lacks}
              wrong={problem !== null}
              editable={editable}
            />
          )
        )}
      </main>
      {comparing && estimate && house.data && (
        <Compare
          quote={quote}
          tools={tools}
          house={house.data}
          estimate={estimate}
          onClose={() => setComparing(false)}
        />
      )}
      {saving.state === "refused" && (
        <div className="dock" role="alert">
          <p className="my-2">
            <strong>Not saved.</strong> {saving.why} It is kept in this browser.
          </p>
        </div>
      )}
      {problem && <NotPriced problem={problem} tools={tools} before={estimate !== null} />}
      {estimate && line && editable && lacks.length > 0 && (
        <div className="dock" role="status">
          <p className="my-2">
            <strong>Not in this price yet:</strong> {listed(lacks)}.
          </p>
        </div>
      )}
      {estimate && line && house.data ? (
        <PriceDock
          tools={tools}
          estimate={estimate}
          line={line}
          step={Number(house.data.price.round_to) || 0.01}
          editable={editable}
          onOpen={show}
          onPrice={() => {
            setOpen("the price");
            setSide("making");
          }}
          onCompare={() => {
            if (lacks.length > 0) tell(`Side by side once you have said ${listed(lacks)}.`);
            else setComparing(true);
          }}
        />
      ) : (
        <section className="dock" aria-label="Price">
          <EmptyDock lacks={lacks} wrong={problem !== null} />
        </section>
      )}
    </div>
  );
}

/** What the server knows of this line's files, of those that the draft still has. */
function filesChanged(quote: QuoteView, { draft, line, lineAt }: DraftTools): Advice[] {
  return quote.files_changed
    .filter(
      (changed) =>
        changed.line === lineAt &&
        line.placements[changed.placement]?.design.sha256 === changed.sha256,
    )
    .map(({ advice }) => ({ ...advice, overruled: reasonIn(draft, advice, lineAt) }));
}

/** Says which place a stop belongs to, when it is not the one that is open. */
function elsewhere(advice: Advice, here: string, line: EstimateLine | undefined): Advice {
  const n = /^placements\[(\d+)\]$/.exec(advice.where)?.[1];
  const label = n && advice.where !== here ? line?.places[Number(n)]?.label : undefined;
  return label ? { ...advice, message: `${label}: ${advice.message}` } : advice;
}

interface NotPricedProps {
  problem: Problem;
  tools: DraftTools;
  /** There is a price of what was there before, and so every field is in sight. */
  before: boolean;
}

/** What keeps a draft from being priced, where, and the way out when its field is not in sight. */
function NotPriced({ problem, tools, before }: NotPricedProps) {
  const [first, ...more] = problem.errors;
  const where = first && whereText(first.where);
  const without = first && !before ? takenOut(tools.draft, first.where) : null;
  return (
    <div className="dock" role="alert">
      <p className="my-2">
        <strong>{problem.status === 0 ? problem.title : "Not priced as typed"}.</strong>{" "}
        {first && where
          ? `${where}: ${first.detail} ${first.remedy}`
          : `${problem.detail} ${problem.remedy}`}
        {more.length > 0 && ` And ${more.length} more.`}
        {before && " The price below is of what was there before."}{" "}
        {without && (
          <button type="button" className="btn btn-plain" onClick={() => tools.set(without)}>
            Take it out
          </button>
        )}
      </p>
    </div>
  );
}

/** As high as the dock with a price in it, so that nothing moves when one comes. */
function EmptyDock({ lacks, wrong }: { lacks: string[]; wrong: boolean }) {
  return (
    <div className="empty-dock">
      <svg aria-hidden="true" width="100%" height="100" preserveAspectRatio="none">
        <pattern id="blank-ticks" width="48" height="30" patternUnits="userSpaceOnUse">
          <path d="M0.5 0v12M12.5 0v5M24.5 0v8M36.5 0v5" stroke="var(--line-strong)" />
        </pattern>
        <rect x="0.5" y="20" width="99.8%" height="30" fill="url(#blank-ticks)" />
        <rect x="0.5" y="20" width="99.8%" height="30" fill="none" stroke="var(--line-strong)" />
        <rect x="0" y="14" width="6" height="42" fill="var(--brass)" />
      </svg>
      <p>
        {lacks.length > 0
          ? `For a price, say ${listed(lacks)}.`
          : wrong
            ? "No price until that is mended."
            : "Working out the price …"}
      </p>
    </div>
  );
}

function listed(words: string[]): string {
  return words.length > 1
    ? `${words.slice(0, -1).join(", ")} and ${words[words.length - 1] ?? ""}`
    : (words[0] ?? "");
}
