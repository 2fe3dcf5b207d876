// @vitest-environment jsdom
import { describe, expect, it } from "vitest";
import { ProblemError, type PassView, type RunEvent } from "../../api";
import type { Kept, Keeping } from "./kept";
import { EventQueue, eventId, withWaiting } from "./queue";
import { eventsOf } from "./useMachine";

const event = (id: string, kind: RunEvent["kind"] = "broke", more: Partial<RunEvent> = {}) =>
  ({ id, kind, at: "2026-05-04T09:00:00Z", ...more }) as RunEvent;

const problem = (status: number) =>
  new ProblemError({ status, detail: "No.", remedy: "", title: "", code: "" } as never);

/** Numbers as they fall, the same for the same seed. */
function drawn(seed: number) {
  let state = seed;
  return () => {
    state = (state * 1_664_525 + 1_013_904_223) % 4_294_967_296;
    return state / 4_294_967_296;
  };
}

const view = (): PassView =>
  ({
    pieces: ["a", "b", "c"].map((id, n) => ({ id, n, state: "waiting", reason: "" })),
    breaks: 0,
    bobbins: 0,
    paused: null,
    notes: [],
    last: null,
  }) as unknown as PassView;

/** A browser's storage that tabs share; `room` says how many it takes. */
function shared(room = Infinity) {
  const kept = new Map<string, Kept>();
  const tabs = new Set<() => void>();
  const mark: { ids: string[] } = { ids: [] };
  const tab = (): Keeping => {
    let mine: () => void = () => undefined;
    const others = () => tabs.forEach((tell) => tell !== mine && tell());
    return {
      list: () => [...kept.values()].sort((x, y) => x.n - y.n),
      put: (k) => {
        if (kept.size >= room && !kept.has(k.event.id)) return false;
        kept.set(k.event.id, k);
        others();
        return true;
      },
      drop: (k) => {
        kept.delete(k.event.id);
        others();
      },
      listen: (tell) => {
        mine = tell;
        tabs.add(tell);
        return () => void tabs.delete(tell);
      },
      sending: () => mark.ids,
      send: (ids) => void (mark.ids = ids),
    };
  };
  return { kept, tab };
}

type Send = ConstructorParameters<typeof EventQueue>[2];
const SHOP = "shop.one";
const opened = (keeping: Keeping, send: Send, shop = SHOP) =>
  new EventQueue(shop, keeping, send, () => undefined);
const soon = () => new Promise((go) => setTimeout(go, 0));
const told = (code: string, status = 409) =>
  new ProblemError({ status, detail: "No.", remedy: "", title: "", code } as never);

