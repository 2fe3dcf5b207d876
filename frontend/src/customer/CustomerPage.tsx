// A quote as its customer reads it: what is made, where, the words, the price; and the answer.
import { useCallback, useEffect, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { counted, day, money } from "../parts/format";
import { sizeText, type Units } from "../parts/units";
import { AnswerForm } from "./AnswerForm";
import {
  ahead,
  link,
  paperOf,
  problemOf,
  type CustomerLine,
  type QuoteForCustomer,
  type Problem,
} from "./link";
import { PlacedPiece } from "../parts/PlacedPiece";
import { ProofForm, ProofSaidAlready } from "./ProofForm";
import style from "./CustomerPage.module.scss";

const SAYS: Record<QuoteForCustomer["state"], string> = {
  open: "",
  accepted: "Accepted: thank you. The shop has it.",
  declined: "This quote was declined.",
  expired: "This quote is past its date: its prices no longer hold. Ask the shop to renew it.",
  replaced: "This version is being changed by the shop: wait for the new one.",
  withdrawn: "The shop has taken this quote back. Ask it for a new one if you still want it.",
};

/** What is different from the version before, and what became of what was asked for. */
function Since({ view }: { view: QuoteForCustomer }) {
  const different = view.different ?? [];
  const asks = view.asks ?? [];
  return (
    <>
      {asks.length > 0 && (
        <section aria-label="What you asked for">
          <h2 className="small-caps-head">What you asked for</h2>
          <ul>
            {asks.map((ask) => (
              <li key={ask.id}>
                “{ask.words}”: {BECAME[ask.answered]}
                {ask.answer && ` ${ask.answer}`}
              </li>
            ))}
          </ul>
        </section>
      )}
      {different.length > 0 && (
        <section aria-label="What is different">
          <h2 className="small-caps-head">Different from version {view.version - 1}</h2>
          <ul>
            {different.map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}

const BECAME = { "": "the shop has not answered it yet.", taken: "done.", declined: "not so." };

export function CustomerPage({ token }: { token: string }) {
  const [view, setView] = useState<QuoteForCustomer | null>(null);
  const [problem, setProblem] = useState<Problem | null>(null);
  const [answers, setAnswers] = useState(0); // each begins the proof's form anew
  const state = useRef<HTMLParagraphElement>(null);
  const said = useRef<HTMLElement>(null);
  const proofSaid = useRef<HTMLDivElement>(null);
  /** The form goes away or is empty again: the eye and the keyboard go on where the answer stands. */
  const answered = (now: QuoteForCustomer) => {
    flushSync(() => setView(now));
    (state.current ?? said.current)?.focus();
  };
  useEffect(() => {
    link.read(token).then(setView, (error: unknown) => setProblem(problemOf(error)));
  }, [token]);
  useEffect(() => {
    if (view) document.title = `Quote ${view.number}, ${view.shop}`;
  }, [view]);
  if (!view)
    return (
      <main className={style["customer-page"]}>
        {problem ? (
          <div role="alert">
            <h1>No quote here</h1>
            <p>
              {problem.detail.charAt(0).toUpperCase() + problem.detail.slice(1)} {problem.remedy}
            </p>
          </div>
        ) : (
          <p role="status">{ahead ? "The page" : "Your quote"} is coming …</p>
        )}
      </main>
    );
  return (
    <main className={style["customer-page"]}>
      <header>
        <div>
          <strong>{view.shop}</strong>
          <span className="hint d-block">{view.address}</span>
        </div>
        <div className="text-end">
          <h1>Quote {view.number}</h1>
          <span className="hint">
            {view.version > 1 && `version ${view.version}, `}sent {day(view.sent_on)}
          </span>
        </div>
      </header>
      {ahead && (
        <p className="customer-state" role="status">
          As the customer sees it. Nothing is sent by looking, and no link is used.
        </p>
      )}
      {view.newer && (
        <p className="customer-state" role="status">
          A newer version was sent since this link was: here it is.
        </p>
      )}
      <Since view={view} />
      {SAYS[view.state] && (
        <p className={`customer-state ${view.state}`} role="status" tabIndex={-1} ref={state}>
          {SAYS[view.state]}
        </p>
      )}
      <p>
        For <strong>{view.customer}</strong>
        {view.due_on && `, wanted by ${day(view.due_on)}`}
        {view.promise && `. ${view.promise}`}
        {view.valid_until && `. Holds until ${day(view.valid_until)}`}.
      </p>
      {view.lines.map((line, n) => (
        <Line key={n} token={token} line={line} n={n} currency={view.currency} units={view.units} />
      ))}
      <Sums view={view} />
      {view.notes && (
        <section>
          <h2 className="small-caps-head">Notes</h2>
          <p className={style["pre"]}>{view.notes}</p>
        </section>
      )}
      <section>
        <h2 className="small-caps-head">What this holds by</h2>
        <ol>
          {view.holds_by.map((words) => (
            <li key={words}>{words}</li>
          ))}
        </ol>
        <p>
          <a href={paperOf(token)}>The same on paper (PDF)</a>
        </p>
      </section>
      {view.said.length > 0 && (
        <section aria-label="What you said" tabIndex={-1} ref={said}>
          <h2 className="small-caps-head">What you said</h2>
          {view.said.map((word, n) => (
            <p key={n}>
              {day(word.said_on)}, {word.name}:{" "}
              {word.kind === "accepted" ? "accepted." : "asked for a change."} {word.words}
            </p>
          ))}
        </section>
      )}
      {view.state === "open" && !ahead && (
        <AnswerForm token={token} view={view} onAnswer={answered} />
      )}
      {view.proof && view.proof.state !== "open" && (
        <div tabIndex={-1} ref={proofSaid}>
          <ProofSaidAlready proof={view.proof} />
        </div>
      )}
      {view.proof && view.proof.state !== "approved" && !ahead && (
        <ProofForm
          key={answers}
          token={token}
          proof={view.proof}
          version={view.version}
          onSaid={(now) => {
            flushSync(() => {
              setView(now);
              setAnswers(answers + 1);
            });
            proofSaid.current?.focus();
          }}
          onMoved={() => void link.read(token).then(setView, () => undefined)}
        />
      )}
    </main>
  );
}

interface LineProps {
  token: string;
  line: CustomerLine;
  n: number;
  currency: string;
  units: Units;
}

function Line({ token, line, n, currency, units }: LineProps) {
  const pathOf = useCallback((at: number, k: number) => link.path(token, at, k), [token]);
  return (
    <section className={style["customer-line"]} aria-label={`${line.quantity} × ${line.goods}`}>
      <PlacedPiece line={line} n={n} pathOf={pathOf} />
      <div>
        <h2 className="small-caps-head">
          {line.quantity} × {line.goods}
        </h2>
        {line.supplied_by === "customer" && <p>You bring the goods.</p>}
        {line.cells.length > 0 && <p>{line.cells.join(", ")}</p>}
        {line.places.map((place, k) => (
          <div key={k} className="mb-2">
            <strong>{place.label}</strong>, {sizeText(place.width_mm, place.height_mm, units)}
            {place.text && <>: “{place.text}”</>}
            <span className="d-block hint">
              {place.colours.some(Boolean)
                ? `Threads: ${place.colour_names.join(", ")}. `
                : `${place.colours.length} ${place.colours.length === 1 ? "thread" : "threads"}, colours to be agreed. `}
              {place.marks.join("; ")}
            </span>
          </div>
        ))}
        {line.names.length > 0 && (
          <details open>
            <summary>
              {counted(line.names.flatMap((part) => part.names).filter(Boolean).length, "name")}:
              read each, as it is sewn
            </summary>
            {line.names.map((part, n) => (
              <div key={n}>
                {part.kind && <h3 className={style["names-kind"]}>{part.kind}</h3>}
                <ol className={style["names"]}>
                  {part.names.map((name, k) => (
                    <li key={k}>{name || <em>left blank</em>}</li>
                  ))}
                </ol>
                {part.to_come > 0 && (
                  <p className="hint mb-1">{counted(part.to_come, "name")} still to come.</p>
                )}
              </div>
            ))}
          </details>
        )}
        {line.tiers.length > 0 && (
          <div
            className={style["scrolls"]}
            tabIndex={0}
            role="group"
            aria-label="Price by how many"
          >
            <table className={style["tiers"]}>
              <caption>A piece, by how many</caption>
              <tbody>
                <tr>
                  <th scope="row">pieces</th>
                  {line.tiers.map((tier) => (
                    <td key={tier.quantity}>{tier.quantity}</td>
                  ))}
                </tr>
                <tr>
                  <th scope="row">each</th>
                  {line.tiers.map((tier) => (
                    <td
                      key={tier.quantity}
                      className={tier.quantity === line.quantity ? "here" : ""}
                    >
                      {money(tier.unit, currency)}
                    </td>
                  ))}
                </tr>
              </tbody>
            </table>
          </div>
        )}
      </div>
    </section>
  );
}

function Sums({ view }: { view: QuoteForCustomer }) {
  const { currency } = view;
  return (
    <section aria-label="Price">
      <table className={style["sums"]}>
        <tbody>
          {view.sums.map((sum) => (
            <tr key={sum.name}>
              <th scope="row">
                {sum.name} at {money(sum.each, currency)}
              </th>
              <td>{money(sum.amount, currency)}</td>
            </tr>
          ))}
          {view.charges.map((charge) => (
            <tr key={charge.name}>
              <th scope="row">{charge.name}, once</th>
              <td>{money(charge.amount, currency)}</td>
            </tr>
          ))}
          {Number(view.tax) > 0 && (
            <tr>
              <th scope="row">Tax</th>
              <td>{money(view.tax, currency)}</td>
            </tr>
          )}
          <tr className={style["to-pay"]}>
            <th scope="row">To pay</th>
            <td>{money(view.to_pay, currency)}</td>
          </tr>
          {Number(view.deposit) > 0 && (
            <tr>
              <th scope="row">of it when you accept</th>
              <td>{money(view.deposit, currency)}</td>
            </tr>
          )}
        </tbody>
      </table>
    </section>
  );
}
