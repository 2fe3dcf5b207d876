// Things that are made in the hoop, as starting points: how many and how large, all else is there.
import { useMutation, useQuery } from "@tanstack/react-query";
import { useId, useState } from "react";
import { get, keys, post, problemOf } from "../../../api";
import { newId, useDraft, type DraftLine } from "../../../draft";
import { goOnAt } from "../../../parts/goOnAt";
import { MeasureField } from "../../../parts/MeasureField";
import { Told } from "../../../parts/Told";
import style from "./Starts.module.scss";

export function Starts() {
  const id = useId();
  const { actions } = useDraft();
  const starts = useQuery({
    queryKey: keys.starts(),
    queryFn: () => get("/starts"),
    staleTime: Infinity,
  });
  const [of, setOf] = useState<string | null>(null);
  const [quantity, setQuantity] = useState("");
  const [size, setSize] = useState({ width_mm: "", height_mm: "" });
  const begin = useMutation({
    mutationFn: (start: string) =>
      post("/starts/{start_id}", {
        path: { start_id: start },
        body: {
          quantity: (quantity || 1) as never,
          ...(size.width_mm && { width_mm: size.width_mm as never }),
          ...(size.height_mm && { height_mm: size.height_mm as never }),
        },
      }),
    onSuccess: (made) => {
      const { placements, ...line } = made as unknown as Omit<DraftLine, "id">;
      actions.line("start", (found) => {
        Object.assign(found, line);
        found.placements = placements.map((put, i) => ({
          ...put,
          id: found.placements[i]?.id ?? newId(),
        }));
      });
      goOnAt("[data-begin=design][aria-pressed=true]");
    },
  });
  const start = starts.data?.find((each) => each.id === of);
  const problem = problemOf(begin.error);
  if (!starts.data) return null;
  return (
    <section aria-label="Made in the hoop">
      <h3>Made in the hoop, begun with</h3>
      <div className={style["st-choice"]}>
        {starts.data.map((each) => (
          <button
            key={each.id}
            type="button"
            data-start={each.id}
            className={`btn btn-sm ${each.id === of ? "btn-primary" : "btn-outline-primary"}`}
            aria-expanded={each.id === of}
            onClick={() => {
              setOf(each.id === of ? null : each.id);
              begin.reset();
              if (each.id !== of) goOnAt("[data-start-ask] input");
            }}
          >
            {each.label}
          </button>
        ))}
      </div>
      {start && (
        <form
          className={style["st-ask"]}
          data-start-ask
          onKeyDown={(event) => {
            if (event.key !== "Escape") return;
            setOf(null);
            goOnAt(`[data-start="${start.id}"]`);
          }}
          onSubmit={(event) => {
            event.preventDefault();
            if (!begin.isPending) begin.mutate(start.id);
          }}
        >
          <p>
            {start.label}: {start.says}.
          </p>
          <div>
            <label className="form-label" htmlFor={id}>
              How many of it
            </label>
            <input
              id={id}
              className="form-control"
              inputMode="numeric"
              autoComplete="off"
              placeholder="1"
              value={quantity}
              onChange={(e) => setQuantity(e.target.value)}
            />
          </div>
          <MeasureField
            label="Finished wide"
            value={size.width_mm}
            placeholder={String(start.width_mm)}
            onChange={(width_mm) => setSize({ ...size, width_mm })}
          />
          <MeasureField
            label="Finished high"
            value={size.height_mm}
            placeholder={String(start.height_mm)}
            onChange={(height_mm) => setSize({ ...size, height_mm })}
          />
          <button type="submit" className="btn btn-primary" aria-disabled={begin.isPending}>
            Begin
          </button>
          <Told of={problem} placed />
        </form>
      )}
    </section>
  );
}
