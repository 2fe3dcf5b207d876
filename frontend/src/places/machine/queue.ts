// What happens at the machine, kept in this browser until the server has it: in order, once each.
import { isOffline, post, problemOf, type PassView, type RunEvent } from "../../api";
import { wordsOf } from "../../parts/Told";
import { bringOld, keepingOf, type Kept, type Keeping } from "./kept";

const AGAIN_MS = 2000;
const MOST_AT_ONCE = 200;
const ELSEWHERE = "another-shop"; // another shop is served here just now: they wait for theirs
const BEFORE = "It was pressed before a backup was gone back to.";

interface Told {
  /** The pass as the server answered last: what waits no more is in it. */
  view: PassView | null;
  /** What waits for the server, oldest first. */
  waiting: RunEvent[];
  /** What the server would not take, and why; kept until somebody says what becomes of it. */
  refused: { event: RunEvent; why: string }[];
  /** Whether something waits in this page alone: the browser has no room for it. */
  unkept: boolean;
  /** Whether another shop is served here than these are of. */
  elsewhere: boolean;
}

export interface Sending {
  events: RunEvent[];
  version: number | undefined;
  /** Although the order was cancelled or revised since. */
  anyway: boolean;
}

type Send = (sending: Sending) => Promise<PassView>;

/** Events of one pass on their way to the server. */
export class EventQueue {
  told: Told = { view: null, waiting: [], refused: [], unkept: false, elsewhere: false };
  private sending = false;
  private timer = 0;
  private listeners = new Set<() => void>();
  private over = false;
  private view: PassView | null = null;
  private elsewhere = false;
  private alone: Kept[] = []; // for which the browser had no room
  private shop: string;
  private keeping: Keeping;
  private send: Send;
  private onView: (view: PassView) => void;
  private unhear: () => void;

  constructor(shop: string, keeping: Keeping, send: Send, onView: (view: PassView) => void) {
    this.shop = shop;
    this.keeping = keeping;
    this.send = send;
    this.onView = onView;
    this.unhear = keeping.listen(() => this.look());
    this.look();
  }

  listen = (tell: () => void) => {
    this.listeners.add(tell);
    return () => void this.listeners.delete(tell);
  };

  now = () => this.told;

  /** Write events down; they are sent as soon as they can be. */
  add(events: RunEvent[], version?: number) {
    const there = new Set(this.all().map((k) => k.event.id));
    const fresh = events.filter((e) => !there.has(e.id));
    if (fresh.length === 0) return;
    for (const event of fresh)
      this.keep({
        event,
        n: nextPlace(),
        shop: this.shop,
        ...(version === undefined ? {} : { version }),
      });
    this.look();
    void this.flush();
  }

  /** What the server answered, to this tab or another: shown at once with what waits then. */
  see(view: PassView) {
    this.view = newer(this.view, view);
    this.look();
  }

  /** Take back what waits still; false where the server has it already, or may have it. */
  drop(id: string): boolean {
    const found = this.waiting().find((k) => k.event.id === id);
    if (!found || this.sending || this.keeping.sending().includes(id)) return false;
    this.leave(found);
    this.look();
    return true;
  }

  /** Leave out what was refused. */
  forget(id: string) {
    const found = this.all().find((k) => k.event.id === id);
    if (found) this.leave(found);
    this.look();
  }

  /** Write what was refused all the same, in the shop as it is now. */
  async anyway(id: string) {
    const found = this.all().find((k) => k.event.id === id);
    if (!found) return;
    try {
      this.answered(await this.send({ events: [found.event], version: undefined, anyway: true }));
      this.leave(found);
    } catch (error) {
      const problem = problemOf(error);
      if (problem && !isOffline(error)) this.keep({ ...found, why: wordsOf(problem) });
    }
    this.look();
  }

  /** Send what waits, oldest first; one that the server will not take is set aside and told. */
  async flush() {
    const first = this.waiting().slice(0, MOST_AT_ONCE);
    if (this.sending || this.over || first.length === 0) return;
    this.sending = true;
    window.clearTimeout(this.timer);
    const version = first[0]?.version;
    const until = first.findIndex((k) => k.version !== version);
    const batch = until < 0 ? first : first.slice(0, until);
    this.keeping.send(batch.map((k) => k.event.id));
    if (!(await this.sent(batch)) && batch.length > 1)
      for (const k of batch) if (!this.away) await this.sent([k]);
    this.keeping.send([]);
    this.sending = false;
    this.look();
    if (this.told.waiting.length > 0 && !this.over)
      this.timer = window.setTimeout(() => void this.flush(), this.away ? AGAIN_MS : 0);
  }

  end() {
    this.over = true;
    window.clearTimeout(this.timer);
    this.unhear();
  }

  private away = false;

  /** Send some; false where the server answered that it will not take them so. */
  private async sent(batch: Kept[]): Promise<boolean> {
    try {
      const events = batch.map((k) => k.event);
      this.answered(await this.send({ events, version: batch[0]?.version, anyway: false }));
      batch.forEach((k) => this.leave(k));
      this.away = this.elsewhere = false;
      return true;
    } catch (error) {
      const problem = problemOf(error);
      this.away = !problem || isOffline(error) || problem.status >= 500;
      this.elsewhere = !this.away && problem?.code === ELSEWHERE;
      if (this.away || this.elsewhere) {
        this.away = true;
        return true; // asked again later
      }
      const [only, ...more] = batch;
      if (only && problem && more.length === 0) this.keep({ ...only, why: wordsOf(problem) });
      return false;
    } finally {
      this.look();
    }
  }

