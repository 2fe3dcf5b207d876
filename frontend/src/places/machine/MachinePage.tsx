// At the machine: one piece, one name, the next stop; what happens is pressed, or reported.
import { GoesIn } from "../../parts/GoesIn";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef, useState, useSyncExternalStore } from "react";
import { Link, useParams } from "react-router";
import {
  get,
  isOffline,
  keys,
  problemOf,
  shopNow,
  useRenew,
  type PassView,
  type RunEvent,
} from "../../api";
import { useReached } from "../../parts/connection";
import { capital, clock, counted, day, number } from "../../parts/format";
import { Loading } from "../../parts/Loading";
import { Told } from "../../parts/Told";
import { usePageTitle } from "../../parts/usePageTitle";
import { keepView, letOldViewsGo, onView, viewKept } from "./kept";
import { MachinePanel } from "./MachinePanel";
import { MoreDialog } from "./MoreDialog";
import { eventId, newer, queueOf, withWaiting } from "./queue";
import { SewnPath } from "./SewnPath";
import { ThreadedDialog } from "./ThreadedDialog";
import { SpoiledDialog, TroubleDialog } from "./Trouble";
import { useFaults } from "../../parts/useFaults";
import { keepSound, beep, soundOn } from "./sound";
import { inLoading, useMachine } from "./useMachine";
import style from "./Machine.module.scss";

const LOOK_MS = 4000; // another tablet's presses are seen within this

/** Let a reload open this page with the server away, where the browser can (here, or over https). */
function keepPage() {
  letOldViewsGo();
  if (!("serviceWorker" in navigator)) return;
  void navigator.serviceWorker
    .register("/machine-worker.js", { scope: "/orders/" })
    .then(() => navigator.serviceWorker.ready)
    .then(({ active }) => {
      // what this page is made of came before the worker was there to keep it
      const loaded = performance.getEntriesByType("resource").map((entry) => entry.name);
      active?.postMessage({ keep: [...loaded, location.href] });
    })
    .catch(() => undefined);
}

/** A pass as the server has it; with the server away as it was last seen here. */
async function passNow(order: number, pass: string): Promise<PassView> {
  try {
    const view = await get("/orders/{order_id}/passes/{pass_id}", {
      path: { order_id: order, pass_id: pass },
    });
    keepView(shopNow(), view);
    return view;
  } catch (error) {
    const seen = isOffline(error) ? viewKept(shopNow(), order, pass) : null;
    if (seen) return seen.view;
    throw error;
  }
}

export function MachinePage() {
  useEffect(keepPage, []);
  const order = Number(useParams()["id"]);
  const pass = useParams()["pass"] ?? "";
  const queries = useQueryClient();
  const found = useQuery({
    queryKey: keys.pass(order, pass),
    queryFn: async () => {
      const view = await passNow(order, pass);
      return newer(queries.getQueryData<PassView>(keys.pass(order, pass)), view);
    },
    staleTime: 0,
    refetchInterval: LOOK_MS,
  });
  if (problemOf(found.error) && !found.data)
    return (
      <main className="standards">
        <h1 tabIndex={-1}>At the machine</h1>
        <Told of={found.error} page>
          <Link to={`/orders/${order}`}>The order</Link>
        </Told>
      </main>
    );
  if (!found.data)
    return (
      <main className="standards">
        <Loading what="The pass" />
      </main>
    );
  return <AtMachine key={`${order} ${pass}`} kept={found.data} />;
}

