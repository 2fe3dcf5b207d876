// The steps of setting a shop up: each a few fields of the standards, kept as they are left.
import { useMutation } from "@tanstack/react-query";
import { useId, useState } from "react";
import Form from "react-bootstrap/Form";
import { useNavigate } from "react-router";
import {
  post,
  problemOf,
  put,
  useShopHouse,
  type QuoteDocument,
  type Standard,
  useRenew,
} from "../../api";
import { counted, symbol, words } from "../../parts/format";
import { ThreadCard } from "../../parts/ThreadCard";
import { Told, wordsOf } from "../../parts/Told";
import { useTell } from "../../parts/toasts";
import { ClassThumb } from "../../parts/GoodsThumb";
import {
  AddRow,
  HoopForm,
  POLOS,
  PriceList,
  RatesPage,
  rowsOf,
  sampleOf,
  StandardCell,
  StandardRow,
} from "../workshop";
import type { Sample } from "../workshop";
import type { BodyProps } from "./BeginPage";
import style from "./Begin.module.scss";

const nothing = () => undefined;

/** Standards by their keys, a row each. */
function Rows({ all, keys }: { all: Standard[]; keys: string[] }) {
  const renew = useRenew("standards");
  const sign = symbol(String(all.find((s) => s.key === "price.currency")?.value ?? "GBP"));
  return keys.flatMap((key) => {
    const standard = all.find((each) => each.key === key);
    if (!standard) return [];
    const again = `${key} ${String(standard.value)}`;
    return [
      <StandardRow
        key={again}
        standard={standard}
        sign={sign}
        renew={() => renew().then(nothing)}
      />,
    ];
  });
}

export function TheShop({ all }: BodyProps) {
  return (
    <Rows
      all={all}
      keys={[
        "shop.name",
        "shop.address",
        "price.currency",
        "shop.units",
        "terms.tax_rate",
        "terms.prices_include_tax",
        "terms.deposit",
        "terms.valid_days",
      ]}
    />
  );
}

/** Whether a row is the shop's: ticked or not. */
function Owned({ standard, label }: { standard: Standard | undefined; label: string }) {
  const id = useId();
  const renew = useRenew("standards");
  const tell = useTell();
  const turn = useMutation({
    mutationFn: (to: boolean) =>
      put("/standards/{key}", { path: { key: standard?.key ?? "" }, body: { value: to } }),
    onSuccess: () => renew(),
    onError: (error) => {
      const problem = problemOf(error);
      if (problem) tell(`${label} stays: ${wordsOf(problem)}`);
    },
  });
  const has = (turn.isPending ? turn.variables : standard?.value) === true;
  return (
    <Form.Check
      id={id}
      label={label}
      checked={has}
      onChange={(e) => turn.mutate(e.target.checked)}
    />
  );
}

const MACHINE = [
  ["needles", "needles"],
  ["heads", "heads"],
  ["set_spm", "stitches a minute"],
  ["auto_change", "changes colour by itself"],
  ["auto_trim", "cuts thread by itself"],
  ["cap_frame", "takes a cap frame"],
] as const;

const labelOf = (cells: Map<string, Standard>, row: string) =>
  String(cells.get("label")?.value ?? row);

export function Machines({ all }: BodyProps) {
  const rows = [...rowsOf("machines", all)];
  return (
    <>
      <div className={style["be-cards"]}>
        {rows.map(([row, cells]) => (
          <fieldset key={row} className={style["be-card"]}>
            <legend className="visually-hidden">{labelOf(cells, row)}</legend>
            <Owned standard={cells.get("owned")} label={labelOf(cells, row)} />
            {cells.get("owned")?.value === true &&
              MACHINE.map(([column, name]) => {
                const cell = cells.get(column);
                return (
                  cell && (
                    <label key={column} className={style["be-fact"]}>
                      <span>{name}</span>
                      <StandardCell standard={cell} onFocus={nothing} />
                    </label>
                  )
                );
              })}
          </fieldset>
        ))}
      </div>
      <AddRow
        section="machines"
        button="+ another machine"
        rows={rows.map(([row, cells]) => [row, labelOf(cells, row)])}
      />
    </>
  );
}

export function Hoops({ all }: BodyProps) {
  const rows = [...rowsOf("hoops", all)];
  return (
    <>
      <div className={style["be-ticks"]}>
        {rows.map(([row, cells]) => (
          <Owned key={row} standard={cells.get("owned")} label={labelOf(cells, row)} />
        ))}
      </div>
      <HoopForm all={all} />
    </>
  );
}

export function Money({ all }: BodyProps) {
  return (
    <>
      <RatesPage opened />
      <p className="hint mt-3">Or typed, where you know them:</p>
      <Rows all={all} keys={["rates.labour_per_h", "rates.overhead_per_h", "price.margin"]} />
    </>
  );
}

const ROLLS = ["cut-away-medium-500", "tear-away-medium-500", "mesh-500", "film-500"];

