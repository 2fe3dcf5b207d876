// One standard as a field: typed and kept when it is left, refused beside it, taken back by a press.
import { useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ProblemError, type Standard } from "../../api/client";
import { useTell } from "../../parts/toasts";
import { saidOf, sentOf, textOf } from "./standard";

/** Everything that the standards move is asked anew. */
export function useRenew() {
  const queries = useQueryClient();
  return () =>
    Promise.all(
      ["standards", "house", "price", "sample"].map((key) =>
        queries.invalidateQueries({ queryKey: [key] }),
      ),
    );
}

/** Waits until the sample's price before the change is there to be compared with; not for long. */
async function sampleAsked(queries: QueryClient) {
  for (let tries = 0; tries < 25 && queries.isFetching({ queryKey: ["sample"] }) > 0; tries++)
    await new Promise((done) => setTimeout(done, 20));
}

interface CellProps {
  standard: Standard;
  onFocus: (standard: Standard) => void;
}

export function StandardCell({ standard, onFocus }: CellProps) {
  const renew = useRenew();
  const queries = useQueryClient();
  const tell = useTell();
  const kept = textOf(standard.value, standard);
  const [text, setText] = useState<string | null>(null);
  const [problem, setProblem] = useState("");
  const name = `${standard.of ? `${standard.of}, ` : ""}${standard.name}`;
  const put = async (value: string) => {
    if (value === kept) return setText(null);
    await sampleAsked(queries);
    try {
      const was = { value: standard.value, changed: standard.changed };
      await api.changeStandard(standard.key, sentOf(value, standard));
      await renew();
      setProblem("");
      setText(null);
      tell(`${name}: ${saidOf(kept, standard)} became ${saidOf(value, standard)}.`, {
        label: "Undo",
        does: () =>
          void (
            was.changed
              ? api.changeStandard(standard.key, was.value)
              : api.resetStandard(standard.key)
          ).then(renew),
      });
    } catch (error) {
      if (error instanceof ProblemError)
        setProblem(`${error.problem.detail} ${error.problem.remedy}`);
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
        <select {...shared} onChange={(e) => void put(e.target.value)}>
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
          onBlur={() => text !== null && void put(text.trim())}
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