/** The pass as it is, with what waits for the server laid over it; and how to write more. */
function usePass(kept: PassView) {
  const { order_id: order, pass_id: pass } = kept;
  const queries = useQueryClient();
  const renew = useRenew("pieces");
  const [shop] = useState(shopNow); // presses are of the shop that the page was opened on
  const show = useCallback(
    (view: PassView) =>
      queries.setQueryData<PassView>(keys.pass(order, pass), (now) => newer(now, view)),
    [order, pass, queries],
  );
  const queue = useMemo(
    () =>
      queueOf(shop, order, pass, (view) => {
        keepView(shop, view);
        show(view);
        void renew();
      }),
    [shop, order, pass, show, renew],
  );
  const told = useSyncExternalStore(queue.listen, queue.now);
  useEffect(
    () =>
      onView(shop, order, pass, (view) => {
        queue.see(view); // before what it holds is taken out of what waits
        show(view);
      }),
    [shop, order, pass, show, queue],
  );
  useEffect(() => {
    const again = () => void queue.flush();
    again();
    window.addEventListener("online", again);
    return () => {
      window.removeEventListener("online", again);
    };
  }, [queue]);
  const view = withWaiting(newer(told.view, kept), told.waiting);
  const [person, setPerson] = useState(() => localStorage.getItem("clothyard.person") ?? "");
  const write = useCallback(
    (events: RunEvent[]) =>
      queue.add(
        events.map((e) => (person ? { ...e, person } : e)),
        kept.version,
      ),
    [queue, person, kept.version],
  );
  return {
    view,
    told,
    seenAt: viewKept(shop, order, pass)?.at ?? "",
    write,
    person,
    choose: (name: string) => {
      localStorage.setItem("clothyard.person", name);
      setPerson(name);
    },
    press: (kind: RunEvent["kind"], more: Partial<RunEvent> = {}) =>
      write([{ id: eventId(), kind, at: new Date().toISOString(), ...more } as RunEvent]),
    back: () => {
      const at = new Date().toISOString();
      const gone = view.last ? pressedWith(view.last.id) : [];
      const left = gone.filter((of) => !queue.drop(of));
      if (left.length > 0)
        write(left.map((of) => ({ id: eventId(), kind: "undo", at, of }) as RunEvent));
    },
    forget: (id: string) => queue.forget(id),
    anyway: (id: string) => void queue.anyway(id),
  };
}

/** What was pressed in one with an event: a whole loading comes off together. */
function pressedWith(id: string): string[] {
  const [, stem, k] = /^(.*)\.(\d+)$/.exec(id) ?? [];
  if (stem === undefined) return [id];
  return Array.from({ length: Number(k) + 1 }, (_, n) => (n === 0 ? stem : `${stem}.${n}`));
}

const TOLD: Record<string, string> = {
  begun: "begun",
  done: "piece done",
  broke: "thread broke",
  bobbin: "bobbin changed",
  spoiled: "spoiled",
  mended: "mended",
  paused: "paused",
  on: "gone on",
  note: "note",
  photo: "photo",
  prepare: "preparing begun",
  prepared: "preparing ended",
  finish: "finishing begun",
  finished: "finishing ended",
  weighed: "weighed",
};

type Open = "" | "spoiled" | "mended" | "trouble" | "more" | "threaded";

