// What was typed of a blank is kept on the shelf under its name: next time it is chosen by it.
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import { api, ProblemError, type House } from "../../api/client";
import { useTell } from "../../parts/toasts";
import { typedMoney } from "../../parts/typed";
import { boughtOf } from "./draft";
import { BLANK, chooseGoods } from "./goods";
import type { DraftTools } from "./useDraft";

interface Props {
  tools: DraftTools;
  house: House;
}

interface Break {
  quantity: unknown;
  unit_cost: unknown;
}

export function KeepBlank({ tools, house }: Props) {
  const id = useId();
  const tell = useTell();
  const queries = useQueryClient();
  const { line, lineAt } = tools;
  const [label, setLabel] = useState<string | null>(null);
  const [supplier, setSupplier] = useState(Object.keys(house.suppliers)[0] ?? "any");
  const goods = (line.rest["goods"] ?? {}) as Record<string, unknown>;
  const bought = boughtOf(goods, tools.draft.currency);
  const keep = useMutation({
    mutationFn: (name: string) =>
      api.addRow("blanks", "", name, {
        goods: line.goods.class,
        supplier,
        pack: bought["pack"] ?? 1,
        prices: Object.fromEntries([
          ["1", typedMoney(line.goods.unit_cost, tools.draft.currency)],
          ...((bought["price_breaks"] ?? []) as Break[]).map((row) => [
            String(row.quantity),
            row.unit_cost,
          ]),
        ]),
      }),
    onSuccess: async (rows) => {
      const key = rows[0]?.key.split(".")[1] ?? "";
      const kept = await queries.fetchQuery({
        queryKey: ["house"],
        queryFn: api.house,
        staleTime: 0,
      });
      tools.changeLine(lineAt, (now) => {
        const typed = (now.rest["goods"] ?? {}) as Record<string, unknown>;
        const chosen = { ...now, ...chooseGoods(now, BLANK + key, kept) };
        if (typed["delivery"] === undefined) return chosen;
        const rest = { ...(chosen.rest["goods"] as object), delivery: typed["delivery"] };
        return { ...chosen, rest: { ...chosen.rest, goods: rest } };
      });
      setLabel(null);
      tell(`${label ?? ""} is on the shelf: choose it under Goods next time.`);
    },
  });
  const problem = keep.error instanceof ProblemError ? keep.error.problem : null;
  if (label === null)
    return (
      <button type="button" className="btn btn-plain" onClick={() => setLabel("")}>
        Keep this blank on the shelf
      </button>
    );
  return (
    <div
      role="group"
      className="keep-blank"
      aria-label="Keep this blank on the shelf"
      onKeyDown={(e) => {
        if (e.key === "Escape") setLabel(null);
        if (e.key === "Enter" && (e.target as HTMLElement).tagName === "INPUT") {
          e.preventDefault();
          e.stopPropagation();
          keep.mutate(label);
        }
      }}
    >
      <label htmlFor={`${id}-name`} className="form-label">
        Called
      </label>
      <input
        id={`${id}-name`}
        className={`form-control${problem ? " is-invalid" : ""}`}
        autoFocus
        maxLength={80}
        value={label}
        onChange={(e) => setLabel(e.target.value)}
      />
      <label htmlFor={`${id}-from`} className="form-label">
        Bought from
      </label>
      <select
        id={`${id}-from`}
        className="form-select"
        value={supplier}
        onChange={(e) => setSupplier(e.target.value)}
      >
        {Object.entries(house.suppliers).map(([key, row]) => (
          <option key={key} value={key}>
            {row.label}
          </option>
        ))}
      </select>
      {problem && (
        <div role="alert" className="invalid-feedback d-block">
          {`${problem.detail} ${problem.remedy}`}
        </div>
      )}
      <div className="d-flex gap-2">
        <button
          type="button"
          className="btn btn-sm btn-primary"
          disabled={keep.isPending}
          onClick={() => keep.mutate(label)}
        >
          Keep
        </button>
        <button type="button" className="btn btn-sm btn-plain" onClick={() => setLabel(null)}>
          Not now
        </button>
      </div>
    </div>
  );
}
