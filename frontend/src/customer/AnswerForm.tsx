// The answer: accept with a typed name, or say what to change.
import { useId, useState } from "react";
import { money } from "../parts/format";
import { link, problemOf, type Answer, type CustomerView, type Problem } from "./link";
import style from "./AnswerForm.module.scss";

interface Props {
  token: string;
  view: CustomerView;
  onAnswer: (view: CustomerView) => void;
}

export function AnswerForm({ token, view, onAnswer }: Props) {
  const id = useId();
  const [kind, setKind] = useState<Answer["kind"]>("accepted");
  const [name, setName] = useState("");
  const [words, setWords] = useState("");
  const [agreed, setAgreed] = useState(false);
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<Problem | null>(null);
  const send = async () => {
    setBusy(true);
    setProblem(null);
    try {
      onAnswer(await link.answer(token, { kind, name, words, agreed }));
      setWords("");
      setAgreed(false);
    } catch (error) {
      setProblem(problemOf(error));
    } finally {
      setBusy(false);
    }
  };
  return (
    <form
      className="answer"
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
            className={`btn ${kind === each ? "btn-primary" : "btn-outline-primary"}`}
            aria-pressed={kind === each}
            onClick={() => setKind(each)}
          >
            {each === "accepted" ? "Accept it" : "Ask for a change"}
          </button>
        ))}
      </div>
      <label className="form-label" htmlFor={`${id}-words`}>
        {kind === "accepted" ? "Anything to add (may stay empty)" : "What is to be different"}
      </label>
      <textarea
        id={`${id}-words`}
        className="form-control"
        rows={3}
        maxLength={4000}
        value={words}
        onChange={(e) => setWords(e.target.value)}
      />
      <label className="form-label mt-2" htmlFor={`${id}-name`}>
        Your name
      </label>
      <input
        id={`${id}-name`}
        className="form-control"
        autoComplete="name"
        maxLength={200}
        value={name}
        onChange={(e) => setName(e.target.value)}
      />
      {kind === "accepted" && (
        <div className="form-check mt-2">
          <input
            id={`${id}-ok`}
            type="checkbox"
            className={style["form-check-input"]}
            checked={agreed}
            onChange={(e) => setAgreed(e.target.checked)}
          />
          <label className="form-check-label" htmlFor={`${id}-ok`}>
            The pieces, places, colours and every word as spelt above are right, and I accept the
            price of {money(view.to_pay, view.currency)}.
          </label>
        </div>
      )}
      {problem && (
        <p className="invalid-feedback d-block" role="alert">
          {problem.detail.charAt(0).toUpperCase() + problem.detail.slice(1)} {problem.remedy}
        </p>
      )}
      <button type="submit" className="btn btn-primary mt-3" disabled={busy}>
        {kind === "accepted" ? "Accept this quote" : "Send it to the shop"}
      </button>
    </form>
  );
}
