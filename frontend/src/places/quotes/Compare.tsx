// Two ways side by side on one scale: a sent version, another machine, backing or number.
import { useQueries, useQuery } from "@tanstack/react-query";
import { useId, useState } from "react";
import { api, type Estimate, type House, type QuoteView } from "../../api/client";
import { Dialog } from "../../parts/Dialog";
import { money, number, percent } from "../../parts/format";
import { lengthsOf } from "../../parts/costs";
import { YardRod } from "../../parts/YardRod";
import { scaleEnd } from "../../parts/yardRod.geometry";
import { jobOf, type Draft, type DraftPlacement } from "./draft";
import type { DraftTools } from "./useDraft";

interface Other {
  kind: "version" | "machine" | "backing" | "topping" | "hold" | "quantity";
  value: string;
  name: string;
}

interface Props {
  quote: QuoteView;
  tools: DraftTools;
  house: House;
  estimate: Estimate;
  onClose: () => void;
}

/** The draft made otherwise: all places of the line by the other method, or another number. */
function otherwise(draft: Draft, lineAt: number, other: Other): Draft {
  const changed = (placement: DraftPlacement): DraftPlacement => {
    const methods = Object.entries(placement.methods).filter(
      ([key]) => key !== other.kind && !(other.kind === "machine" && key === "hoop"),
    );
    return { ...placement, methods: { ...Object.fromEntries(methods), [other.kind]: other.value } };
  };
  const lines = draft.lines.map((line, n) => {
    if (n !== lineAt) return line;
    if (other.kind === "quantity")
      return { ...line, quantity: other.value, cells: [], names: "", unit_price: undefined };
    return { ...line, placements: line.placements.map(changed), unit_price: undefined };
  });
  return { ...draft, lines };
}

export function Compare({ quote, tools, house, estimate, onClose }: Props) {
  const versions = useQuery({
    queryKey: ["versions", quote.id, quote.version],
    queryFn: () => api.versions(quote.id),
    enabled: quote.version > 0,
  });
  const [beside, setBeside] = useState<Other[]>([]);
  const add = (other: Other) =>
    setBeside((old) => [
      ...old.filter((o) => !(o.kind === other.kind && o.value === other.value)).slice(-4),
      other,
    ]);
  const found = useQueries({
    queries: beside.map((other) => ({
      queryKey: ["beside", other, tools.draft, tools.lineAt],
      queryFn: () =>
        other.kind === "version"
          ? api.versionEstimate(quote.id, Number(other.value))
          : api.estimate(jobOf(otherwise(tools.draft, tools.lineAt, other)), false, -1),
    })),
  });
  const rods = [
    { name: "As it is", estimate },
    ...beside.flatMap((other, n) => {
      const data = found[n]?.data;
      return data ? [{ name: other.name, estimate: data }] : [];
    }),
  ];
  const lineOf = (each: Estimate) => each.lines[Math.min(tools.lineAt, each.lines.length - 1)];
  const end = scaleEnd(
    Math.max(
      ...rods.map(({ estimate: each }) =>
        Math.max(Number(lineOf(each)?.price.unit), Number(lineOf(each)?.piece_cost.total)),
      ),
    ),
  );
  const failed = found.findIndex((each) => each.error);
  return (
    <Dialog title="Side by side" size="xl" onClose={onClose}>
      <Choices
        house={house}
        versions={(versions.data ?? []).map((v) => v.version)}
        estimate={estimate}
        lineAt={tools.lineAt}
        onAdd={add}
      />
      {failed >= 0 && (
        <p role="alert" className="invalid-feedback d-block">
          {beside[failed]?.name} cannot be priced so: {found[failed]?.error?.message}
        </p>
      )}
      {rods.map(({ name, estimate: each }, n) => {
        const line = lineOf(each);
        if (!line) return null;
        const cost = Number(line.piece_cost.total);
        const first = lineOf(estimate);
        const minutes =
          line.per_piece.machine_min + line.per_piece.hand_min + line.per_piece.attend_min;
        return (
          <div key={name} className="beside" role="group" aria-label={name}>
            <span>
              <b>{name}</b>
              {n > 0 && " "}
              {n > 0 && (
                <button
                  type="button"
                  className="btn btn-plain"
                  aria-label={`Take ${name} away`}
                  onClick={() => setBeside((old) => old.filter((o) => o.name !== name))}
                >
                  away
                </button>
              )}
              <span className="hint d-block">
                {line.quantity} pieces, {number(minutes, 1)} min each
              </span>
            </span>
            <YardRod
              name={name}
              lengths={lengthsOf({ ...line.piece_cost })}
              end={end}
              price={Number(line.price.unit)}
              cost={cost}
              target={Number(line.price.cross_checks.margin)}
              step={0.05}
              currency={each.currency}
              onOpen={() => undefined}
            />
            <span className="text-end">
              <strong className="beside-price">{money(line.price.unit, each.currency)}</strong>
              <span className="hint d-block">
                margin {percent(line.price.margin)}
                {n > 0 &&
                  first &&
                  `, cost ${signed(cost - Number(first.piece_cost.total), each.currency)}`}
              </span>
            </span>
          </div>
        );
      })}
      {rods.length === 1 && (
        <p className="hint">Lay something beside it: all are drawn on one scale of money.</p>
      )}
    </Dialog>
  );
}

