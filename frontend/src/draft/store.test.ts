import { describe, expect, it } from "vitest";
import { type Advice, type QuoteView } from "../api";
import { jobOf, newLine, type DraftJob } from "./job";
import {
  actionsOf,
  canTakeOut,
  createDraftStore,
  documentOf,
  draftOf,
  openIn,
  PAUSE_MS,
  textOf,
  type Draft,
  type History,
} from "./store";

const HEAD = { customer: "", email: "", due_on: "", valid_until: "", notes: "",
  promised_on: "", goes_before: 0, express: false, first_part: 0 }; // prettier-ignore
const JOB = {
  format: "clothyard-job/1",
  lines: [
    { id: "shirts", quantity: 24, goods: { class: "t-shirt", unit_cost: "3.10" },
      placements: [{ id: "chest", design: { stitches: 8200 } }, { id: "nape", design: { text: "OAK" } }] },
    { id: "caps", quantity: 6, goods: { class: "cap-structured" }, placements: [{ id: "front", design: {} }] },
  ],
  overruled: [
    { code: "letters-low", where: "chest", line: "shirts", reason: "seen" },
    { code: "cap-seam", where: "front", line: "caps", reason: "agreed" },
  ],
}; // prettier-ignore

function begun(history?: History) {
  const clock = { ms: 0 };
  const start: Draft = { head: HEAD, job: jobOf(structuredClone(JOB), "GBP") };
  const store = createDraftStore(start, history, () => clock.ms);
  const undo = () => store.temporal.getState().undo();
  const redo = () => store.temporal.getState().redo();
  const quantity = () => openIn(store.getState()).line.quantity;
  return { store, clock, undo, redo, quantity, actions: actionsOf(store) };
}
const typed = (quantity: string) => (line: { quantity?: unknown }) => {
  line.quantity = quantity;
};

describe("undo", () => {
  it("takes back what was typed at one place until a pause, not a letter", () => {
    const { clock, actions, undo, redo, quantity } = begun();
    for (const letters of ["1", "12", "120"]) {
      clock.ms += PAUSE_MS - 1;
      actions.line("quantity", typed(letters));
    }
    clock.ms += PAUSE_MS + 1;
    actions.line("quantity", typed("12"));
    expect(quantity()).toBe("12");
    undo();
    expect(quantity()).toBe("120");
    undo();
    expect(quantity()).toBe(24);
    redo();
    expect(quantity()).toBe("120");
  });

  it("keeps two places apart however fast they are typed at", () => {
    const { store, actions, undo, quantity } = begun();
    actions.line("quantity", typed("30"));
    actions.head({ customer: "Ash Lane Club" });
    undo();
    expect([store.getState().head.customer, quantity()]).toEqual(["", "30"]);
    actions.lineById("caps", "quantity", typed("7"));
    actions.line("quantity", typed("31"));
    undo();
    expect(store.getState().job.lines.map((line) => line.quantity)).toEqual(["30", "7"]);
  });

  it("begins where another page left off", () => {
    const first = begun();
    first.actions.line("quantity", typed("48"));
    const past = first.store.temporal.getState().pastStates as Draft[];
    const again = begun({ past: structuredClone(past), future: [] });
    again.undo();
    expect(again.quantity()).toBe(24);
  });

  it("leaves a change that changes nothing out", () => {
    const { store, actions } = begun();
    actions.line("quantity", () => undefined);
    expect(store.temporal.getState().pastStates).toHaveLength(0);
  });
});

describe("the open line and place", () => {
  it("stays with its id, and falls to a neighbour when it goes", () => {
    const { store, actions } = begun();
    store.getState().go({ line: "caps" });
    expect(openIn(store.getState())).toMatchObject({ lineAt: 1, placeAt: 0 });
    actions.addLine(openIn(store.getState()).line);
    const copied = openIn(store.getState());
    expect([copied.lineAt, copied.line.goods.class]).toEqual([2, "cap-structured"]);
    expect(copied.line.id).not.toBe("caps");
    expect(copied.placement.id).not.toBe("front");
    actions.removeLine();
    expect(openIn(store.getState()).line.id).toBe("caps");
    expect(openIn({ job: { lines: [newLine()] }, lineId: "gone", placeId: "" }).lineAt).toBe(0);
  });
});

