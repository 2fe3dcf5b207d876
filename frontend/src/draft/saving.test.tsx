// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, renderHook, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type * as Api from "../api";
import { ProblemError, type QuoteView } from "../api";
import { sayTurned } from "../parts/useUnits";
import { keptOf } from "./kept";
import { usePrice } from "./price";
import { useSaving } from "./saving";
import { actionsOf, createDraftStore, documentOf, draftOf, textOf } from "./store";

const JOB = { lines: [{ id: "one", quantity: 1, goods: {}, placements: [{ id: "p" }] }] };
/** An estimate that is told from others. */
const priced = (of: number | string) => ({ of, lines: [] }) as never;
const view = (revision: number, more: Partial<QuoteView> = {}) =>
  ({ id: 7, state: "draft", revision, customer: "", email: "", due_on: "", valid_until: "", notes: "",
    currency: "GBP", job: JOB, estimate: priced(revision), problems: [], lacks: [], ...more,
  }) as unknown as QuoteView; // prettier-ignore
const refusal = (status: number) =>
  new ProblemError({ status, title: "", detail: "no", remedy: "", errors: [] } as never);
const offline = () => refusal(0);

function opened(sending?: string, apart?: string) {
  const quote = view(1);
  const store = createDraftStore(draftOf(quote));
  const actions = actionsOf(store);
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const start = { quote, revision: 1, saved: draftOf(quote), sending, apart };
  const hook = renderHook(
    ({ wanted }) => {
      const saving = useSaving(store, start, wanted);
      const { whole: price, newest } = usePrice(quote, saving, wanted);
      return { saving, price, newest };
    },
    {
      initialProps: { wanted: { line: 0, working: false } },
      wrapper: ({ children }) => (
        <QueryClientProvider client={queries}>{children}</QueryClientProvider>
      ),
    },
  );
  const type = (quantity: number) =>
    act(() =>
      actions.line("quantity", (line) => {
        line.quantity = quantity;
      }),
    );
  const state = () => hook.result.current.saving.state;
  return { hook, store, type, state };
}

const { save, quote } = vi.hoisted(() => ({
  save: vi.fn<typeof Api.saveQuote>(),
  quote: vi.fn<() => Promise<QuoteView>>(),
}));
vi.mock("../api", async (real) => ({ ...(await real<typeof Api>()), saveQuote: save, get: quote }));
const sent = () =>
  save.mock.calls.map(([, document, revision]) => [
    (document.job as unknown as typeof JOB).lines[0]?.quantity,
    revision,
  ]);

/** The server keeps what it is sent; what else could be done comes right after the price. */
const keeps = (answer: (revision: number) => QuoteView | Promise<QuoteView>) =>
  save.mockImplementation(async (_, __, revision, ___, whole) => {
    const found = await answer(revision + 1);
    whole(found, true);
    return found;
  });
/** What the server says to one save after another. */
const says = (...answers: (QuoteView | ProblemError)[]) => {
  const left = [...answers];
  keeps(() => {
    const next = left.shift();
    if (next instanceof ProblemError) throw next;
    return next ?? view(-1);
  });
};

beforeEach(() => {
  save.mockReset();
  quote.mockReset();
});
afterEach(cleanup);

