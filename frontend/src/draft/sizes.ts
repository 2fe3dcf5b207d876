// Sizes, colours and names of a line: names lie in the order of the cells, piece by piece; "?" keeps
// the place of a name that is still to come.
import { text, type DraftCell, type DraftLine } from "./job";

export const TO_COME = "?";

const isToCome = (name: string) => name.trim() === TO_COME;

/** A plain count as typed; 0 where it is none. */
const plain = (typed: unknown) => (/^\d{1,6}$/.test(text(typed).trim()) ? Number(text(typed)) : 0);

export const piecesOf = (cell: DraftCell): number => plain(cell.quantity);

/** The names of each cell; of a line without cells, all of them. What no size has room for is the last's. */
export function namesByCell(line: DraftLine): string[][] {
  const names = line.names ?? [];
  const cells = line.cells ?? [];
  if (cells.length === 0) return [names.filter((name) => !isToCome(name))];
  let from = 0;
  return cells.map((cell, n) => {
    const to = n === cells.length - 1 ? names.length : from + piecesOf(cell);
    const mine = names.slice(from, to);
    from = to;
    return mine.filter((name) => !isToCome(name));
  });
}

/** Lay names out again cell by cell; what a size has no room for goes on to the next that has. */
export function layNames(line: DraftLine, names: string[][]) {
  const cells = line.cells ?? [];
  if (cells.length === 0) line.names = names.flat();
  else {
    const laid = cells.map((cell, n) => (names[n] ?? []).slice(0, piecesOf(cell)));
    const over = cells.flatMap((cell, n) => (names[n] ?? []).slice(piecesOf(cell)));
    cells.forEach((cell, n) => {
      laid[n]?.push(...over.splice(0, piecesOf(cell) - (laid[n]?.length ?? 0)));
    });
    const placed = cells.flatMap((cell, n) => {
      const mine = laid[n] ?? [];
      return [...mine, ...Array<string>(piecesOf(cell) - mine.length).fill(TO_COME)];
    });
    let end = placed.length;
    while (over.length === 0 && end > 0 && placed[end - 1] === TO_COME) end -= 1;
    line.names = [...placed.slice(0, end), ...over];
  }
  if (line.names.length === 0) delete line.names;
}

/** Change a line's cells; each keeps its names, and how many there are is then their own sum. */
export function setCells(line: DraftLine, to: DraftCell[]) {
  const before = new Map(
    (line.cells ?? []).map((cell, n) => [cell.id, namesByCell(line)[n] ?? []]),
  );
  const loose = line.cells?.length ? [] : (line.names ?? []);
  const pieces = (line.cells ?? []).reduce((sum, cell) => sum + piecesOf(cell), 0);
  const gone = (line.cells ?? []).filter((cell) => !to.some((other) => other.id === cell.id));
  const orphans = gone.flatMap((cell) => before.get(cell.id) ?? []);
  line.cells = to.map((cell) => ({ ...cell }));
  if (to.length === 0) {
    delete line.cells;
    if (pieces > 0) line.quantity = pieces;
    const kept = [...before.values()].flat();
    if (before.size > 0) line.names = kept;
    return;
  }
  if (to.some((cell) => text(cell.quantity).trim())) {
    delete line.quantity;
    delete line.unit_price;
  }
  const names = to.map((cell) => before.get(cell.id) ?? []);
  // names of a line that had no cells are its first cell's; of a row that went, the first's too
  if (names[0]) names[0] = [...names[0], ...loose, ...orphans];
  if (names.some((row) => row.length > 0)) layNames(line, names);
}

/** Share a number of pieces over cells as they stand: the largest remainders get the rest. */
export function shared(counts: number[], least: number[], total: number): number[] {
  const sum = counts.reduce((a, b) => a + b, 0);
  const weights = sum > 0 ? counts : counts.map((_, n) => (n === 0 ? 1 : 0));
  const of = sum > 0 ? sum : 1;
  const exact = weights.map((weight) => (weight * total) / of);
  const found = exact.map((share, n) => Math.max(Math.floor(share), least[n] ?? 0));
  const rest = exact.map((share, n) => [share - Math.floor(share), n] as const);
  rest.sort((a, b) => b[0] - a[0] || a[1] - b[1]);
  let open = total - found.reduce((a, b) => a + b, 0);
  for (let k = 0; open > 0; k = (k + 1) % rest.length) {
    const n = rest[k]?.[1] ?? 0;
    found[n] = (found[n] ?? 0) + 1;
    open -= 1;
  }
  while (open < 0) {
    // names hold some cells up: the others give way, the largest first
    const giving = found
      .map((count, n) => [count - (least[n] ?? 0), n] as const)
      .sort((a, b) => b[0] - a[0])[0];
    if (!giving || giving[0] <= 0) break;
    found[giving[1]] = (found[giving[1]] ?? 0) - 1;
    open += 1;
  }
  return found;
}

/** What each line was last shared from, so that 1 on the way to 12 does not forget the sizes. */
const last = new Map<string, { from: number[]; to: number[] }>();

const same = (a: number[], b: number[]) => a.length === b.length && a.every((n, k) => n === b[k]);

/** Say how many: of a line in sizes it is shared over them, never below the names they have. */
export function setQuantity(line: DraftLine, typed: string | number) {
  delete line.unit_price;
  const total = plain(typed);
  const cells = line.cells ?? [];
  if (total === 0 || cells.length === 0) {
    line.quantity = typed as never;
    return;
  }
  const names = namesByCell(line);
  const least = names.map((row, n) => Math.min(row.length, piecesOf(cells[n] ?? { id: "" })));
  const now = cells.map(piecesOf);
  const before = last.get(line.id);
  const from = before && same(before.to, now) ? before.from : now;
  const counts = shared(from, least, total);
  last.set(line.id, { from, to: counts });
  line.cells = cells.map((cell, n) => {
    const pieces = counts[n] ?? 0;
    const { quantity: _, ...rest } = cell;
    return pieces > 0 ? { ...rest, quantity: pieces } : rest;
  });
  delete line.quantity;
  if (line.names?.length) layNames(line, names);
}
