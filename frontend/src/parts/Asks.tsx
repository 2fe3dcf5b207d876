// What the customer asked for and nobody answered yet: taken, or declined with words they read.
import { useMutation, useQuery } from "@tanstack/react-query";
import { useId, useState } from "react";
import Form from "react-bootstrap/Form";
import { get, keys, post, useRenew, type Ask } from "../api";
import { day } from "./format";
import { Told } from "./Told";
import style from "./Asks.module.scss";

const ASKS: Record<Ask["kind"], string> = {
  change: "asks",
  name: "corrects a name",
  words: "corrects the words",
  sentence: "says",
};

interface Props {
  quote: number;
  /** What is answered elsewhere on the page. */
  but?: Ask["kind"][];
}

/** Nothing where all of it is answered. */
export function Asks({ quote, but = [] }: Props) {
  const found = useQuery({
    queryKey: keys.asks(quote),
    queryFn: () => get("/quotes/{quote_id}/asks", { path: { quote_id: quote } }),
    enabled: quote > 0,
    staleTime: 0,
  });
  const open = (found.data ?? []).filter((ask) => ask.answered === "" && !but.includes(ask.kind));
  if (open.length === 0) return null;
  // Enter says what is typed here: it moves nothing on
  return (
    <section
      aria-label="Asked and not answered"
      className={style["asks"]}
      onKeyDown={(event) => event.stopPropagation()}
    >
      <h2 className="small-caps-head">Asked and not answered</h2>
      {open.map((ask) => (
        <AskRow key={ask.id} quote={quote} ask={ask} />
      ))}
    </section>
  );
}

function AskRow({ quote, ask }: { quote: number; ask: Ask }) {
  const id = useId();
  const renew = useRenew("asks");
  const [why, setWhy] = useState<string | null>(null);
  const answer = useMutation({
    mutationFn: (body: { answered: "taken" | "declined"; words: string }) =>
      post("/quotes/{quote_id}/asks/{ask_id}", { path: { quote_id: quote, ask_id: ask.id }, body }),
    onSuccess: () => renew(),
  });
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        if (why !== null) answer.mutate({ answered: "declined", words: why });
      }}
    >
      <p>
        <b>
          {ask.name} {ASKS[ask.kind]}
        </b>
        , {day(ask.said_on)}, of v{ask.version}: “{ask.words}”
      </p>
      <p className={style["asks-buttons"]}>
        <button
          type="button"
          className="btn btn-outline-primary btn-sm"
          disabled={answer.isPending}
          onClick={() => answer.mutate({ answered: "taken", words: "" })}
        >
          It is done
        </button>
        {why === null ? (
          <button type="button" className="btn btn-plain" onClick={() => setWhy("")}>
            Not so …
          </button>
        ) : (
          <>
            <Form.Control
              id={id}
              autoFocus
              size="sm"
              aria-label="Why not, for the customer to read"
              placeholder="why not; they read it"
              maxLength={2000}
              value={why}
              onChange={(e) => setWhy(e.target.value)}
            />
            <button
              type="submit"
              className="btn btn-outline-primary btn-sm"
              disabled={answer.isPending || !why.trim()}
            >
              Say so
            </button>
          </>
        )}
      </p>
      <Told of={answer.error} />
    </form>
  );
}
