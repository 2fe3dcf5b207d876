// @vitest-environment jsdom
import { beforeEach, describe, expect, it } from "vitest";
import type { PassView, RunEvent } from "../../api";
import { bringOld, keepingOf, keepView, letOldViewsGo, viewKept, type Kept } from "./kept";

const kept = (id: string, n: number, shop = "a.1"): Kept => ({
  event: { id, kind: "broke", at: "2026-05-04T09:00:00Z" } as RunEvent,
  n,
  shop,
});

describe("what this browser keeps of a pass", () => {
  beforeEach(() => localStorage.clear());

  it("is of its shop, order and pass alone, each press by itself and in its order", () => {
    const mine = keepingOf("a.1", 7, "l1.p1.run");
    for (const k of [kept("two", 2), kept("one", 1)]) expect(mine.put(k)).toBe(true);
    expect(mine.list().map((k) => k.event.id)).toEqual(["one", "two"]);
    expect(keepingOf("b.1", 7, "l1.p1.run").list()).toEqual([]);
    expect(keepingOf("a.1", 8, "l1.p1.run").list()).toEqual([]);
    expect(keepingOf("a.1", 7, "l1.p2.run").list()).toEqual([]);
    expect(keepingOf("a.2", 7, "l1.p1.run").list()).toHaveLength(2); // after a restore: to be asked
    mine.drop(kept("one", 1));
    expect(mine.list().map((k) => k.event.id)).toEqual(["two"]);
  });

  it("is read past what is damaged, and says where there is no room", () => {
    const mine = keepingOf("a.1", 7, "p");
    mine.put(kept("one", 1));
    for (const text of ["", "{", "null", "[]", '{"event":{}}'])
      localStorage.setItem(`clothyard.press.a.1.7.p.bad${text}`, text);
    expect(mine.list().map((k) => k.event.id)).toEqual(["one"]);
    const full = Storage.prototype.setItem;
    Storage.prototype.setItem = () => {
      throw new DOMException("full", "QuotaExceededError");
    };
    expect(mine.put(kept("two", 2))).toBe(false);
    Storage.prototype.setItem = full;
  });

  it("tells which presses are on their way, for ten seconds", () => {
    const mine = keepingOf("a.1", 7, "p");
    mine.send(["one"]);
    expect(keepingOf("a.1", 7, "p").sending()).toEqual(["one"]);
    mine.send([]);
    expect(mine.sending()).toEqual([]);
  });

  it("holds the pass as it was last seen, a month long", () => {
    const view = { order_id: 7, pass_id: "p", events: 3 } as PassView;
    keepView("a.1", view);
    expect(viewKept("a.1", 7, "p")?.view.events).toBe(3);
    expect(viewKept("b.1", 7, "p")).toBeNull();
    letOldViewsGo(Date.now() + 31 * 24 * 3600 * 1000);
    expect(viewKept("a.1", 7, "p")).toBeNull();
  });

  it("takes over what an earlier release kept, to be asked about", () => {
    localStorage.setItem("clothyard.events.7.p", JSON.stringify([kept("old", 0).event]));
    bringOld("a.1", 7, "p");
    expect(localStorage.getItem("clothyard.events.7.p")).toBeNull();
    expect(keepingOf("a.1", 7, "p").list()[0]?.why).toContain("earlier release");
  });
});
