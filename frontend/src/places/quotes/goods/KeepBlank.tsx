// What was typed of a blank is kept on the shelf under its name: next time it is chosen by it.
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import { askHouse, keys, post, ProblemError, problemOf } from "../../../api";
import { text, useDraft, useHouse, type DraftGoods } from "../../../draft";
import { Told } from "../../../parts/Told";
import { useTell } from "../../../parts/toasts";
import { BLANK, takeGoods } from "./goods";
import style from "./KeepBlank.module.scss";

/** Prices as one writes them in a list: "6.40; 25: 5.95". The server reads them. */
const listOf = (goods: DraftGoods): string =>
  [
    text(goods.unit_cost),
    ...(goods.price_breaks ?? []).map((row) => `${text(row.quantity)}: ${text(row.unit_cost)}`),
  ].join("; ");

export function KeepBlank() {
  const tell = useTell();
  const queries = useQueryClient();
  const { line, actions } = useDraft();
  const [open, setOpen] = useState(false);
  const keep = useMutation({
    mutationFn: ({ name, supplier }: { name: string; supplier: string }) =>
      post("/standard-rows", {
        body: {
          section: "blanks",
          like: "",
          label: name,
          values: {
            goods: line.goods.class,
            supplier,
            pack: text(line.goods.pack) || 1,
            prices: listOf(line.goods),
          },
        },
      }),
    onSuccess: async (rows, { name }) => {
      const key = rows[0]?.key.split(".")[1] ?? "";
      const now = await queries.fetchQuery({
        queryKey: keys.house(),
        queryFn: askHouse,
        staleTime: 0,
      });
      actions.lineById(line.id, "goods.class", (found) => {
        const { delivery } = found.goods;
        takeGoods(found, BLANK + key, now);
        if (delivery) found.goods.delivery = delivery;
      });
      setOpen(false);
      tell(`${name} is on the shelf: choose it under Goods next time.`);
    },
  });
  if (!open)
    return (
      <button type="button" className="btn btn-plain" onClick={() => setOpen(true)}>
        Keep this blank on the shelf
      </button>
    );
  return (
    <Called
      busy={keep.isPending}
      problem={problemOf(keep.error)}
      onKeep={(name, supplier) => keep.mutate({ name, supplier })}
      onClose={() => setOpen(false)}
    />
  );
}

interface CalledProps {
  busy: boolean;
  problem: ProblemError["problem"] | null;
  onKeep: (name: string, supplier: string) => void;
  onClose: () => void;
}

/** What the blank is called, and who it is bought from. */
function Called({ busy, problem, onKeep, onClose }: CalledProps) {
  const id = useId();
  const { suppliers } = useHouse();
  const [label, setLabel] = useState("");
  const [supplier, setSupplier] = useState(Object.keys(suppliers)[0] ?? "any");
  return (
    <div
      role="group"
      className={style["keep-blank"]}
      aria-label="Keep this blank on the shelf"
      onKeyDown={(e) => {
        if (e.key === "Escape") onClose();
        if (e.key === "Enter" && (e.target as HTMLElement).tagName === "INPUT") {
          e.preventDefault();
          e.stopPropagation();
          onKeep(label, supplier);
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
        {Object.entries(suppliers).map(([key, row]) => (
          <option key={key} value={key}>
            {row.label}
          </option>
        ))}
      </select>
      <Told of={problem}>{`$ $`}</Told>
      <div className="d-flex gap-2">
        <button
          type="button"
          className="btn btn-sm btn-primary"
          disabled={busy}
          onClick={() => onKeep(label, supplier)}
        >
          Keep
        </button>
        <button type="button" className="btn btn-sm btn-plain" onClick={onClose}>
          Not now
        </button>
      </div>
    </div>
  );
}
