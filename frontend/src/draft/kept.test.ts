// @vitest-environment jsdom
import { entries, set } from "idb-keyval";
import { afterEach, expect, it } from "vitest";
import { clearOldDrafts, keep, keptOf, type Kept } from "./kept";

const DAY = 24 * 3600 * 1000;
const draft = (more: Partial<Kept>) =>
  ({ draft: {}, history: {}, base: "", unsent: false, ...more }) as unknown as Kept;

afterEach(async () => {
  await clearOldDrafts(Date.now() + 1000 * DAY);
});

it("clears what it kept for long, and what is not sent far later", async () => {
  const now = Date.now();
  await set("draft3.a.1", draft({ at: now - 31 * DAY }));
  await set("draft3.a.2", draft({ at: now - 29 * DAY }));
  await set("draft3.b.3", draft({ at: now - 170 * DAY, unsent: true }));
  await set("draft3.b.4", draft({ at: now - 190 * DAY, unsent: true }));
  await set("draft2.5", draft({}));
  await set("something else", { at: 0 });
  expect(await clearOldDrafts(now)).toBe(3);
  const left = (await entries<string, unknown>()).map(([key]) => key);
  expect(left.sort()).toEqual(["draft3.a.2", "draft3.b.3", "something else"]);
});

it("says when a draft was kept", async () => {
  await keep(9, draft({}));
  expect((await keptOf(9))?.at).toBeGreaterThan(Date.now() - 60_000);
});