export function Shelf({ all }: BodyProps) {
  const threads = [...rowsOf("thread_shelf", all)];
  const rolls = rowsOf("rolls", all);
  const [backings, toppings] = [rowsOf("backings", all), rowsOf("toppings", all)];
  const renew = useRenew("standards");
  const turn = useMutation({
    mutationFn: ([key, to]: [string, boolean]) =>
      put("/standards/{key}", { path: { key }, body: { value: to } }),
    onSuccess: () => renew(),
  });
  return (
    <>
      <div role="group" aria-label="Colours on the shelf" className={style["be-threads"]}>
        {threads.map(([row, cells]) => {
          const owned = cells.get("owned");
          const has = owned?.value === true;
          return (
            <button
              key={row}
              type="button"
              className={`btn ${style["be-thread"] ?? ""}`}
              aria-pressed={has}
              onClick={() => owned && turn.mutate([owned.key, !has])}
            >
              <ThreadCard colour={String(cells.get("colour")?.value ?? "")} />
              <span>{labelOf(cells, row)}</span>
            </button>
          );
        })}
      </div>
      <AddRow
        section="thread_shelf"
        button="+ another colour"
        rows={threads.map(([row, cells]) => [row, labelOf(cells, row)])}
      />
      <h3 className="form-label mt-3">What a roll costs you</h3>
      <div className={style["be-cards"]}>
        {ROLLS.flatMap((row) => {
          const cells = rolls.get(row);
          const price = cells?.get("price");
          if (!cells || !price) return [];
          const kind = String(cells.get("material")?.value ?? "");
          const named = backings.get(kind) ?? toppings.get(kind);
          const width = String(cells.get("width_mm")?.value ?? "");
          return [
            <label key={row} className={style["be-fact"]}>
              <span>
                {named ? labelOf(named, row) : words(row)}
                <span className="hint"> {width} mm wide</span>
              </span>
              <StandardCell standard={price} onFocus={nothing} />
            </label>,
          ];
        })}
      </div>
    </>
  );
}

const THREE = [0, 1, 2];
const USUAL = ["pique-polo", "t-shirt", "structured-cap"];

export function Blanks({ all }: BodyProps) {
  const id = useId();
  const renew = useRenew("standards");
  const tell = useTell();
  const house = useShopHouse();
  const classes = Object.entries(house.data?.goods ?? {});
  const [typed, setTyped] = useState(
    THREE.map((n) => ({ label: "", goods: USUAL[n] ?? "", each: "" })),
  );
  const begun = typed.filter((row) => row.label.trim() && row.each.trim());
  const keep = useMutation({
    mutationFn: async () => {
      for (const row of begun)
        await post("/standard-rows", {
          body: {
            section: "blanks",
            like: "",
            label: row.label,
            values: { goods: row.goods, prices: `${row.each};` },
          },
        });
    },
    onSuccess: async () => {
      tell(`${counted(begun.length, "blank")} on the shelf.`);
      setTyped(typed.map((row) => (begun.includes(row) ? { ...row, label: "", each: "" } : row)));
      await renew();
    },
  });
  const problem = problemOf(keep.error);
  const sign = symbol(String(all.find((s) => s.key === "price.currency")?.value ?? "GBP"));
  const there = [...rowsOf("blanks", all)];
  const set = (n: number, change: Partial<(typeof typed)[number]>) => {
    keep.reset();
    setTyped(typed.map((row, k) => (k === n ? { ...row, ...change } : row)));
  };
  return (
    <>
      {there.length > 0 && (
        <p>On the shelf: {there.map(([row, cells]) => labelOf(cells, row)).join(", ")}.</p>
      )}
      {THREE.map((n) => (
        <div key={n} className={style["be-blank"]}>
          <ClassThumb goods={typed[n]?.goods ?? ""} size={36} />
          <Form.Control
            aria-label={`Called, blank ${n + 1}`}
            placeholder="What you call it"
            value={typed[n]?.label ?? ""}
            onChange={(e) => set(n, { label: e.target.value })}
          />
          <Form.Select
            aria-label={`Class, blank ${n + 1}`}
            value={typed[n]?.goods ?? ""}
            onChange={(e) => set(n, { goods: e.target.value })}
          >
            {classes.map(([key, goods]) => (
              <option key={key} value={key}>
                {goods.label}
              </option>
            ))}
          </Form.Select>
          <Form.Control
            aria-label={`It costs, blank ${n + 1}`}
            placeholder={`${sign} each`}
            inputMode="decimal"
            value={typed[n]?.each ?? ""}
            aria-describedby={problem ? `${id}-wrong` : undefined}
            onChange={(e) => set(n, { each: e.target.value })}
          />
        </div>
      ))}
      <Told of={problem} id={`${id}-wrong`} placed />
      <p className="d-flex gap-3 align-items-center">
        <button
          type="button"
          className="btn btn-outline-primary"
          disabled={begun.length === 0 || keep.isPending}
          onClick={() => keep.mutate()}
        >
          Keep on the shelf
        </button>
      </p>
      <PriceList />
    </>
  );
}

/** The order whose price stands below: of the shop's first blank, once it has one. */
export function sampleIn(all: Standard[]): Sample {
  const [row, cells] = [...rowsOf("blanks", all)][0] ?? [];
  const goods = String(cells?.get("goods")?.value ?? "");
  return row && cells
    ? sampleOf(`24 × ${labelOf(cells, row)}`, { class: goods, blank: row })
    : POLOS;
}

export function TryIt() {
  const navigate = useNavigate();
  const make = useMutation({
    mutationFn: () => post("/quotes", { body: {} as QuoteDocument }),
    onSuccess: (view) => navigate(`/quotes/${view.id}`),
  });
  return (
    <>
      <p className="mt-3">
        Below stands what a middling crest costs on it. What is still a guess is told beside every
        price, by name, until you set it.
      </p>
      <button
        type="button"
        className="btn btn-primary"
        disabled={make.isPending}
        onClick={() => make.mutate()}
      >
        Make the first quote
      </button>
    </>
  );
}