function AtMachine({ kept }: { kept: PassView }) {
  const pass = usePass(kept);
  const { view, press, back } = pass;
  usePageTitle(`${view.number} at the machine`);
  const [open, setOpen] = useState<Open>("");
  const [sound, setSound] = useState(soundOn);
  const { word } = useFaults();
  const machine = useMachine(view, pass.write);
  const heard = machine.heard;
  const kind = heard?.kind ?? "";
  useEffect(() => {
    if (sound && ["break", "bobbin-out", "stop", "end"].includes(kind)) beep(kind === "end");
  }, [sound, kind, heard?.run]);
  const waiting = view.pieces.filter((p) => p.state === "waiting" || p.state === "sewing");
  const piece = view.pieces.find((p) => p.state === "sewing") ?? waiting[0];
  const size = [piece?.size, piece?.colour].filter(Boolean).join(" ");
  const done = view.pieces.filter((p) => p.state === "done" || p.state === "mended").length;
  const wanted = view.pieces.filter((p) => p.state !== "spoiled").length;
  const sewing = heard && piece && heard.run.includes(`:${piece.id}:`) ? heard : null;
  const total = view.blocks.reduce((n, b) => n + b.stitches, 0);
  const stitch = sewing ? sewing.stitch / view.in_hoop : null;
  const share = stitch !== null && total > 0 ? Math.min(1, stitch / total) : null;
  const loaded = piece ? inLoading(view.pieces, piece.id) : [];
  const sewn = () => {
    const [id, at] = [eventId(), new Date().toISOString()];
    pass.write(
      loaded.map(
        (each, k) =>
          ({ id: k === 0 ? id : `${id}.${k}`, kind: "done", at, piece: each.id }) as RunEvent,
      ),
    );
  };
  const held = view.held !== "";
  const notices = useRef<HTMLDivElement>(null);
  const high = useRoom(notices);
  useKeys(open === "", {
    d: () => !held && piece && sewn(),
    b: () => press("broke", piece ? { piece: piece.id } : {}),
    o: () => press("bobbin"),
    s: () => piece && setOpen("spoiled"),
    u: back,
    t: () => setOpen("trouble"),
    m: () => setOpen("more"),
  });
  return (
    <main className={style["mc-page"]} aria-label="At the machine">
      <header className={style["mc-head"]}>
        <h1 tabIndex={-1}>
          {view.number}, {view.label}
        </h1>
        <span className="hint">
          {view.customer}
          {view.promised_on && `, promised ${day(view.promised_on)}`}; {view.machine_label}
        </span>
        <span className={style["mc-links"]}>
          <Link to={`/orders/${view.order_id}/run-sheet?pass=${view.pass_id}`}>Run sheet</Link>
          <Link to={`/orders/${view.order_id}`}>The order</Link>
        </span>
      </header>
      {held && (
        <p role="alert" className={style["mc-held"]}>
          {view.held} <Link to={`/orders/${view.order_id}`}>To the order</Link>
        </p>
      )}
      {view.again && (
        <p role="status" className={style["mc-held"]}>
          {view.again}
        </p>
      )}
      <div ref={notices} data-says-away>
        <Waiting pass={pass} word={word} />
      </div>
      <div className={style["mc-columns"]}>
        <section aria-label="The piece" className={style["mc-piece"]}>
          {piece ? (
            <>
              <p className={style["mc-count"]}>
                {view.together > 1 ? (
                  loadingWords(view, piece)
                ) : (
                  <>
                    Piece {done + 1} of {wanted}
                    {piece.name && size && `, ${size}`}
                  </>
                )}
              </p>
              <p className={style["mc-name"]}>
                {[...new Set(loaded.map((p) => p.name))].filter(Boolean).join(", ") ||
                  size ||
                  view.sheet.place}
              </p>
              {view.sheet.marks.slice(0, 1).map((mark) => (
                <p key={mark.words} className={style["mc-mark"]}>
                  {mark.words}
                </p>
              ))}
              <details className={style["mc-how"]}>
                <summary>{view.sheet.way || "How it is held"}</summary>
                {view.sheet.way_in && <GoesIn way={view.sheet.way_in} />}
                <p>{(view.sheet.held ?? []).join(" ")}</p>
                <ol>
                  {(view.sheet.after ?? []).map((step) => (
                    <li key={step.what}>{step.what}</li>
                  ))}
                </ol>
              </details>
            </>
          ) : (
            <AllDone view={view} />
          )}
          <SewnPath
            sha256={view.sha256}
            share={share}
            threads={view.blocks.map((block) => block.colour)}
            high={high}
            label={
              share === null ? "The design" : `The design, ${Math.round(share * 100)} % of it sewn`
            }
          />
        </section>
        <div className={style["mc-side"]}>
          <NextStop view={view} stitch={stitch} done={done} />
          <OnNeedles
            view={view}
            block={sewing?.block ?? null}
            onThreaded={() => setOpen("threaded")}
          />
          <MinutesLeft
            view={view}
            share={share}
            left={new Set(waiting.map((p) => p.hooping)).size}
          />
          {view.machine_address && (
            <MachinePanel view={view} machine={machine} piece={held ? null : (piece ?? null)} />
          )}
        </div>
      </div>
      {view.paused !== null && (
        <p className={style["mc-held"]} role="status">
          Paused{view.paused && `: ${view.paused}`}.{" "}
          <button type="button" className="btn btn-outline-primary" onClick={() => press("on")}>
            Go on
          </button>
        </p>
      )}
      <p className={style["mc-last"]} role="status">
        {view.last
          ? `Last: ${TOLD[view.last.kind] ?? view.last.kind}, ${clock(view.last.at)}. `
          : "Nothing pressed yet. "}
        {counted(view.breaks, "break")}, {counted(view.bobbins, "bobbin change")},{" "}
        {number(view.pieces.filter((p) => p.state === "spoiled").length)} spoiled.
      </p>
      <nav className={style["mc-actions"]} aria-label="What happened">
        <Big
          label={view.together > 1 ? "Hooping done" : "Piece done"}
          hint="D"
          main
          disabled={!piece || held}
          onPress={sewn}
        />
        <Big
          label="Thread broke"
          hint="B"
          onPress={() => press("broke", piece ? { piece: piece.id } : {})}
        />
        <Big label="Bobbin changed" hint="O" onPress={() => press("bobbin")} />
        <Big label="Spoiled" hint="S" disabled={!piece} onPress={() => setOpen("spoiled")} />
        <Big label="Take back" hint="U" disabled={!view.last} onPress={back} />
        <Big label="Trouble" hint="T" onPress={() => setOpen("trouble")} />
        <Big label="More" hint="M" onPress={() => setOpen("more")} />
      </nav>
      {open === "trouble" && (
        <TroubleDialog
          view={view}
          onClose={() => setOpen("")}
          onSpoiled={(reason) => {
            if (piece) press("spoiled", { piece: piece.id, reason });
            setOpen("");
          }}
        />
      )}
      {(open === "spoiled" || open === "mended") && (
        <SpoiledDialog
          order={view.order_id}
          mended={open === "mended"}
          pieces={
            open === "mended"
              ? view.pieces.filter((p) => p.state === "done" || p.state === "mended")
              : piece
                ? [piece, ...view.pieces.filter((p) => p !== piece && p.state !== "spoiled")]
                : []
          }
          onClose={() => setOpen("")}
          onDone={(of, reason, photo) => {
            if (photo) press("photo", { photo, piece: of });
            press(open === "mended" ? "mended" : "spoiled", { piece: of, reason });
            setOpen("");
          }}
        />
      )}
      {open === "threaded" && <ThreadedDialog view={view} onClose={() => setOpen("")} />}
      {open === "more" && (
        <MoreDialog
          view={view}
          person={pass.person}
          onPerson={pass.choose}
          sound={sound}
          onSound={(on) => {
            keepSound(on);
            setSound(on);
          }}
          onMended={() => setOpen("mended")}
          press={press}
          onClose={() => setOpen("")}
        />
      )}
    </main>
  );
}