  /** What was sent stands in the view from now on, before it is taken out of what waits. */
  private answered(view: PassView) {
    this.view = newer(this.view, view);
    this.onView(view);
  }

  private keep(k: Kept) {
    this.alone = this.alone.filter((each) => each.event.id !== k.event.id);
    if (!this.keeping.put(k)) this.alone.push(k);
  }

  private leave(k: Kept) {
    this.alone = this.alone.filter((each) => each.event.id !== k.event.id);
    this.keeping.drop(k);
  }

  private all = () => {
    const there = this.keeping.list();
    const ids = new Set(there.map((k) => k.event.id));
    return [...there, ...this.alone.filter((k) => !ids.has(k.event.id))].sort((a, b) => a.n - b.n);
  };

  private waiting = () => this.all().filter((k) => k.why === undefined && k.shop === this.shop);

  private look() {
    const all = this.all();
    const refused = all.filter((k) => k.why !== undefined || k.shop !== this.shop);
    this.told = {
      view: this.view,
      waiting: this.waiting().map((k) => k.event),
      refused: refused.map((k) => ({ event: k.event, why: k.why ?? BEFORE })),
      unkept: this.alone.length > 0,
      elsewhere: this.elsewhere,
    };
    this.listeners.forEach((tell) => tell());
  }
}

/** The newer of two views of a pass: events are only added to. */
export const newer = (a: PassView | null | undefined, b: PassView) =>
  a && a.version === b.version && a.events > b.events ? a : b;

let place = 0;

/** A number that is higher than all before, in this tab and, as clocks go, in every other. */
function nextPlace(): number {
  place = Math.max(place + 0.001, Date.now());
  return place;
}

export const queueOf = (
  shop: string,
  order: number,
  pass: string,
  onView: (view: PassView) => void,
) => {
  bringOld(shop, order, pass);
  return new EventQueue(
    shop,
    keepingOf(shop, order, pass),
    ({ events, version, anyway }) =>
      post("/orders/{order_id}/passes/{pass_id}/events", {
        path: { order_id: order, pass_id: pass },
        body: { events, anyway, ...(version === undefined ? {} : { version }) },
        shop,
      }),
    onView,
  );
};

let counted = 0;

/** An id that no other event has: this browser's, this moment's, this one's. */
export function eventId(): string {
  counted += 1;
  const random = Math.random().toString(36).slice(2, 10).padEnd(8, "0");
  return `b:${Date.now().toString(36)}:${random}:${counted}`;
}

/** A view with what waits laid over it: the page goes on with the server away. */
export function withWaiting(view: PassView, waiting: RunEvent[]): PassView {
  const gone = new Set(waiting.filter((e) => e.kind === "undo").map((e) => e.of));
  let now = view;
  for (const event of waiting) {
    if (event.kind === "undo") now = without(now, event.of ?? "");
    else if (!gone.has(event.id)) now = over(now, event);
  }
  const last = [...waiting].reverse().find((e) => e.kind !== "undo" && !gone.has(e.id));
  return last
    ? { ...now, last: { id: last.id, kind: last.kind, piece: last.piece ?? "", at: last.at } }
    : now;
}

/** A view without its last event, where that is what is taken back. */
function without(view: PassView, of: string): PassView {
  const last = view.last;
  if (!last || last.id !== of) return view;
  const back = { ...view, last: null };
  if (last.kind === "broke") return { ...back, breaks: view.breaks - 1 };
  if (last.kind === "bobbin") return { ...back, bobbins: view.bobbins - 1 };
  if (last.kind === "paused") return { ...back, paused: null };
  const pieces = view.pieces.map((p) =>
    p.id === last.piece ? { ...p, state: "waiting" as const, reason: "" } : p,
  );
  return { ...back, pieces };
}

function over(view: PassView, event: RunEvent): PassView {
  const state = (to: PassView["pieces"][number]["state"]) => ({
    ...view,
    pieces: view.pieces.map((p) =>
      p.id === event.piece ? { ...p, state: to, reason: event.reason ?? p.reason } : p,
    ),
  });
  switch (event.kind) {
    case "done":
      return state("done");
    case "spoiled":
      return state("spoiled");
    case "mended":
      return state("mended");
    case "begun": // of a piece that came off already it says nothing
      return view.pieces.some((p) => p.id === event.piece && p.state === "waiting")
        ? state("sewing")
        : view;
    case "broke":
      return { ...view, breaks: view.breaks + 1 };
    case "bobbin":
      return { ...view, bobbins: view.bobbins + 1 };
    case "paused":
      return { ...view, paused: event.reason ?? "" };
    case "on":
      return { ...view, paused: null };
    case "prepare":
      return { ...view, preparing: true };
    case "prepared":
      return { ...view, preparing: false };
    case "finish":
      return { ...view, finishing: true };
    case "finished":
      return { ...view, finishing: false };
    case "note":
      return { ...view, notes: [...view.notes, event.text ?? ""] };
    default:
      return view;
  }
}
