// What colour the cloth is: asked once, where nobody said it and the bobbin goes by it.
import { useState } from "react";
import { newId, setCells, text, useDraft, useHouse } from "../../../draft";
import { TextField } from "../../../parts/fields";
import { goOnAt } from "../../../parts/goOnAt";

export function ClothColour() {
  const house = useHouse();
  const { line, actions } = useDraft();
  const [typed, setTyped] = useState("");
  const goods = house.goods[line.goods.class ?? ""];
  const said = (line.cells ?? []).some((cell) => text(cell.colour).trim());
  if (!goods || goods.made || goods.back_seen === "yes" || said) return null;
  const keep = () => {
    const colour = typed.trim();
    if (!colour) return;
    actions.line("cells.colour", (found) => {
      const now = found.cells?.length
        ? found.cells
        : [{ id: newId(), size: "", quantity: found.quantity ?? 1 }];
      setCells(
        found,
        now.map((cell) => ({ ...cell, colour })),
      );
    });
  };
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        keep();
        if (typed.trim()) goOnAt("#method-bobbin"); // the question goes with its answer
      }}
    >
      <TextField
        label="What colour is the cloth?"
        value={typed}
        placeholder="navy, pale grey …"
        onChange={setTyped}
        onBlur={keep}
      />
    </form>
  );
}