/** "Hooping 2 of 4, pieces 7–12". */
function loadingWords(view: PassView, piece: PassView["pieces"][number]): string {
  const numbers = view.pieces.filter((p) => p.hooping === piece.hooping).map((p) => p.n);
  const [first, last] = [Math.min(...numbers), Math.max(...numbers)];
  const of = Math.max(...view.pieces.map((p) => p.hooping));
  const which = first === last ? `piece ${first}` : `pieces ${first}–${last}`;
  return `Hooping ${piece.hooping} of ${of}, ${which}`;
}

/** How tall the drawing may be: what the window and what is told above it leave over. */
function useRoom(notices: React.RefObject<HTMLElement | null>): number {
  const [high, setHigh] = useState(() => window.innerHeight);
  useEffect(() => {
    const measure = () => setHigh(window.innerHeight - (notices.current?.offsetHeight ?? 0));
    const watched = new ResizeObserver(measure);
    if (notices.current) watched.observe(notices.current);
    window.addEventListener("resize", measure);
    return () => {
      watched.disconnect();
      window.removeEventListener("resize", measure);
    };
  }, [notices]);
  return Math.max(200, high - 440);
}

function useKeys(on: boolean, keys: Record<string, () => unknown>) {
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      const typing = (event.target as Element).closest("input, textarea, select");
      if (!on || typing || event.altKey || event.ctrlKey || event.metaKey || event.repeat) return;
      const does = keys[event.key.toLowerCase()];
      if (does) {
        event.preventDefault();
        does();
      }
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  });
}

interface BigProps {
  label: string;
  hint: string;
  main?: boolean;
  disabled?: boolean;
  onPress: () => void;
}

function Big({ label, hint, main = false, disabled = false, onPress }: BigProps) {
  return (
    <button
      type="button"
      className={`btn ${main ? "btn-primary" : "btn-outline-primary"}`}
      disabled={disabled}
      aria-keyshortcuts={hint}
      onClick={onPress}
    >
      {label} <kbd aria-hidden="true">{hint}</kbd>
    </button>
  );
}

interface WaitingProps {
  pass: Pick<ReturnType<typeof usePass>, "told" | "seenAt" | "forget" | "anyway">;
  word: (id: string) => string;
}

/** What the server has not yet, and what it would not take: that stays until somebody says. */
function Waiting({ pass, word }: WaitingProps) {
  const { told, seenAt } = pass;
  const reached = useReached();
  return (
    <>
      {(told.waiting.length > 0 || (!reached && seenAt)) && (
        <p className={style["mc-waiting"]} role="status">
          {!reached &&
            seenAt &&
            `The server is away: the pass as it stood at ${clock(seenAt)}, with what was pressed here since. `}
          {told.waiting.length > 0 && <Kept told={told} />}
        </p>
      )}
      {told.refused.map(({ event, why }) => (
        <p key={event.id} className={style["mc-held"]} role="alert">
          Not taken: {TOLD[event.kind] ?? event.kind}
          {event.reason && ` (${word(event.reason)})`}, {clock(event.at)}. {capital(why)}{" "}
          <button type="button" className="btn btn-plain" onClick={() => pass.forget(event.id)}>
            Leave it out
          </button>{" "}
          <button type="button" className="btn btn-plain" onClick={() => pass.anyway(event.id)}>
            Write it all the same
          </button>
        </p>
      ))}
    </>
  );
}