describe("removing", () => {
  const reasons = (job: DraftJob) => job.overruled?.map((o) => [o.line, o.where]);

  it("a line takes its own reasons along and leaves the others where they were", () => {
    const { store, actions } = begun();
    actions.removeLine();
    expect(reasons(store.getState().job)).toEqual([["caps", "front"]]);
    store.temporal.getState().undo();
    expect(reasons(store.getState().job)).toHaveLength(2);
  });

  it("a place takes its own", () => {
    const { store, actions } = begun();
    actions.removePlacement();
    expect(store.getState().job.lines[0]?.placements.map((p) => p.id)).toEqual(["nape"]);
    expect(reasons(store.getState().job)).toEqual([["caps", "front"]]);
  });
});

describe("advice", () => {
  const advice = { code: "cap-high", where: "placements[0].place", of: "front" } as Advice;

  it("is overruled at its place by id, and again taken up", () => {
    const { store, actions } = begun();
    actions.overrule(advice, "caps", "the crown is steamed");
    const said = () => store.getState().job.overruled?.filter((o) => o.code === "cap-high");
    expect(said()).toEqual([
      { code: "cap-high", line: "caps", where: "front", reason: "the crown is steamed" },
    ]);
    actions.overrule(advice, "caps", "");
    expect(said()).toEqual([]);
  });

  it("is followed by its patch, in one step of undo", () => {
    const { store, actions, undo } = begun();
    actions.fix([{ op: "add", path: "/lines/0/placements/0/methods", value: { backing: "cut" } }]);
    const methods = () => store.getState().job.lines[0]?.placements[0]?.methods;
    expect(methods()).toEqual({ backing: "cut" });
    undo();
    expect(methods()).toBeUndefined();
  });

  it("takes a refused value out, but never one of a list", () => {
    const { store, actions } = begun();
    expect(canTakeOut(store.getState().job, "lines[0]")).toBe(false);
    expect(actions.takeOut("lines[0].goods.unit_cost")).toBe(true);
    expect(store.getState().job.lines[0]?.goods).toEqual({ class: "t-shirt" });
    expect(actions.takeOut("lines[0].goods.unit_cost")).toBe(false);
  });
});

describe("what is saved", () => {
  const quote = { ...HEAD, job: JOB, currency: "GBP" } as unknown as QuoteView;

  it("is the server's own document with what is blank left out, names kept", () => {
    const { store, actions } = begun();
    actions.line("goods.unit_cost", (line) => {
      line.goods.unit_cost = "";
      line.names = ["Ada", "", "Bo"];
      line.cells = [
        { id: "c1", size: "M", quantity: "12" },
        { id: "c2", size: "L", quantity: "" },
      ];
    });
    const { lines } = documentOf(store.getState()).job as unknown as DraftJob;
    expect(lines[0]).toMatchObject({ goods: { class: "t-shirt" }, names: ["Ada", "", "Bo"] });
    expect(lines[0]?.goods).not.toHaveProperty("unit_cost");
    expect(lines[0]?.cells).toEqual([{ id: "c1", size: "M", quantity: "12" }]);
  });

  it("is the same text in whatever order its keys came", () => {
    const { lines, overruled } = JOB;
    const turned = { ...quote, job: { overruled, lines, format: JOB.format } } as typeof quote;
    expect(textOf(draftOf(turned))).toBe(textOf(draftOf(quote)));
  });

  it("has a line and a place whatever was kept", () => {
    for (const kept of [null, [], {}, { lines: "no" }, { lines: [{ placements: [7] }] }])
      expect(jobOf(kept, "EUR")).toMatchObject({
        currency: "EUR",
        lines: [{ goods: {}, placements: [{ design: {} }] }],
      });
  });
});
