// The rates of an hour out of a year's figures, with the working; taken with one press.
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import { post, problemOf, put, useShopHouse, type Year } from "../../api";
import { Told, wordsOf } from "../../parts/Told";
import { money, number, percent, words } from "../../parts/format";
import { useTell } from "../../parts/toasts";
import style from "./RatesPage.module.scss";

const ASKED = [
  ["monthly_drawings", "I want to take out, a month", "2000"],
  ["on_costs", "Tax and insurance on it, a year", "0"],
  ["paid_hours", "Hours I work, a year", "1800"],
  ["productive", "of them on orders, %", "60"],
  ["rent", "Rent and heat, a year", "0"],
  ["insurance", "Insurance, a year", "0"],
  ["software", "Software, a year", "0"],
  ["advertising", "Advertising, a year", "0"],
  ["other", "Other, a year", "0"],
] as const;
const MACHINE = [
  ["price", "It cost", "8000"],
  ["resale", "It will sell for", "1500"],
  ["life_hours", "Hours it will run", "8000"],
  ["service_per_h", "Service, an hour of running", "0.40"],
  ["power_kw", "Power, kW", "0.3"],
  ["tariff_per_kwh", "A kWh costs", "0.28"],
] as const;

type Typed = Record<string, string>;
const started = (rows: readonly (readonly [string, string, string])[]): Typed =>
  Object.fromEntries(rows.map(([key, , start]) => [key, start]));
/** A year's figures as typed; what is left empty is nothing. The core reads them. */
const filled = (typed: Typed) =>
  Object.fromEntries(Object.entries(typed).map(([key, text]) => [key, text.trim() || "0"]));
const said = (value: string | number, unit: string) =>
  unit === "share" ? percent(value) : `${number(value, 2)} ${unit}`;
const asShare = (typed = "") => (/^[\d.,]+$/.test(typed.trim()) ? `${typed.trim()} %` : typed);

export function RatesPage({ opened = false }: { opened?: boolean }) {
  const id = useId();
  const queries = useQueryClient();
  const tell = useTell();
  const [open, setOpen] = useState(opened);
  const [year, setYear] = useState<Typed>(() => started(ASKED));
  const [machine, setMachine] = useState<Typed>(() => started(MACHINE));
  const house = useShopHouse();
  const currency = house.data?.price.currency ?? "";
  const machines = Object.entries(house.data?.machines ?? {});
  const [chosen, setChosen] = useState("");
  const which = chosen || (machines[0]?.[0] ?? "compact-10");
  const work = useMutation({
    mutationFn: () =>
      post("/rates", {
        body: {
          ...filled(year),
          currency,
          productive: asShare(year["productive"]),
          machines: { [which]: filled(machine) },
        } as unknown as Year,
      }),
  });
  const rates = work.data;
  const take = useMutation({
    mutationFn: async () => {
      if (!rates) return;
      await put("/standards/{key}", {
        path: { key: "rates.labour_per_h" },
        body: { value: rates.labour_per_h },
      });
      await put("/standards/{key}", {
        path: { key: "rates.overhead_per_h" },
        body: { value: rates.overhead_per_h },
      });
      for (const [key, rate] of Object.entries(rates.machine_per_h))
        await put("/standards/{key}", {
          path: { key: `machines.${key}.rate_per_h` },
          body: { value: rate },
        });
      await queries.invalidateQueries();
      tell("The rates are the shop's now; every new price uses them.");
    },
  });
  const problem = problemOf(work.error) ?? problemOf(take.error);
  const refused = new Map(problem?.errors.map((e) => [e.where.split(".").at(-1), wordsOf(e)]));
  const fields = (
    rows: readonly (readonly [string, string, string])[],
    typed: Typed,
    set: (to: Typed) => void,
  ) =>
    rows.map(([key, label]) => (
      <div key={key}>
        <label className="form-label" htmlFor={`${id}-${key}`}>
          {label}
        </label>
        <input
          id={`${id}-${key}`}
          className={`form-control${refused.has(key) ? " is-invalid" : ""}`}
          inputMode="decimal"
          aria-describedby={refused.has(key) ? `${id}-${key}-about` : undefined}
          value={typed[key] ?? ""}
          onChange={(e) => set({ ...typed, [key]: e.target.value })}
        />
        {refused.has(key) && (
          <p id={`${id}-${key}-about`} className="invalid-feedback d-block">
            {refused.get(key)}
          </p>
        )}
      </div>
    ));
  if (!open)
    return (
      <button type="button" className="btn btn-outline-primary mt-3" onClick={() => setOpen(true)}>
        Work my rates out of a year
      </button>
    );
  return (
    <form
      className={style["wizard"]}
      aria-label="Rates out of a year"
      onSubmit={(e) => {
        e.preventDefault();
        work.mutate();
      }}
    >
      <h2 className="small-caps-head">What a year must bring</h2>
      <div className="part-fields">{fields(ASKED, year, setYear)}</div>
      <h2 className="small-caps-head mt-3">The machine</h2>
      <div className="part-fields">
        <div>
          <label className="form-label" htmlFor={`${id}-which`}>
            Which
          </label>
          <select
            id={`${id}-which`}
            className="form-select"
            value={which}
            onChange={(e) => setChosen(e.target.value)}
          >
            {machines.map(([key, row]) => (
              <option key={key} value={key}>
                {row.label}
              </option>
            ))}
          </select>
        </div>
        {fields(MACHINE, machine, setMachine)}
      </div>
      <Told of={problem} />
      <p className="d-flex gap-2 mt-3">
        <button type="submit" className="btn btn-primary">
          Work it out
        </button>
        <button type="button" className="btn btn-outline-primary" onClick={() => setOpen(false)}>
          Not now
        </button>
      </p>
      {rates && (
        <>
          <table className={style["wizard-working"]}>
            <tbody>
              {rates.working.map((step) => (
                <tr key={step.id}>
                  <th scope="row">{step.name}</th>
                  <td className="hint">
                    {step.formula}:{" "}
                    {step.inputs.map((i) => `${i.name} ${said(i.value, i.unit)}`).join(", ")}
                  </td>
                  <td className={style["number"]}>
                    {number(step.value, 2)} {words(step.unit)}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          <button
            type="button"
            className="btn btn-primary"
            disabled={take.isPending}
            onClick={() => take.mutate()}
          >
            Take them: {money(rates.labour_per_h, currency)} hands,{" "}
            {money(rates.overhead_per_h, currency)} overhead an hour
          </button>
        </>
      )}
    </form>
  );
}