function Kept({ told }: Pick<ReturnType<typeof usePass>, "told">) {
  return (
    <>
      {counted(told.waiting.length, "event")}{" "}
      {told.unkept
        ? "in this page alone, since this browser has no room: do not close it before the server has them."
        : "kept in this browser until the server has them."}
      {told.elsewhere && " Another shop is served here now: they wait for theirs."}
    </>
  );
}

function AllDone({ view }: { view: PassView }) {
  return (
    <>
      <p className={style["mc-count"]}>All pieces of this pass are sewn.</p>
      <p className={style["mc-done"]}>
        {view.logged ? (
          <Link to="/log">It is in the log</Link>
        ) : (
          <Link
            className="btn btn-primary"
            to={`/log/new?order=${view.order_id}&pass=${encodeURIComponent(view.pass_id)}`}
          >
            Write it in the log
          </Link>
        )}
      </p>
    </>
  );
}

interface NextProps {
  view: PassView;
  stitch: number | null;
  done: number;
}

/** What is laid, trimmed or turned next, and after which piece the bobbin is changed. */
function NextStop({ view, stitch, done }: NextProps) {
  const next = view.stops.find((stop) => stop.stitch === null || stop.stitch > (stitch ?? -1));
  const thread = view.blocks.find((block) => block.stitch_from > (stitch ?? 0));
  const every = view.bobbin_every;
  const bobbinAt = every > 0 ? (Math.floor(done / every) + 1) * every : 0;
  return (
    <section aria-label="Next stop" className={style["mc-next"]}>
      <h2 className="small-caps-head">Next stop</h2>
      <p className={style["mc-stop"]}>
        {next ? (
          <>
            {capital(next.label)} <span className="hint">{next.when}</span>
          </>
        ) : (
          "none: it sews through"
        )}
      </p>
      {thread && (
        <p>
          Then {thread.name},{" "}
          {thread.needle === null ? "threaded by hand" : `needle ${thread.needle}`}, at stitch{" "}
          {number(thread.stitch_from)}.
        </p>
      )}
      {every > 0 && bobbinAt < view.pieces.length && (
        <p>
          Bobbin: change it after piece {bobbinAt}
          {bobbinAt === done + 1 && ", this one"}.
        </p>
      )}
      {every === 0 && <p>Bobbin: it ends inside a piece. Have the next one ready.</p>}
    </section>
  );
}

interface NeedlesProps {
  view: PassView;
  block: number | null;
  onThreaded: () => void;
}

/** Thread by needle, the one that sews marked; what is threaded anew first says so. */
function OnNeedles({ view, block, onThreaded }: NeedlesProps) {
  const now = block === null ? null : (view.blocks[block] ?? null);
  return (
    <section aria-label="On the needles">
      <h2 className="small-caps-head">
        On the needles{" "}
        <button type="button" className="btn btn-plain btn-sm fs-6" onClick={onThreaded}>
          others are on
        </button>
      </h2>
      <ol className={style["mc-needles"]}>
        {view.needles.map((row) => (
          <li key={row.block} aria-current={now && row.block === now.block ? "step" : undefined}>
            <span
              className={style["mc-thread"]}
              style={{ background: row.colour ?? "#8a8378" }}
              aria-hidden="true"
            />
            <b>{row.needle ?? "by hand"}</b> {row.name}
            {row.change && row.needle !== null && <em className={style["mc-anew"]}>thread it</em>}
          </li>
        ))}
      </ol>
    </section>
  );
}

interface LeftProps {
  view: PassView;
  share: number | null;
  left: number;
}

function MinutesLeft({ view, share, left }: LeftProps) {
  const piece = view.cycle_s * (1 - (share ?? 0));
  const batch = left === 0 ? 0 : piece + (left - 1) * view.cycle_s;
  return (
    <dl className={style["mc-left"]}>
      <div>
        <dt>{view.together > 1 ? "this hooping" : "this piece"}</dt>
        <dd>{left === 0 ? "–" : minutes(piece)}</dd>
      </div>
      <div>
        <dt>this batch</dt>
        <dd>{minutes(batch)}</dd>
      </div>
      <div>
        <dt>of today's work left</dt>
        <dd>{minutes(view.day_left_h * 3600)}</dd>
      </div>
    </dl>
  );
}

function minutes(seconds: number): string {
  const whole = Math.round(seconds / 60);
  if (whole < 60) return `${number(whole)} min`;
  const rest = whole % 60;
  return rest ? `${number(Math.floor(whole / 60))} h ${number(rest)} min` : `${whole / 60} h`;
}
