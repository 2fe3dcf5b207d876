// Two ways side by side on one scale: a sent version, another machine, backing or number.
import { useQueries, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { get, keys, post, type Estimate, type EstimateLine } from "../../../api";
import {
  documentOfJob,
  useBench,
  useDraft,
  useLinePrice,
  type DraftJob,
  type DraftPlacement,
} from "../../../draft";
import { lengthsOf } from "../../../parts/costs";
import { Dialog } from "../../../parts/Dialog";
import { counted, money, number, percent } from "../../../parts/format";
import { YardRod } from "../../../parts/YardRod";
import { scaleEnd } from "../../../parts/yardRod.geometry";
import { CompareChoices, type Other } from "./CompareChoices";
import style from "./Compare.module.scss";

/** The job made otherwise: all places of the line by the other method, or another number. */
function otherwise(job: DraftJob, lineAt: number, other: Other): DraftJob {
  const changed = (placement: DraftPlacement): DraftPlacement => {
    const { hoop, ...rest } = placement.methods ?? {};
    const kept = other.kind === "machine" || hoop === undefined ? rest : { ...rest, hoop };
    return { ...placement, methods: { ...kept, [other.kind]: other.value } };
  };
  const lines = job.lines.map((line, n) => {
    if (n !== lineAt) return line;
    const { unit_price: _, ...asked } = line;
    if (other.kind === "quantity") return { ...asked, quantity: other.value, cells: [], names: [] };
    return { ...asked, placements: asked.placements.map(changed) };
  });
  return { ...job, lines };
}

interface Rod {
  name: string;
  estimate: Estimate;
}

export function Compare({ onClose }: { onClose: () => void }) {
  const { quote } = useBench();
  const { job, lineAt } = useDraft();
  const { estimate } = useLinePrice();
  const versions = useQuery({
    queryKey: keys.lastVersions(quote.id, quote.version),
    queryFn: () =>
      get("/quotes/{quote_id}/versions", {
        path: { quote_id: quote.id },
        query: { cursor: "" },
      }).then((page) => page.items.reverse()),
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
      queryKey: keys.beside(other, job, lineAt),
      queryFn: () =>
        other.kind === "version"
          ? get("/quotes/{quote_id}/versions/{version}/estimate", {
              path: { quote_id: quote.id, version: Number(other.value) },
            })
          : post("/estimates", {
              query: { others: -1, ...(quote.id ? { quote: quote.id } : {}) },
              body: documentOfJob(otherwise(job, lineAt, other)) as never,
            }),
    })),
  });
  const rods: Rod[] = [
    { name: "As it is", estimate },
    ...beside.flatMap((other, n) => {
      const data = found[n]?.data;
      return data ? [{ name: other.name, estimate: data }] : [];
    }),
  ];
  const failed = found.findIndex((each) => each.error);
  return (
    <Dialog title="Side by side" size="xl" onClose={onClose}>
      <CompareChoices versions={(versions.data ?? []).map((v) => v.version)} onAdd={add} />
      {failed >= 0 && (
        <p role="alert" className="invalid-feedback d-block">
          {beside[failed]?.name} cannot be priced so: {found[failed]?.error?.message}
        </p>
      )}
      <Rods
        rods={rods}
        lineAt={lineAt}
        onAway={(name) => setBeside((old) => old.filter((o) => o.name !== name))}
      />
      {rods.length === 1 && (
        <p className="hint">Lay something beside it: all are drawn on one scale of money.</p>
      )}
    </Dialog>
  );
}

interface RodsProps {
  rods: Rod[];
  lineAt: number;
  onAway: (name: string) => void;
}

/** All on one scale. */
function Rods({ rods, lineAt, onAway }: RodsProps) {
  const lines = rods.flatMap(({ name, estimate }) => {
    const line = estimate.lines[Math.min(lineAt, estimate.lines.length - 1)];
    return line ? [{ name, line, currency: estimate.currency }] : [];
  });
  const end = scaleEnd(
    Math.max(
      ...lines.map(({ line }) => Math.max(Number(line.price.unit), Number(line.piece_cost.total))),
    ),
  );
  const first = lines[0]?.line;
  return lines.map(({ name, line, currency }, n) => (
    <BesideRow
      key={name}
      name={name}
      line={line}
      currency={currency}
      end={end}
      than={n > 0 ? first : undefined}
      onAway={() => onAway(name)}
    />
  ));
}

interface RowProps {
  name: string;
  line: EstimateLine;
  currency: string;
  end: number;
  /** What it is compared with; nothing for that itself. */
  than: EstimateLine | undefined;
  onAway: () => void;
}

function BesideRow({ name, line, currency, end, than, onAway }: RowProps) {
  const cost = Number(line.piece_cost.total);
  const { machine_min, hand_min, attend_min } = line.per_piece;
  return (
    <div className={style["beside"]} role="group" aria-label={name}>
      <span>
        <b>{name}</b>
        {than && " "}
        {than && (
          <button
            type="button"
            className="btn btn-plain"
            aria-label={`Take ${name} away`}
            onClick={onAway}
          >
            away
          </button>
        )}
        <span className="hint d-block">
          {counted(line.quantity, "piece")}, {number(machine_min + hand_min + attend_min, 1)} min
          each
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
        currency={currency}
        onOpen={() => undefined}
      />
      <span className="text-end">
        <strong className={style["beside-price"]}>{money(line.price.unit, currency)}</strong>
        <span className="hint d-block">
          margin {percent(line.price.margin)}
          {than && `, cost ${signed(cost - Number(than.piece_cost.total), currency)}`}
        </span>
      </span>
    </div>
  );
}

function signed(difference: number, currency: string): string {
  if (Math.abs(difference) < 0.005) return "the same";
  return `${difference > 0 ? "+" : "−"}${money(Math.abs(difference), currency)}`;
}
