// The answer: accept with a typed name, or say what to change.
import { useId, useRef, useState, type ReactNode } from "react";
import { money } from "../parts/format";
import { link, problemOf, type Answer, type QuoteForCustomer, type Problem } from "./link";
import style from "./AnswerForm.module.scss";

interface Props {
  token: string;
  view: QuoteForCustomer;
  onAnswer: (view: QuoteForCustomer) => void;
}

type Asked = "words" | "name" | "agreed";
const FIELDS: readonly Asked[] = ["words", "name", "agreed"];

/** What is still asked, by field, in words. */
function lacking(answer: Answer): Partial<Record<Asked, string>> {
  const found: Partial<Record<Asked, string>> = {};
  if (answer.kind === "change" && !answer.words.trim())
    found.words = "Say in a sentence what is to be different.";
  if (!answer.name.trim()) found.name = "Type your name.";
  if (answer.kind === "accepted" && !answer.agreed)
    found.agreed = "Tick it when all of it is right, or ask for a change.";
  return found;
}

/** The server's word, at the field that it names; elsewhere under the whole form. */
function placed(problem: Problem): { field: Asked | null; words: string } {
  const where = problem.errors[0]?.where ?? problem.where;
  const words = `${problem.detail.charAt(0).toUpperCase()}${problem.detail.slice(1)} ${problem.remedy}`;
  return { field: FIELDS.find((name) => name === where) ?? null, words };
}

export function AnswerForm({ token, view, onAnswer }: Props) {
  const id = useId();
  const form = useRef<HTMLFormElement>(null);
  const [answer, setAnswer] = useState<Answer>({
    kind: "accepted",
    name: "",
    words: "",
    agreed: false,
  });
  const [busy, setBusy] = useState(false);
  const [wrong, setWrong] = useState<Partial<Record<Asked | "form", string>>>({});
  const change = (to: Partial<Answer>) => {
    setAnswer({ ...answer, ...to });
    setWrong({});
  };
  const tell = (found: Partial<Record<Asked | "form", string>>) => {
    setWrong(found);
    const first = FIELDS.find((name) => found[name]);
    if (first) form.current?.querySelector<HTMLElement>(`[data-asked=${first}]`)?.focus();
  };
  const send = async () => {
    const found = lacking(answer);
    if (Object.keys(found).length > 0) return tell(found);
    setBusy(true);
    setWrong({});
    try {
      onAnswer(await link.answer(token, { ...answer, version: view.version }));
      setAnswer({ ...answer, words: "", agreed: false });
    } catch (error) {
      const { field, words } = placed(problemOf(error));
      tell({ [field ?? "form"]: words });
    } finally {
      setBusy(false);
    }
  };
  const said = (name: Asked) => ({
    "data-asked": name,
    "aria-invalid": !!wrong[name],
    "aria-describedby": wrong[name] ? `${id}-${name}-wrong` : undefined,
  });
  const wrongAt = (name: Asked): ReactNode =>
    wrong[name] && (
      <p id={`${id}-${name}-wrong`} className="invalid-feedback d-block mb-0" role="alert">
        {wrong[name]}
      </p>
    );
  const accepts = answer.kind === "accepted";
  return (
    <form
      className="answer"
      ref={form}
      noValidate
      aria-label="Your answer"
      onSubmit={(e) => {
        e.preventDefault();
        void send();
      }}
    >
      <h2 className="small-caps-head">Your answer</h2>
      <div className="ways" role="group" aria-label="What you want">
        {(["accepted", "change"] as const).map((each) => (
          <button
            key={each}
            type="button"
            className={`btn ${answer.kind === each ? "btn-primary" : "btn-outline-primary"}`}
            aria-pressed={answer.kind === each}
            onClick={() => change({ kind: each })}
          >
            {each === "accepted" ? "Accept it" : "Ask for a change"}
          </button>
        ))}
      </div>
      <label className="form-label" htmlFor={`${id}-words`}>
        {accepts ? "Anything to add (may stay empty)" : "What is to be different"}
      </label>
      <textarea
        id={`${id}-words`}
        className={`form-control${wrong.words ? " is-invalid" : ""}`}
        rows={3}
        maxLength={4000}
        value={answer.words}
        onChange={(e) => change({ words: e.target.value })}
        {...said("words")}
      />
      {wrongAt("words")}
      <label className="form-label mt-2" htmlFor={`${id}-name`}>
        Your name
      </label>
      <input
        id={`${id}-name`}
        className={`form-control${wrong.name ? " is-invalid" : ""}`}
        autoComplete="name"
        maxLength={200}
        value={answer.name}
        onChange={(e) => change({ name: e.target.value })}
        {...said("name")}
      />
      {wrongAt("name")}
      {accepts && (
        <div className="form-check mt-2">
          <input
            id={`${id}-ok`}
            type="checkbox"
            className={style["form-check-input"]}
            checked={answer.agreed}
            onChange={(e) => change({ agreed: e.target.checked })}
            {...said("agreed")}
          />
          <label className="form-check-label" htmlFor={`${id}-ok`}>
            The pieces, places, colours and every word as spelt above are right, and I accept the
            price of {money(view.to_pay, view.currency)}.
          </label>
          {wrongAt("agreed")}
        </div>
      )}
      {wrong.form && (
        <p className="invalid-feedback d-block" role="alert">
          {wrong.form}
        </p>
      )}
      <button type="submit" className="btn btn-primary mt-3" disabled={busy}>
        {accepts ? "Accept this quote" : "Send it to the shop"}
      </button>
    </form>
  );
}