function signed(difference: number, currency: string): string {
  if (Math.abs(difference) < 0.005) return "the same";
  return `${difference > 0 ? "+" : "−"}${money(Math.abs(difference), currency)}`;
}

interface ChoicesProps {
  house: House;
  versions: number[];
  estimate: Estimate;
  lineAt: number;
  onAdd: (other: Other) => void;
}

function Choices({ house, versions, estimate, lineAt, onAdd }: ChoicesProps) {
  const id = useId();
  const methods = estimate.lines[lineAt]?.methods ?? [];
  const [quantity, setQuantity] = useState("");
  const of = (kind: "backing" | "topping" | "hold") =>
    (methods.find((m) => m.key === kind)?.others ?? []).map(({ value }) => value);
  const label = (kind: string, value: string) =>
    (kind === "backing" ? house.backings : kind === "topping" ? house.toppings : {})[value]
      ?.label ?? value.replaceAll("-", " ");
  const groups: [Other["kind"], string, [string, string][]][] = [
    ["version", "Versions", versions.map((v) => [String(v), `v${v}, as sent`])],
    ["machine", "Machines", Object.entries(house.machines).map(([key, row]) => [key, row.label])],
    ["backing", "Backing", of("backing").map((v) => [v, label("backing", v)])],
    ["topping", "Topping", of("topping").map((v) => [v, label("topping", v)])],
    ["hold", "Hold", of("hold").map((v) => [v, v === "float" ? "Floated" : "Hooped"])],
  ];
  return (
    <div className="choices">
      <label htmlFor={id}>Lay beside it</label>
      <select
        id={id}
        className="form-select"
        value=""
        onChange={(e) => {
          const [kind, value] = e.target.value.split(" ");
          const name = e.target.selectedOptions[0]?.text ?? "";
          if (kind && value) onAdd({ kind: kind as Other["kind"], value, name });
        }}
      >
        <option value="">Choose</option>
        {groups
          .filter(([, , rows]) => rows.length > 0)
          .map(([kind, name, rows]) => (
            <optgroup key={kind} label={name}>
              {rows.map(([value, text]) => (
                <option key={value} value={`${kind} ${value}`}>
                  {text}
                </option>
              ))}
            </optgroup>
          ))}
      </select>
      <form
        className="again"
        onSubmit={(e) => {
          e.preventDefault();
          if (/^[1-9]\d{0,5}$/.test(quantity.trim()))
            onAdd({ kind: "quantity", value: quantity.trim(), name: `${quantity.trim()} pieces` });
        }}
      >
        <label htmlFor={`${id}-n`}>or as many as</label>
        <input
          id={`${id}-n`}
          className="form-control"
          inputMode="numeric"
          value={quantity}
          onChange={(e) => setQuantity(e.target.value)}
        />
        <button type="submit" className="btn btn-outline-primary btn-sm">
          Lay beside
        </button>
      </form>
    </div>
  );
}
