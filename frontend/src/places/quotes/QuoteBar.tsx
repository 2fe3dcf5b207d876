// The quote's bar: who it is for, until when, whether it is saved, and its next step.
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import { useNavigate } from "react-router";
import { api, ProblemError, type Advice, type QuoteView } from "../../api/client";
import { Dialog } from "../../parts/Dialog";
import { day, money } from "../../parts/format";
import type { DraftTools } from "./useDraft";
import type { useSaving } from "./useSaving";
import { CustomerLink, Said } from "./CustomerSide";
import { Versions } from "./Versions";

type Saving = ReturnType<typeof useSaving>;

const SAYS: Record<Saving["state"], string> = {
  saved: "Saved",
  saving: "Saving …",
  unsent: "Kept here; sent when the server is back",
  stale: "Changed elsewhere",
  refused: "Not saved",
};

function counted(advice: Advice[]): string {
  const levels = ["stop", "warn", "note"] as const;
  return levels
    .map((level) => [level, advice.filter((a) => a.level === level).length] as const)
    .filter(([, n]) => n > 0)
    .map(([level, n]) => `${n} ${level}`)
    .join(", ");
}

interface Props {
  quote: QuoteView;
  tools: DraftTools;
  saving: Saving;
  advice: Advice[];
  toPay: string | null;
  reopen: () => void;
  children: React.ReactNode;
}

export function QuoteBar({ quote, tools, saving, advice, toPay, reopen, children }: Props) {
  const { draft, set } = tools;
  const [open, setOpen] = useState<"send" | "versions" | "said" | null>(null);
  const id = useId();
  const editable = quote.state === "draft";
  const field = (key: "customer" | "due_on" | "valid_until", label: string, type: string) => (
    <div className={`bar-field ${key}`}>
      <label htmlFor={`${id}-${key}`}>{label}</label>
      <input
        id={`${id}-${key}`}
        className="form-control"
        type={type}
        value={draft[key]}
        onChange={(e) => set({ ...draft, [key]: e.target.value })}
      />
    </div>
  );
  const version = editable ? quote.version + 1 : quote.version;
  return (
    <section className="quote-bar" aria-label="This quote">
      <h1>
        {quote.number} <span className="version">v{version}</span>
      </h1>
      <span className={`state-tag ${quote.state}`}>{quote.state}</span>
      {quote.said.length > 0 && (
        <button type="button" className="btn btn-plain heard" onClick={() => setOpen("said")}>
          {quote.heard === "change" ? "asks for a change" : "customer's words"}
        </button>
      )}
      {editable ? (
        <>
          {field("customer", "Customer", "text")}
          {field("due_on", "Due", "date")}
          {field("valid_until", "Valid", "date")}
        </>
      ) : (
        <span className="bar-told">
          <b title={quote.customer}>{quote.customer}</b>
          {quote.due_on && <span>due {day(quote.due_on)}</span>}
          {quote.valid_until && <span>valid until {day(quote.valid_until)}</span>}
        </span>
      )}
      {quote.standards_changed.length > 0 && saving.revision === quote.revision && (
        <details className="standards-changed">
          <summary>
            {quote.standards_changed.length}{" "}
            {quote.standards_changed.length === 1 ? "standard" : "standards"} changed since it was
            saved
          </summary>
          <ul>
            {quote.standards_changed.slice(0, 20).map((change) => (
              <li key={change}>{change}</li>
            ))}
          </ul>
        </details>
      )}
      <span className="state" role="status">
        {[counted(advice), editable ? SAYS[saving.state] : ""].filter(Boolean).join(" · ")}
      </span>
      {children}
      <div className="end">
        {editable && (
          <>
            <Tool name="Undo" does={tools.undo} off={!tools.canUndo} />
            <Tool name="Redo" does={tools.redo} off={!tools.canRedo} />
          </>
        )}
        {quote.version > 0 && <Tool name="Versions" does={() => setOpen("versions")} off={false} />}
        {editable ? (
          <button
            type="button"
            className="btn btn-primary btn-sm"
            disabled={toPay === null}
            onClick={() => setOpen("send")}
          >
            Send
          </button>
        ) : (
          <NextSteps quote={quote} reopen={reopen} />
        )}
      </div>
      {open === "send" && (
        <SendDialog
          quote={quote}
          tools={tools}
          saving={saving}
          toPay={toPay ?? ""}
          onClose={() => setOpen(null)}
          reopen={reopen}
        />
      )}
      {open === "said" && <Said said={quote.said} onClose={() => setOpen(null)} />}
      {open === "versions" && <Versions quote={quote} onClose={() => setOpen(null)} />}
      {saving.state === "stale" && saving.theirs && <Clash saving={saving} />}
    </section>
  );
}

function Tool({ name, does, off }: { name: string; does: () => void; off: boolean }) {
  return (
    <button type="button" className="btn btn-outline-primary btn-sm" disabled={off} onClick={does}>
      {name}
    </button>
  );
}

