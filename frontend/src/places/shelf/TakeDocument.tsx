// A document of an order or of a shelf, read in; what is there already stays.
import { useQueryClient } from "@tanstack/react-query";
import { useId, useRef, useState } from "react";
import { post, problemOf } from "../../api";
import { wordsOf } from "../../parts/Told";
import { useTell } from "../../parts/toasts";

export function TakeDocument() {
  const id = useId();
  const queries = useQueryClient();
  const tell = useTell();
  const field = useRef<HTMLInputElement>(null);
  const [wrong, setWrong] = useState("");
  const take = async (file: File) => {
    setWrong("");
    try {
      const { said } = await post("/documents", { file });
      tell(said);
      void queries.invalidateQueries();
    } catch (error) {
      const problem = problemOf(error);
      if (problem) setWrong(wordsOf(problem, true));
    }
  };
  return (
    <span>
      <button
        type="button"
        className="btn btn-plain"
        aria-describedby={wrong ? `${id}-wrong` : undefined}
        onClick={() => field.current?.click()}
      >
        Read a document in
      </button>
      <input
        ref={field}
        type="file"
        accept=".json"
        hidden
        aria-label="A document of an order or of a shelf"
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
