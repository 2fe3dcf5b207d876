import { QueryClient, QueryObserver } from "@tanstack/react-query";
import { expect, it } from "vitest";
import { keepIn } from "./keys";

it("keeps what a change answered over an answer that was asked for before", async () => {
  const queries = new QueryClient();
  const asked: ((now: string) => void)[] = [];
  const queryKey = ["order", 7];
  const shown = new QueryObserver(queries, {
    queryKey,
    queryFn: () => new Promise<string>((go) => asked.push(go)),
  });
  const leave = shown.subscribe(() => undefined);
  asked[0]?.("3 sewn");
  await expect.poll(() => queries.getQueryData(queryKey)).toBe("3 sewn");
  void queries.invalidateQueries({ queryKey }); // asked for anew, and slow
  await expect.poll(() => asked.length).toBe(2);
  await keepIn(queries, queryKey, "2 sewn, 1 spoiled");
  asked[1]?.("3 sewn");
  await new Promise((go) => setTimeout(go, 20));
  expect(queries.getQueryData(queryKey)).toBe("2 sewn, 1 spoiled");
  leave();
});
