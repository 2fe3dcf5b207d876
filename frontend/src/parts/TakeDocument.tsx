// A document that was written out, read in; what is there already stays.
import { useQueryClient } from "@tanstack/react-query";
import { useId, useRef, useState } from "react";
import { post, problemOf } from "../api";
import { wordsOf } from "./Told";
import { useTell } from "./toasts";

export function TakeDocument() {
  const id = useId();
  const queries = useQueryClient();
  const tell = useTell();
  const field = useRef<HTMLInputElement>(null);
  const [wrong, setWrong] = useState("");
  const [reading, setReading] = useState(false);
  const take = async (file: File) => {
    setWrong("");
    setReading(true);
    try {
      const { said } = await post("/documents", { file });
      tell(said);
      void queries.invalidateQueries();
    } catch (error) {
      const problem = problemOf(error);
      if (problem) setWrong(wordsOf(problem, true));
    }
    setReading(false);
  };
  return (
    <span>
      <button
        type="button"
        className="btn btn-plain"
        disabled={reading}
        aria-describedby={wrong ? `${id}-wrong` : undefined}
        onClick={() => field.current?.click()}
      >
        {reading ? "Reading it in …" : "Read a document in"}
      </button>
      <input
        ref={field}
        type="file"
        accept=".json"
        hidden
        aria-label="A document of a quote, an order, a shelf, a log or a shop"
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = "";
          if (file) void take(file);
        }}
      />
      {wrong && (
        <span id={`${id}-wrong`} className="invalid-feedback d-block" role="alert">
          {wrong}
        </span>
      )}
    </span>
  );
}
