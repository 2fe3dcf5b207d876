// Blanks compared by trial: how each took the sewing, its minutes, what was spoiled, and what a
// good one comes to with all of that.
import { Choose } from "../../parts/fields";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import Form from "react-bootstrap/Form";
import { del, get, keys, post, problemOf, type House, type Trial } from "../../api";
import { Told } from "../../parts/Told";
import { money } from "../../parts/format";
import { goOnAt } from "../../parts/goOnAt";
import { useTell } from "../../parts/toasts";
import style from "./Trials.module.scss";

type Key = "blank" | "took" | "minutes" | "tried" | "spoiled" | "price" | "materials";
const HEADS: [Key, string][] = [
  ["blank", "Blank"],
  ["took", "How it took it"],
  ["minutes", "Minutes"],
  ["tried", "Tried"],
  ["spoiled", "Spoiled"],
  ["price", "Price"],
  ["materials", "Thread, backing"],
];
const PLACEHOLDER: Partial<Record<Key, string>> = {
  took: "stood firm, puckered …",
  materials: "as usual",
};
const EMPTY: Record<Key, string> = {
  blank: "",
  took: "",
  minutes: "",
  tried: "1",
  spoiled: "0",
  price: "",
  materials: "",
};

export function Trials({ house }: { house: House }) {
  const id = useId();
  const queries = useQueryClient();
  const tell = useTell();
  const trials = useQuery({ queryKey: keys.trials(), queryFn: () => get("/trials"), staleTime: 0 });
  const [goods, setGoods] = useState("structured-cap");
  const [machine, setMachine] = useState("");
  const [of, setOf] = useState("");
  const [typed, setTyped] = useState(EMPTY);
  const keep = (rows: Trial[]) => queries.setQueryData(keys.trials(), rows);
  const add = useMutation({
    mutationFn: () =>
      post("/trials", {
        body: {
          goods,
          machine,
          of,
          ...typed,
          minutes: (typed.minutes || 0) as never,
          tried: (typed.tried || 1) as never,
          spoiled: (typed.spoiled || 0) as never,
          price: typed.price || "0",
          materials: typed.materials || null,
        },
      }),
    onSuccess: (rows) => {
      keep(rows);
      setTyped(EMPTY);
      setOf("");
      goOnAt("[data-trial=blank]");
    },
  });
  const remove = useMutation({
    mutationFn: (row: Trial) => del("/trials/{trial_id}", { path: { trial_id: row.id } }),
    onSuccess: (rows, row) => {
      keep(rows);
      const { id: _, good_cost: __, cheapest: ___, stuff: ____, spoil: _____, ...was } = row;
      tell(`The trial of ${row.blank} is removed.`, {
        label: "Bring it back",
        does: () => void post("/trials", { body: was }).then(keep),
      });
      goOnAt("[data-trial=blank]");
    },
  });
  const problem = problemOf(add.error);
  const rows = trials.data ?? [];
  return (
    <section aria-label="Trials" className={style["tr-trials"]}>
      <h2 className="small-caps-head">Compared by trial</h2>
      <p className="hint">
        One or two of each, sewn and looked at: a good one costs its price and minutes, and bears
        its share of what is spoiled.
      </p>
      {rows.length > 0 && (
        <table>
          <thead>
            <tr>
              <th scope="col">Class</th>
              {HEADS.map(([key, head]) => (
                <th key={key} scope="col">
                  {head}
                </th>
              ))}
              <th scope="col">A good one</th>
              <td />
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={row.id}>
                <td>{house.goods[row.goods]?.label ?? row.goods}</td>
                <td>{row.blank}</td>
                <td>{row.took}</td>
                <td>{row.minutes}</td>
                <td>{row.tried}</td>
                <td>{row.spoiled}</td>
                <td>{money(row.price, house.price.currency)}</td>
                <td>{money(row.stuff, house.price.currency)}</td>
                <td>
                  {row.good_cost ? money(row.good_cost, house.price.currency) : "none was good"}
                  {row.cheapest && <strong className="d-block">the cheapest</strong>}
                </td>
                <td>
                  <button
                    type="button"
                    className="btn btn-plain"
                    aria-label={`Remove the trial of ${row.blank}`}
                    onClick={() => remove.mutate(row)}
                  >
                    ×
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <form
        className={style["tr-add"]}
        onSubmit={(event) => {
          event.preventDefault();
          if (!add.isPending) add.mutate();
        }}
      >
        <Choose
          label="Class"
          value={goods}
          onChange={(typed) => setGoods(typed)}
          options={Object.entries(house.goods).map(([key, row]) => [key, row.label] as const)}
        />
        <Choose
          label="On the shelf"
          value={of}
          onChange={(id) => {
            const row = house.blanks[id];
            setOf(id);
            if (row) {
              setGoods(row.goods);
              const price = Object.values(row.prices)[0] ?? "";
              setTyped({ ...typed, blank: row.label, price });
            }
          }}
          options={[
            ["", "not there"],
            ...Object.entries(house.blanks).map(([key, row]) => [key, row.label] as const),
          ]}
        />
        <Choose
          label="Machine"
          value={machine}
          onChange={setMachine}
          options={[
            ["", "the first"],
            ...Object.entries(house.machines).map(([key, row]) => [key, row.label] as const),
          ]}
        />
        {HEADS.map(([key, head]) => (
          <div key={key}>
            <Form.Label htmlFor={`${id}-${key}`}>{head}</Form.Label>
            <Form.Control
              id={`${id}-${key}`}
              data-trial={key}
              value={typed[key]}
              autoComplete="off"
              inputMode={key === "blank" || key === "took" ? undefined : "decimal"}
              placeholder={PLACEHOLDER[key]}
              onChange={(e) => setTyped({ ...typed, [key]: e.target.value })}
            />
          </div>
        ))}
        <button type="submit" className="btn btn-outline-primary" aria-disabled={add.isPending}>
          Add the trial
        </button>
        <Told of={problem} placed />
      </form>
    </section>
  );
}
