// One standard as a field: typed and kept when it is left, refused beside it, taken back by a press.
import { useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { del, keys, problemOf, put, useRenew, type Standard } from "../../api";
import { wordsOf } from "../../parts/Told";
import { useTell } from "../../parts/toasts";
import { saidOf, sentOf, textOf } from "./standard";

/** Waits until the sample's price before the change is there to be compared with; not for long. */
async function sampleAsked(queries: QueryClient) {
  for (let tries = 0; tries < 25 && queries.isFetching({ queryKey: keys.sample() }) > 0; tries++)
    await new Promise((done) => setTimeout(done, 20));
}

interface CellProps {
  standard: Standard;
  onFocus: (standard: Standard) => void;
}

export function StandardCell({ standard, onFocus }: CellProps) {
  const renew = useRenew("standards");
  const queries = useQueryClient();
  const tell = useTell();
  const kept = textOf(standard.value, standard);
  const [text, setText] = useState<string | null>(null);
  const [problem, setProblem] = useState("");
  const name = `${standard.of ? `${standard.of}, ` : ""}${standard.name}`;
  const keep = async (value: string) => {
    if (value === kept) return setText(null);
    await sampleAsked(queries);
    try {
      const was = { value: standard.value, changed: standard.changed };
      await put("/standards/{key}", {
        path: { key: standard.key },
        body: { value: sentOf(value, standard) },
      });
      await renew();
      setProblem("");
      setText(null);
      tell(`${name}: ${saidOf(kept, standard)} became ${saidOf(value, standard)}.`, {
        label: "Undo",
        does: () =>
          void (
            was.changed
              ? put("/standards/{key}", { path: { key: standard.key }, body: { value: was.value } })
              : del("/standards/{key}", { path: { key: standard.key } })
          ).then(renew),
      });
    } catch (error) {
      const told = problemOf(error);
      if (told) setProblem(wordsOf(told));
    }
  };
  const options = standard.choices;
  const shared = {
    "aria-label": name,
    className: `${options.length > 0 ? "form-select" : "form-control"}${standard.changed ? " own" : ""}${problem ? " is-invalid" : ""}`,
    value: text ?? kept,
    onFocus: () => onFocus(standard),
  };
  return (
    <>
      {options.length > 0 ? (
        <select {...shared} onChange={(e) => void keep(e.target.value)}>
          {options.map((option, n) => (
            <option key={option} value={option}>
              {standard.choice_names[n] ?? option}
            </option>
          ))}
        </select>
      ) : (
        <input
          {...shared}
          type={standard.unit === "colour" ? "color" : "text"}
          size={Math.min(Math.max(kept.length, 5), 22)}
          onChange={(e) => setText(e.target.value)}
          onBlur={() => text !== null && void keep(text.trim())}
          onKeyDown={(e) => {
            if (e.key === "Enter") e.currentTarget.blur();
            if (e.key === "Escape") {
              setText(null);
              setProblem("");
            }
          }}
        />
      )}
      {problem && (
        <span className="invalid-feedback d-block" role="alert">
          {problem}
        </span>
      )}
    </>
  );
}
