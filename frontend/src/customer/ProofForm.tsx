// The proof: each word and name read letter by letter, approved, or corrected where it stands.
import { useId, useRef, useState } from "react";
import { counted, day } from "../parts/format";
import { link, problemOf, type Proof, type ProofSaid, type QuoteForCustomer } from "./link";
import style from "./ProofForm.module.scss";

interface Props {
  token: string;
  proof: Proof;
  /** Of the quote, as this page shows it. */
  version: number;
  onSaid: (view: QuoteForCustomer) => void;
  /** Somebody else said something of it meanwhile. */
  onMoved: () => void;
}

type Tick = "spelling" | "colours" | "place" | "size";
const TICKS: [Tick, string][] = [
  ["spelling", "Every word and name is spelt right"],
  ["colours", "The colours are right"],
  ["place", "The places are right"],
  ["size", "The sizes are right"],
];

export function ProofForm({ token, proof, onSaid, onMoved, version }: Props) {
  const id = useId();
  const form = useRef<HTMLFormElement>(null);
  const [to, setTo] = useState<Record<string, string>>({});
  const [open, setOpen] = useState("");
  const [ticks, setTicks] = useState<Record<Tick, boolean>>({
    spelling: false,
    colours: false,
    place: false,
    size: false,
  });
  const [other, setOther] = useState("");
  const [name, setName] = useState("");
  const [busy, setBusy] = useState(false);
  const [wrong, setWrong] = useState<{ field: string; words: string } | null>(null);
  const key = (line: string, at: string | number) => `${line}|${at}`;
  const names = proof.lines.flatMap(({ line, names: rows }) =>
    rows
      .filter((row) => (to[key(line, row.n)] ?? row.name).trim() !== row.name)
      .map((row) => ({ line, n: row.n, to: to[key(line, row.n)] ?? "", was: "" })),
  );
  const words = proof.lines.flatMap(({ line, words: rows }) =>
    rows
      .filter((row) => (to[key(line, row.place)] ?? row.text).trim() !== row.text)
      .map((row) => ({ line, place: row.place, to: to[key(line, row.place)] ?? "", was: "" })),
  );
  const differs = names.length + words.length + (other.trim() ? 1 : 0);
  const lacking = (): { field: string; words: string } | null => {
    const tick = TICKS.find(([field]) => !ticks[field]);
    if (differs === 0 && tick)
      return { field: tick[0], words: "Tick it when it is right, or say what is to be different." };
    if (!name.trim()) return { field: "name", words: "Type your name." };
    return null;
  };
  const tell = (found: { field: string; words: string } | null) => {
    setWrong(found);
    if (found) form.current?.querySelector<HTMLElement>(`[data-asked="${found.field}"]`)?.focus();
  };
  const send = async () => {
    const found = lacking();
    if (found) return tell(found);
    setBusy(true);
    setWrong(null);
    try {
      const said: ProofSaid = { name, ...ticks, names, words, other, version, seen: proof.said_on };
      onSaid(await link.proof(token, said));
    } catch (error) {
      const problem = problemOf(error);
      if (problem.code === "proof-moved") onMoved(); // what the other said is shown beside this
      tell({ field: problem.where, words: `${problem.detail} ${problem.remedy}` });
    } finally {
      setBusy(false);
    }
  };
  const said = (field: string) => ({
    "data-asked": field,
    "aria-invalid": wrong?.field === field,
    "aria-describedby": wrong?.field === field ? `${id}-wrong` : undefined,
  });
  const row = (at: string, was: string, kind: string, approved = false) => (
    <li key={at} data-corrected={(to[at] ?? was) !== was || undefined}>
      {open === at ? (
        <input
          className="form-control form-control-sm"
          aria-label={`${was} is to be`}
          autoFocus
          maxLength={200}
          value={to[at] ?? was}
          onChange={(e) => setTo({ ...to, [at]: e.target.value })}
          onBlur={() => setOpen("")}
          onKeyDown={(e) => {
            if (e.key !== "Enter" && e.key !== "Escape") return;
            e.preventDefault();
            if (e.key === "Escape") setTo({ ...to, [at]: was });
            setOpen("");
          }}
        />
      ) : (
        <>
          <span className={style["proof-name"]}>{to[at] ?? was}</span>{" "}
          {kind && <span className="hint">{kind}</span>}{" "}
          {approved && <span className="hint">approved before</span>}{" "}
          <button
            type="button"
            className="btn btn-plain"
            aria-label={`Correct ${to[at] ?? was}`}
            onClick={() => setOpen(at)}
          >
            correct
          </button>
          {(to[at] ?? was) !== was && <span className="hint d-block">stood as “{was}”</span>}
        </>
      )}
    </li>
  );
  return (
    <form
      ref={form}
      className={style["proof"]}
      noValidate
      aria-label="The proof"
      onSubmit={(e) => {
        e.preventDefault();
        void send();
      }}
    >
      <h2 className="small-caps-head">The proof</h2>
      <p>
        Please read every word and name letter by letter: what is sewn as approved is final.{" "}
        <a href={`/api/v1/customer/${token}/proof.pdf`}>The proof on paper (PDF)</a>
      </p>
      {proof.lines.map((line) => (
        <div key={line.line}>
          <h3 className={style["proof-goods"]}>{line.goods}</h3>
          {line.words.length > 0 && (
            <ul className={style["proof-names"]}>
              {line.words.map((each) => row(key(line.line, each.place), each.text, each.label))}
            </ul>
          )}
          {line.names.length > 0 && (
            <ol className={style["proof-names"]}>
              {line.names.map((each) =>
                row(key(line.line, each.n), each.name, each.kind, each.approved),
              )}
            </ol>
          )}
        </div>
      ))}
      {TICKS.map(([field, label]) => (
        <div key={field} className="form-check">
          <input
            id={`${id}-${field}`}
            type="checkbox"
            className="form-check-input"
            checked={ticks[field]}
            onChange={(e) => setTicks({ ...ticks, [field]: e.target.checked })}
            {...said(field)}
          />
          <label className="form-check-label" htmlFor={`${id}-${field}`}>
            {label}
          </label>
        </div>
      ))}
      <label className="form-label mt-2" htmlFor={`${id}-other`}>
        Anything else that is to be different (may stay empty)
      </label>
      <textarea
        id={`${id}-other`}
        className="form-control"
        rows={2}
        maxLength={4000}
        value={other}
        onChange={(e) => setOther(e.target.value)}
        {...said("other")}
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
        {...said("name")}
      />
      {wrong && (
        <p id={`${id}-wrong`} className="invalid-feedback d-block" role="alert">
          {wrong.words}
        </p>
      )}
      <button type="submit" className="btn btn-primary mt-3" disabled={busy}>
        {differs > 0 ? `Send ${counted(differs, "correction")} to the shop` : "Approve the proof"}
      </button>
    </form>
  );
}

/** What was said of the proof, once it was. */
export function ProofSaidAlready({ proof }: { proof: Proof }) {
  return (
    <div className="customer-state" role="status">
      {proof.state === "approved"
        ? `The proof is approved by ${proof.said_by}, ${day(proof.said_on)}: thank you.`
        : `Your corrections are with the shop since ${day(proof.said_on)}. You can send others below.`}
      {proof.state === "corrected" && (
        <ul className="mb-0">
          {[...proof.names, ...proof.words].map((row, n) => (
            <li key={n}>
              “{row.was}” is to be “{row.to}”
            </li>
          ))}
          {proof.other && <li>{proof.other}</li>}
        </ul>
      )}
    </div>
  );
}