describe("saving", () => {
  it("sends one write after the other, the last typed last, each upon the one before", async () => {
    const release: (() => void)[] = [];
    keeps((revision) => new Promise((done) => release.push(() => done(view(revision)))));
    const { type, state } = opened();
    type(2);
    await waitFor(() => expect(save).toHaveBeenCalledTimes(1));
    type(3);
    type(4);
    await new Promise((done) => setTimeout(done, 150));
    expect(save).toHaveBeenCalledTimes(1); // nothing overtakes a write on its way
    act(() => release[0]?.());
    await waitFor(() => expect(save).toHaveBeenCalledTimes(2));
    act(() => release[1]?.());
    await waitFor(() => expect(state()).toBe("saved"));
    expect(sent()).toEqual([[2, 1], [4, 2]]); // prettier-ignore
  });

  it("prices by the save's own answer: a change asks once", async () => {
    keeps((revision) => view(revision));
    const { hook, type, state } = opened();
    type(5);
    await waitFor(() => expect(state()).toBe("saved"));
    expect(hook.result.current.price.estimate).toEqual(priced(2));
    expect([save.mock.calls.length, quote.mock.calls.length]).toEqual([1, 0]);
  });

  it("shows the new price before what else could be done is known, and then both", async () => {
    let tell: Parameters<typeof Api.saveQuote>[4] = () => undefined;
    save.mockImplementation(async (_, __, ___, ____, whole) => {
      tell = whole;
      return view(2, { estimate: priced("price") });
    });
    const { hook, type, state } = opened();
    type(5);
    await waitFor(() => expect(state()).toBe("saved"));
    const { price, newest } = hook.result.current;
    expect([price.estimate, newest.estimate]).toEqual([priced(1), priced("price")]);
    act(() => tell(view(2, { estimate: priced("both") }), true));
    expect(hook.result.current.price.estimate).toEqual(priced("both"));
    expect(hook.result.current.newest).toBe(hook.result.current.price);
    expect(quote).not.toHaveBeenCalled();
  });

  it("sends nothing of a draft that began from another document until one is chosen", async () => {
    keeps((revision) => view(revision));
    const { hook, type } = opened(undefined, "another document");
    type(9);
    await new Promise((done) => setTimeout(done, 150));
    expect([save.mock.calls.length, hook.result.current.saving.state]).toEqual([0, "stale"]);
    expect((await keptOf(7))?.base).toBe("another document"); // it is asked again when reopened
    act(() => hook.result.current.saving.keepMine());
    await waitFor(() => expect(hook.result.current.saving.state).toBe("saved"));
    expect(sent()).toEqual([[9, 1]]);
    await waitFor(async () => expect((await keptOf(7))?.base).not.toBe("another document"));
  });

  it("shows both where a backup was gone back to while the page was open", async () => {
    const there = view(1, { job: { ...JOB, lines: [{ ...JOB.lines[0], quantity: 9 }] } as never });
    says(
      view(2),
      new ProblemError({ status: 409, code: "another-shop", detail: "", remedy: "" } as never),
      view(2),
    );
    quote.mockResolvedValue(there);
    const { hook, type, state } = opened();
    type(9);
    await waitFor(() => expect(state()).toBe("saved"));
    type(10);
    await waitFor(() => expect(hook.result.current.saving.theirs).toBe(there));
    expect(save).toHaveBeenCalledTimes(2); // though this browser did send what is there, once
  });

  it("asks for what else could be done where the answer breaks off after the price", async () => {
    quote.mockResolvedValue(view(2, { estimate: priced("asked") }));
    save.mockImplementation(async (_, __, ___, ____, whole) => {
      whole(view(2), false);
      return view(2);
    });
    const { hook, type } = opened();
    type(5);
    await waitFor(() => expect(hook.result.current.price.estimate).toEqual(priced("asked")));
  });

  it("asks for the price alone when another line or a working is opened", async () => {
    quote.mockResolvedValue(view(1, { estimate: priced("worked") }));
    const { hook } = opened();
    hook.rerender({ wanted: { line: 0, working: true } });
    await waitFor(() => expect(hook.result.current.price.estimate).toEqual(priced("worked")));
    expect(save).not.toHaveBeenCalled();
  });

  it("asks for the price again when its words turn to other units", async () => {
    quote.mockResolvedValue(view(1, { estimate: priced("inches") }));
    const { hook } = opened();
    expect(hook.result.current.price.estimate).toEqual(priced(1));
    act(sayTurned);
    await waitFor(() => expect(hook.result.current.price.estimate).toEqual(priced("inches")));
  });

  it("does not take an answer in the old units that was on its way as they turned", async () => {
    const release: (() => void)[] = [];
    keeps(() => new Promise((done) => release.push(() => done(view(2)))));
    quote.mockResolvedValue(view(2, { estimate: priced("inches") }));
    const { hook, type } = opened();
    type(2);
    await waitFor(() => expect(save).toHaveBeenCalledTimes(1));
    act(sayTurned);
    act(() => release[0]?.());
    await waitFor(() => expect(hook.result.current.price.estimate).toEqual(priced("inches")));
  });

  it("keeps the last good price while something typed is wrong, and says where", async () => {
    const problem = { where: "lines[0].quantity", detail: "must be a number" };
    keeps(() => view(2, { estimate: null, problems: [problem] as never }));
    const { hook, type, state } = opened();
    type(-1);
    await waitFor(() => expect(state()).toBe("saved"));
    const { price } = hook.result.current;
    expect([price.estimate, price.at("lines[0].quantity")]).toEqual([priced(1), problem]);
  });

  it("holds what the server could not be reached with, and sends it when it answers", async () => {
    says(offline(), view(2));
    const { type, state } = opened();
    type(9);
    await waitFor(() => expect(state()).toBe("unsent"));
    await waitFor(async () => expect((await keptOf(7))?.unsent).toBe(true));
    expect((await keptOf(7))?.draft.job.lines[0]?.quantity).toBe(9);
    await waitFor(() => expect(state()).toBe("saved"), { timeout: 5000 });
    expect(sent()).toEqual([[9, 1], [9, 1]]); // prettier-ignore
  }, 10_000);

  it("never writes over another's later save, but takes theirs or keeps mine when told", async () => {
    const theirs = view(5, { customer: "Theirs" });
    says(refusal(412), view(6));
    quote.mockResolvedValue(theirs);
    const { hook, store, type, state } = opened();
    type(3);
    await waitFor(() => expect(hook.result.current.saving.theirs).toBe(theirs));
    expect(state()).toBe("stale");
    type(4);
    await new Promise((done) => setTimeout(done, 150));
    expect(save).toHaveBeenCalledTimes(1);
    act(() => hook.result.current.saving.keepMine());
    await waitFor(() => expect(state()).toBe("saved"));
    expect(sent().at(-1)).toEqual([4, 5]);
    expect(documentOf(store.getState()).customer).toBe("");
  });

  it("knows its own write again that arrived after the page was left", async () => {
    const arrived = view(2, { job: { lines: [{ ...JOB.lines[0], quantity: 7 }] } as never });
    says(refusal(412), view(3));
    quote.mockResolvedValue(arrived);
    const { hook, type, state } = opened(textOf(draftOf(arrived)));
    type(77);
    await waitFor(() => expect(save).toHaveBeenCalledTimes(2));
    await waitFor(() => expect(state()).toBe("saved"));
    expect(hook.result.current.saving.theirs).toBeNull();
    expect(sent()).toEqual([[77, 1], [77, 2]]); // prettier-ignore
  });

  it("takes its own write for its own when only the answer was lost", async () => {
    const arrived = view(2, { job: { lines: [{ ...JOB.lines[0], quantity: 7 }] } as never });
    says(offline(), refusal(412));
    quote.mockResolvedValue(arrived);
    const { hook, type, state } = opened();
    type(7);
    await waitFor(() => expect(save).toHaveBeenCalledTimes(2), { timeout: 5000 });
    await waitFor(() => expect(state()).toBe("saved"));
    expect([hook.result.current.saving.revision, hook.result.current.price.estimate]).toEqual([
      2,
      priced(2),
    ]);
  }, 10_000);

  it("shows theirs as the draft when it is taken, which can be undone", async () => {
    says(refusal(412));
    quote.mockResolvedValue(view(5, { customer: "Theirs" }));
    const { hook, store, type, state } = opened();
    type(3);
    await waitFor(() => expect(hook.result.current.saving.theirs).not.toBeNull());
    act(() => hook.result.current.saving.takeTheirs());
    await waitFor(() => expect(state()).toBe("saved"));
    expect([store.getState().head.customer, hook.result.current.saving.revision]).toEqual([
      "Theirs",
      5,
    ]);
    expect(store.temporal.getState().pastStates.length).toBeGreaterThan(1);
  });

  it("says what the server refuses and waits for another change", async () => {
    says(refusal(422), view(2));
    const { type, state } = opened();
    type(3);
    await waitFor(() => expect(state()).toBe("refused"));
    await new Promise((done) => setTimeout(done, 150));
    expect(save).toHaveBeenCalledTimes(1);
    type(4);
    await waitFor(() => expect(state()).toBe("saved"));
  });

  it("flushes at once what is not yet saved", async () => {
    keeps((revision) => view(revision));
    const { hook, type } = opened();
    type(2);
    await expect(act(() => hook.result.current.saving.flush())).resolves.toBe(2);
    await expect(act(() => hook.result.current.saving.flush())).resolves.toBe(2);
    expect(save).toHaveBeenCalledTimes(1);
  });

  it("saves once for all who wait for it: none is told a revision that another leaves behind", async () => {
    const release: (() => void)[] = [];
    keeps((revision) => new Promise((done) => release.push(() => done(view(revision)))));
    const { hook, type } = opened();
    type(2);
    await waitFor(() => expect(save).toHaveBeenCalledTimes(1));
    type(3);
    const { flush } = hook.result.current.saving;
    const waiting = [flush(), flush()];
    act(() => release[0]?.());
    await waitFor(() => expect(save).toHaveBeenCalledTimes(2));
    act(() => release[1]?.());
    await expect(Promise.all(waiting)).resolves.toEqual([3, 3]);
    await new Promise((done) => setTimeout(done, 150));
    expect(save).toHaveBeenCalledTimes(2);
  });

  it("says what stood in the way to who waits for a save", async () => {
    says(refusal(422), refusal(422));
    const { hook, store } = opened();
    actionsOf(store).head({ notes: "x" });
    await expect(hook.result.current.saving.flush()).rejects.toThrow();
  });

  it("closes the choice only when it is kept here: a page left at once does not ask again", async () => {
    says(refusal(412));
    quote.mockResolvedValue(view(5, { customer: "Theirs" }));
    const { hook, type } = opened();
    type(3);
    await waitFor(() => expect(hook.result.current.saving.theirs).not.toBeNull());
    act(() => hook.result.current.saving.takeTheirs());
    expect(hook.result.current.saving.theirs).not.toBeNull();
    await waitFor(() => expect(hook.result.current.saving.theirs).toBeNull());
    expect((await keptOf(7))?.draft.head.customer).toBe("Theirs");
  });
});