describe("events on their way to the server", () => {
  it("are none lost or doubled over 200 cuts, reloads and two tabs", async () => {
    const chance = drawn(18);
    const storage = shared();
    const server: string[] = [];
    const send: Send = ({ events }) => {
      const before = chance() < 0.35; // cut before it arrives
      const after = chance() < 0.35; // cut before its answer does
      if (!before) for (const one of events) if (!server.includes(one.id)) server.push(one.id);
      return before || after ? Promise.reject(problem(0)) : Promise.resolve(view());
    };
    const tabs = [opened(storage.tab(), send), opened(storage.tab(), send)];
    const written: string[] = [];
    for (let n = 0; n < 200; n += 1) {
      const at = chance() < 0.5 ? 0 : 1;
      for (let k = 0; k < 3; k += 1) {
        const id = `event-${n}-${k}`;
        written.push(id);
        tabs[at]?.add([event(id)]);
      }
      await tabs[at]?.flush();
      if (chance() < 0.5) {
        tabs[at]?.end(); // the page is loaded again
        tabs[at] = opened(storage.tab(), send);
      }
    }
    for (let n = 0; n < 200 && storage.kept.size > 0; n += 1) await tabs[0]?.flush();
    tabs.forEach((queue) => queue.end());
    expect([...server].sort()).toEqual([...written].sort());
    expect(new Set(server).size).toBe(server.length);
    expect(storage.kept.size).toBe(0);
  });

  it("are taken back in both tabs, and never come again", async () => {
    const storage = shared();
    const away: Send = () => Promise.reject(problem(0));
    const [one, two] = [opened(storage.tab(), away), opened(storage.tab(), away)];
    one.add([event("a"), event("b")]);
    two.add([event("c")]);
    await soon();
    expect(two.now().waiting.map((e) => e.id)).toEqual(["a", "b", "c"]);
    expect(two.drop("a")).toBe(true);
    expect(one.now().waiting.map((e) => e.id)).toEqual(["b", "c"]);
    one.add([event("d")]);
    await soon();
    expect(two.now().waiting.map((e) => e.id)).toEqual(["b", "c", "d"]);
    [one, two].forEach((queue) => queue.end());
  });

  it("cannot be taken back while another tab sends them", async () => {
    const storage = shared();
    let answer: () => void = () => undefined;
    const slow: Send = () => new Promise((go) => (answer = () => go(view())));
    const [one, two] = [opened(storage.tab(), slow), opened(storage.tab(), slow)];
    one.add([event("a")]);
    expect(two.drop("a")).toBe(false);
    answer();
    await soon();
    expect(storage.kept.size).toBe(0);
    [one, two].forEach((queue) => queue.end());
  });

  it("are told where the server will not take one, stay until dismissed, and the others go on", async () => {
    const storage = shared();
    const taken: string[] = [];
    const send: Send = ({ events, anyway }) => {
      if (!anyway && events.some((e) => e.id === "bad")) return Promise.reject(problem(422));
      taken.push(...events.map((e) => e.id));
      return Promise.resolve(view());
    };
    const queue = opened(storage.tab(), send);
    queue.add([event("one"), event("bad"), event("two")]);
    for (let n = 0; n < 6; n += 1) await soon();
    expect(taken).toEqual(["one", "two"]);
    expect(queue.now().refused.map((r) => [r.event.id, r.why])).toEqual([["bad", "No."]]);
    queue.end();
    const again = opened(storage.tab(), send); // over a reload
    expect(again.now().refused.map((r) => r.event.id)).toEqual(["bad"]);
    expect(again.now().waiting).toEqual([]);
    await again.anyway("bad");
    expect(taken).toEqual(["one", "two", "bad"]);
    again.end();
    expect(storage.kept.size).toBe(0);
  });

  it("wait while another shop is served, and are asked about after a backup was gone back to", async () => {
    const storage = shared();
    let served = "another-shop";
    const send: Send = () => (served ? Promise.reject(told(served)) : Promise.resolve(view()));
    const queue = opened(storage.tab(), send);
    queue.add([event("a")]);
    await soon();
    expect([queue.now().waiting.length, queue.now().elsewhere]).toEqual([1, true]);
    queue.end();
    const anew = opened(storage.tab(), send, "shop.two"); // the same shop, another generation
    expect(anew.now().waiting).toEqual([]);
    expect(anew.now().refused.map((r) => r.event.id)).toEqual(["a"]);
    served = "";
    anew.forget("a");
    expect(storage.kept.size).toBe(0);
    anew.end();
  });

  it("stand in the view before they are taken out of what waits", async () => {
    const shown: [number, number][] = [];
    const queue = opened(shared().tab(), () =>
      Promise.resolve({ ...view(), events: 2, version: 1 }),
    );
    queue.listen(() => shown.push([queue.now().view?.events ?? 0, queue.now().waiting.length]));
    queue.add([event("a"), event("b")]);
    for (let n = 0; n < 4; n += 1) await soon();
    expect(shown.filter(([events, waiting]) => events + waiting < 2 && shown.length > 1)).toEqual(
      [],
    );
    expect(shown.at(-1)).toEqual([2, 0]);
    queue.end();
  });

  it("are sent by the order's version that was on the screen", async () => {
    const storage = shared();
    const versions: unknown[] = [];
    let up = false;
    const queue = opened(storage.tab(), ({ events, version }) => {
      if (!up) return Promise.reject(problem(0));
      versions.push([version, events.map((e) => e.id)]);
      return Promise.resolve(view());
    });
    queue.add([event("a"), event("b")], 1);
    queue.add([event("c")], 2);
    await soon();
    up = true;
    for (let n = 0; n < 4; n += 1) {
      await queue.flush();
      await soon();
    }
    expect(versions).toEqual([
      [1, ["a", "b"]],
      [2, ["c"]],
    ]);
    queue.end();
  });

  it("are kept in the page and told so where the browser has no room", async () => {
    const storage = shared(1);
    let up = false;
    const sent: string[] = [];
    const queue = opened(storage.tab(), ({ events }) => {
      if (!up) return Promise.reject(problem(0));
      sent.push(...events.map((e) => e.id));
      return Promise.resolve(view());
    });
    queue.add([event("a"), event("b")]);
    await soon();
    expect([queue.now().waiting.length, queue.now().unkept]).toEqual([2, true]);
    up = true;
    await queue.flush();
    expect([sent, queue.now().unkept]).toEqual([["a", "b"], false]);
    queue.end();
  });

  it("have ids of their own", () => {
    expect(new Set(Array.from({ length: 500 }, eventId)).size).toBe(500);
  });
});