function NextSteps({ quote, reopen }: { quote: QuoteView; reopen: () => void }) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const done = () => {
    void queries.invalidateQueries({ queryKey: ["quotes"] });
    reopen();
  };
  const answer = useMutation({
    mutationFn: (said: "accepted" | "declined") => api.answerQuote(quote.id, quote.revision, said),
    onSettled: done,
  });
  const revise = useMutation({
    mutationFn: () => api.reviseQuote(quote.id, quote.revision),
    onSettled: done,
  });
  const copy = useMutation({
    mutationFn: (pieces?: number) => api.copyQuote(quote.id, pieces),
    onSuccess: (view) => void navigate(`/quotes/${view.id}`),
  });
  const [again, setAgain] = useState<string | null>(null);
  const [link, setLink] = useState(false);
  const waiting = quote.state === "sent" || quote.state === "expired";
  return (
    <>
      {waiting && (
        <>
          <Tool name="Accepted" does={() => answer.mutate("accepted")} off={answer.isPending} />
          <Tool name="Declined" does={() => answer.mutate("declined")} off={answer.isPending} />
        </>
      )}
      {again === null ? (
        <Tool
          name="Same again"
          does={() => setAgain(String(quote.estimate?.lines[0]?.quantity ?? 12))}
          off={copy.isPending}
        />
      ) : (
        <form
          className="again"
          onSubmit={(e) => {
            e.preventDefault();
            const pieces = Number(again);
            copy.mutate(Number.isInteger(pieces) && pieces > 0 ? pieces : undefined);
          }}
        >
          <label htmlFor="again-pieces">Pieces</label>
          <input
            id="again-pieces"
            className="form-control"
            inputMode="numeric"
            autoFocus
            value={again}
            onFocus={(e) => e.target.select()}
            onChange={(e) => setAgain(e.target.value)}
            onKeyDown={(e) => e.key === "Escape" && setAgain(null)}
          />
          <button type="submit" className="btn btn-primary btn-sm" disabled={copy.isPending}>
            Again
          </button>
        </form>
      )}
      <Tool name="Customer's page" does={() => setLink(true)} off={false} />
      {link && <CustomerLink quote={quote} onClose={() => setLink(false)} />}
      <Tool name="Revise" does={() => revise.mutate()} off={revise.isPending} />
    </>
  );
}

interface SendProps {
  quote: QuoteView;
  tools: DraftTools;
  saving: Saving;
  toPay: string;
  onClose: () => void;
  reopen: () => void;
}

function SendDialog({ quote, tools, saving, toPay, onClose, reopen }: SendProps) {
  const queries = useQueryClient();
  const { draft, set } = tools;
  const id = useId();
  const send = useMutation({
    mutationFn: async () => api.sendQuote(quote.id, await saving.flush()),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ["quotes"] });
      onClose();
      reopen();
    },
  });
  const problem = send.error instanceof ProblemError ? send.error.problem : null;
  const footer = (
    <>
      <button type="button" className="btn btn-outline-primary" onClick={onClose}>
        Not yet
      </button>
      <button
        type="button"
        className="btn btn-primary"
        disabled={send.isPending}
        onClick={() => send.mutate()}
      >
        Send it
      </button>
    </>
  );
  return (
    <Dialog title={`Send ${quote.number} v${quote.version + 1}`} footer={footer} onClose={onClose}>
      <div className="ask-fields">
        <p className="mb-0">
          {money(toPay, draft.currency)} to pay. This version is frozen with its figures and papers;
          it can be revised, which makes the next one.
        </p>
        {(["customer", "email"] as const).map((key) => (
          <div key={key}>
            <label className="form-label" htmlFor={`${id}-${key}`}>
              {key === "customer" ? "For" : "E-mail (the post is simulated: see the outbox)"}
            </label>
            <input
              id={`${id}-${key}`}
              className="form-control"
              value={draft[key]}
              onChange={(e) => set({ ...draft, [key]: e.target.value })}
            />
          </div>
        ))}
        {problem && (
          <div className="invalid-feedback d-block" role="alert">
            {problem.detail} {problem.remedy}
          </div>
        )}
      </div>
    </Dialog>
  );
}

function Clash({ saving }: { saving: Saving }) {
  const { theirs } = saving;
  const footer = (
    <>
      <button type="button" className="btn btn-outline-primary" onClick={saving.takeTheirs}>
        Take what is there
      </button>
      <button type="button" className="btn btn-primary" onClick={saving.keepMine}>
        Keep mine
      </button>
    </>
  );
  return (
    <Dialog title="Changed in another place" footer={footer}>
      <p className="mb-0">
        {theirs?.number} was saved elsewhere{theirs?.summary ? ` (${theirs.summary})` : ""} while
        this page had it open. Both are kept until you choose; undo brings yours back.
      </p>
    </Dialog>
  );
}
