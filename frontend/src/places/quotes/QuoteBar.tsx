// The quote's bar: who it is for, until when, whether it is saved, and its next step.
import { useEffect, useId, useRef, useState } from "react";
import { useStore } from "zustand";
import { type Advice } from "../../api";
import { useBench, useHead, useSaved, type Saving } from "../../draft";
import { counted, day } from "../../parts/format";
import { usePageTitle } from "../../parts/usePageTitle";
import { CustomerInput } from "./CustomerField";
import { Said } from "./sending/CustomerSide";
import { NextSteps } from "./sending/NextSteps";
import { lands } from "./landing";
import { usePromise } from "./price/usePromise";
import { Tool } from "./Tool";
import style from "./QuoteBar.module.scss";
import { later } from "../../parts/later";

const Clash = later(() => import("./Clash").then((found) => found.Clash));

const Versions = later(() => import("./sending/Versions").then((found) => found.Versions));

const SendDialog = later(() => import("./sending/SendDialog").then((found) => found.SendDialog));

const SAYS: Record<Saving["state"], string> = {
  saved: "Saved",
  saving: "Saving …",
  unsent: "Kept here; sent when the server is back",
  stale: "Changed elsewhere",
  refused: "Not saved",
};

const LEVELS = { stop: "stop", warn: "warning", note: "note" };

function countedAdvice(advice: Advice[]): string {
  const levels = ["stop", "warn", "note"] as const;
  return levels
    .map((level) => [level, advice.filter((a) => a.level === level).length] as const)
    .filter(([, n]) => n > 0)
    .map(([level, n]) => counted(n, LEVELS[level]))
    .join(", ");
}

interface Props {
  reopen: () => void;
  children: React.ReactNode;
}

export function QuoteBar({ reopen, children }: Props) {
  const { quote, editable, price } = useBench();
  const saving = useSaved();
  const { customer } = useHead();
  usePageTitle([quote.number, customer.trim()].filter(Boolean).join(" "));
  const [open, setOpen] = useState<"send" | "versions" | "said" | null>(null);
  const number = useRef<HTMLHeadingElement>(null);
  useEffect(() => {
    if (lands()) number.current?.focus();
  }, []);
  const close = () => setOpen(null);
  const version = editable ? quote.version + 1 : quote.version;
  const promise = usePromise();
  const advice = [
    ...(price.estimate?.lines.flatMap((each) => each.advice) ?? []),
    ...(editable ? (promise?.advice ?? []) : []),
  ];
  const toPay = price.lacks.length > 0 ? null : (price.estimate?.total.to_pay ?? null);
  return (
    <section className={style["quote-bar"]} aria-label="This quote">
      <h1 tabIndex={-1} ref={number}>
        {quote.number} <span className={style["version"]}>v{version}</span>
      </h1>
      <span className={`state-tag ${quote.state}`}>{quote.state}</span>
      {quote.said.length > 0 && (
        <button type="button" className="btn btn-plain heard" onClick={() => setOpen("said")}>
          {quote.heard === "change" ? "asks for a change" : "customer's words"}
        </button>
      )}
      {editable ? <HeadFields safe={promise?.safe ?? ""} /> : <HeadTold />}
      <StandardsChanged />
      <span className={style["state"]} role="status">
        {[countedAdvice(advice), editable ? SAYS[saving.state] : ""].filter(Boolean).join(" · ")}
      </span>
      {children}
      <div className={style["end"]}>
        {editable && <UndoRedo />}
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
          <NextSteps reopen={reopen} />
        )}
      </div>
      {open === "send" && <SendDialog toPay={toPay ?? ""} onClose={close} reopen={reopen} />}
      {open === "said" && <Said quote={quote.id} said={quote.said} onClose={close} />}
      {open === "versions" && <Versions quote={quote} onClose={close} />}
      {saving.state === "stale" && saving.theirs && <Clash />}
    </section>
  );
}

function HeadFields({ safe }: { safe: string }) {
  const id = useId();
  const head = useHead();
  const { actions } = useBench();
  const field = (key: "due_on" | "valid_until", label: string) => (
    <div className={`bar-field ${key}`}>
      <label htmlFor={`${id}-${key}`}>{label}</label>
      <input
        id={`${id}-${key}`}
        className="form-control"
        type="date"
        value={head[key]}
        onChange={(e) => actions.head({ [key]: e.target.value })}
      />
    </div>
  );
  return (
    <>
      <div className="bar-field customer">
        <label htmlFor={`${id}-customer`}>Customer</label>
        <CustomerInput id={`${id}-customer`} />
      </div>
      {field("due_on", "Due")}
      {safe && (
        <span className={style["safe"]} data-tight={!!head.due_on && head.due_on < safe}>
          safely {day(safe)}
        </span>
      )}
      {field("valid_until", "Valid")}
    </>
  );
}

function HeadTold() {
  const { quote } = useBench();
  return (
    <span className={style["bar-told"]}>
      <b title={quote.customer}>{quote.customer}</b>
      {quote.due_on && <span>due {day(quote.due_on)}</span>}
      {quote.valid_until && <span>valid until {day(quote.valid_until)}</span>}
    </span>
  );
}

function StandardsChanged() {
  const { quote } = useBench();
  const saving = useSaved();
  const changed = quote.standards_changed;
  if (changed.length === 0 || saving.revision !== quote.revision) return null;
  return (
    <details className={style["standards-changed"]}>
      <summary>
        {changed.length} {changed.length === 1 ? "standard" : "standards"} changed since it was
        saved
      </summary>
      <ul>
        {changed.slice(0, 20).map((change) => (
          <li key={change}>{change}</li>
        ))}
      </ul>
    </details>
  );
}

function UndoRedo() {
  const { store } = useBench();
  const history = useStore(store.temporal);
  return (
    <>
      <Tool name="Undo" does={() => history.undo()} off={history.pastStates.length === 0} />
      <Tool name="Redo" does={() => history.redo()} off={history.futureStates.length === 0} />
    </>
  );
}
