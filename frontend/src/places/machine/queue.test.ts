// @vitest-environment jsdom
import { describe, expect, it } from "vitest";
import { ProblemError, type PassView, type RunEvent } from "../../api";
import { EventQueue, eventId, withWaiting } from "./queue";
import { eventOf } from "./useMachine";

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

describe("events on their way to the server", () => {
  it("are none lost or doubled over 200 cuts of the connection and reloads of the page", async () => {
    const chance = drawn(18);
    const kept = { text: "[]" };
    const server: string[] = [];
    const send = (events: RunEvent[]) => {
      const before = chance() < 0.35; // cut before it arrives
      const after = chance() < 0.35; // cut before its answer does
      if (!before) for (const one of events) if (!server.includes(one.id)) server.push(one.id);
      return before || after ? Promise.reject(problem(0)) : Promise.resolve(view());
    };
    const open = () =>
      new EventQueue(
        { read: () => kept.text, write: (text) => (kept.text = text) },
        send,
        () => undefined,
      );
    const written: string[] = [];
    let queue = open();
    for (let n = 0; n < 200; n += 1) {
      for (let k = 0; k < 3; k += 1) {
        const id = `event-${n}-${k}`;
        written.push(id);
        queue.add([event(id)]);
      }
      await queue.flush();
      if (chance() < 0.5) {
        queue.end(); // the page is loaded again
        queue = open();
      }
    }
    for (let n = 0; n < 200 && queue.now().waiting.length > 0; n += 1) await queue.flush();
    queue.end();
    expect(server).toEqual(written);
    expect(kept.text).toBe("[]");
  });

  it("are told where the server will not take one, and the others go on", async () => {
    const taken: string[] = [];
    const queue = new EventQueue(
      { read: () => null, write: () => undefined },
      (events) => {
        if (events.some((e) => e.id === "bad")) return Promise.reject(problem(422));
        taken.push(...events.map((e) => e.id));
        return Promise.resolve(view());
      },
      () => undefined,
    );
    queue.add([event("one"), event("bad"), event("two")]);
    await new Promise((go) => setTimeout(go, 0));
    await queue.flush();
    expect(taken).toEqual(["one", "two"]);
    expect(queue.now().refused.map((r) => r.event.id)).toEqual(["bad"]);
    queue.forget("bad");
    expect(queue.now().refused).toEqual([]);
    queue.end();
  });

  it("are read from what is no list as none", () => {
    for (const text of ["", "{", '{"a":1}', "null"]) {
      const keeping = { read: () => text, write: () => undefined };
      expect(
        new EventQueue(
          keeping,
          () => Promise.resolve(view()),
          () => undefined,
        ).now().waiting,
      ).toEqual([]);
    }
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
  const pass = { order_id: 3, pass_id: "l1.p1.run" };
  it("is an event of the pass, with its own id, and none of another's", () => {
    const end = eventOf({ ...told, kind: "end", run: "3:l1.p1.run:l1-2.2:4" }, pass, "now");
    expect(end).toEqual({ id: "m:e:7", kind: "done", at: "now", piece: "l1-2.2", needle_s: 42 });
    expect(eventOf({ ...told, kind: "end", run: "4:l1.p1.run:l1-2:1" }, pass, "now")).toBeNull();
    expect(eventOf({ ...told, kind: "stitch", run: "3:l1.p1.run:l1-2:1" }, pass, "now")).toBeNull();
  });
});
