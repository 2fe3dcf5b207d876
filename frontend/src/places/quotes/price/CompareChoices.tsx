// What can be laid beside a price: a sent version, a machine, another method, another number.
import { useId, useState } from "react";
import { useOpenPlace, useHouse, useLinePrice } from "../../../draft";
import style from "./CompareChoices.module.scss";
export interface Other {
  kind: "version" | "machine" | "backing" | "topping" | "hold" | "quantity";
  value: string;
  name: string;
}

interface Props {
  versions: number[];
  onAdd: (other: Other) => void;
}

type Group = [Other["kind"], string, [string, string][]];

function useGroups(versions: number[]): Group[] {
  const house = useHouse();
  const { placeAt } = useOpenPlace();
  const { line } = useLinePrice();
  const of = (kind: "backing" | "topping" | "hold") =>
    (line.methods.find((m) => m.key === kind && m.placement === placeAt)?.others ?? []).map(
      ({ value }) => value,
    );
  const label = (kind: string, value: string) =>
    (kind === "backing" ? house.backings : kind === "topping" ? house.toppings : {})[value]
      ?.label ?? value.replaceAll("-", " ");
  return [
    ["version", "Versions", versions.map((v) => [String(v), `v${v}, as sent`])],
    [
      "machine",
      "Machines",
      Object.entries(house.machines)
        .filter(([, row]) => row.owned)
        .map(([key, row]) => [key, row.label]),
    ],
    ["backing", "Backing", of("backing").map((v) => [v, label("backing", v)])],
    ["topping", "Topping", of("topping").map((v) => [v, label("topping", v)])],
    ["hold", "Hold", of("hold").map((v) => [v, v === "float" ? "Floated" : "Hooped"])],
  ];
}

export function CompareChoices({ versions, onAdd }: Props) {
  const id = useId();
  const groups = useGroups(versions);
  return (
    <div className={style["choices"]}>
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
      <Number onAdd={onAdd} />
    </div>
  );
}

function Number({ onAdd }: Pick<Props, "onAdd">) {
  const id = useId();
  const [quantity, setQuantity] = useState("");
  return (
    <form
      className="again"
      onSubmit={(e) => {
        e.preventDefault();
        const value = quantity.trim();
        if (value)
          onAdd({
            kind: "quantity",
            value,
            name: `${value} ${value === "1" ? "piece" : "pieces"}`,
          });
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
  );
}
