// The steps of the open place: those that are typed, and what the answer says of them.
import { useLinePrice, useOpenPlace, type DraftStep } from "../../../draft";
import { type House } from "../../../api";

/** The steps of the open place, and how they are changed. */
export function useSteps() {
  const { placement, placeAt, actions } = useOpenPlace();
  const { line } = useLinePrice();
  const steps = placement.steps ?? [];
  const place = line.places[placeAt];
  const stopAt = place?.stop_at ?? [];
  const blocks = line.designs[placeAt]?.blocks ?? [];
  const keep = (where: string, to: DraftStep[]) =>
    actions.placement(`steps${where}`, (found) => {
      if (to.length > 0) found.steps = to;
      else delete found.steps;
    });
  return { steps, stopAt, blocks, done: place?.steps ?? [], keep };
}

/** Materials that the shop has a roll or a sheet of. */
export function stockedSheets(house: House): string[] {
  const there = new Set(
    [...Object.values(house.rolls), ...Object.values(house.sheets)].map((row) => row.material),
  );
  return Object.keys(house.sheet_goods).filter((key) => there.has(key));
}