describe("a pass with what waits laid over it", () => {
  it("goes on with the server away, and takes back what it has", () => {
    const waiting = [
      event("1", "done", { piece: "a" }),
      event("2"),
      event("3", "spoiled", { piece: "b", reason: "nest" }),
    ];
    const now = withWaiting(view(), waiting);
    expect(now.pieces.map((p) => p.state)).toEqual(["done", "spoiled", "waiting"]);
    expect([now.breaks, now.last?.id]).toEqual([1, "3"]);
    const back = withWaiting(view(), [...waiting, event("4", "undo", { of: "2" })]);
    expect([back.breaks, back.last?.id]).toEqual([0, "3"]);
    const there = { ...view(), breaks: 1, last: { id: "x", kind: "broke", piece: "", at: "" } };
    expect(withWaiting(there, [event("5", "undo", { of: "x" })]).breaks).toBe(0);
  });
});

describe("what a machine reports", () => {
  const told = {
    n: 7,
    epoch: "e",
    stitch: 0,
    block: 0,
    needle: 1,
    spm: 0,
    at_s: 1,
    data: { needle_s: 42 },
  };
  const six = Array.from({ length: 6 }, (_, n) => ({
    n: n + 1,
    size: "",
    colour: "",
    name: "",
    reason: "",
    id: `l1-${n + 1}`,
    hooping: n < 4 ? 1 : 2,
    state: n === 1 ? ("spoiled" as const) : ("waiting" as const),
  }));
  const pass = { order_id: 3, pass_id: "l1.p1.run", pieces: six };
  it("is an event of the pass, with its own id, and none of another's", () => {
    const end = eventsOf({ ...told, kind: "end", run: "3:l1.p1.run:l1-2.2:4" }, pass, "now");
    const sewn = { kind: "done", at: "now" };
    expect(end).toEqual([{ ...sewn, id: "m:e:7", piece: "l1-2.2", needle_s: 42 }]);
    expect(eventsOf({ ...told, kind: "end", run: "4:l1.p1.run:l1-2:1" }, pass, "now")).toEqual([]);
    expect(eventsOf({ ...told, kind: "stitch", run: "3:l1.p1.run:l1-2:1" }, pass, "now")).toEqual(
      [],
    );
  });
  it("ends what is in one hooping together, each with its share of the time", () => {
    const ended = eventsOf({ ...told, kind: "end", run: "3:l1.p1.run:l1-1:1" }, pass, "now");
    expect(ended.map((e) => [e.id, e.piece, e.needle_s])).toEqual([
      ["m:e:7", "l1-1", 14],
      ["m:e:7.1", "l1-3", 14],
      ["m:e:7.2", "l1-4", 14],
    ]);
  });
});
