// The machine itself: how it stands, what of it is wrong for this pass, and its buttons.
import { useMutation } from "@tanstack/react-query";
import { post, problemOf, type MachineNow, type PassPiece, type PassView } from "../../api";
import { Told } from "../../parts/Told";
import { number } from "../../parts/format";
import type { Heard, useMachine } from "./useMachine";
import style from "./Machine.module.scss";

const WHY: Record<string, string> = {
  break: "the thread broke",
  "bobbin-out": "the bobbin is empty",
  stop: "a stop",
};

interface Props {
  view: PassView;
  machine: ReturnType<typeof useMachine>;
  piece: PassPiece | null;
}

export function MachinePanel({ view, machine, piece }: Props) {
  const { order_id: order, pass_id: pass } = view;
  const { now, heard } = machine;
  const act = useMutation({
    mutationFn: (does: () => Promise<MachineNow>) => does(),
    onSuccess: machine.keep,
  });
  const problem = problemOf(act.error);
  const state = now?.state ?? null;
  const mine = state?.sha256 === view.sha256 && (now?.wrong.length ?? 0) === 0;
  const press = (what: "go" | "stop" | "bobbin" | "clear") => () =>
    post("/orders/{order_id}/passes/{pass_id}/machine/press/{what}", {
      path: { order_id: order, pass_id: pass, what },
    });
  const button = (label: string, does: () => Promise<MachineNow>, main = false) => (
    <button
      type="button"
      className={`btn ${main ? "btn-primary" : "btn-outline-primary"}`}
      disabled={act.isPending}
      onClick={() => act.mutate(does)}
    >
      {label}
    </button>
  );
  return (
    <section aria-label="The machine" className={style["mc-machine"]}>
      <h2 className="small-caps-head">The machine</h2>
      <p role="status">
        {!now && "It is asked how it stands."}
        {now?.away && `It is away: ${now.away} It is asked again.`}
        {state && stands(state, heard)}
      </p>
      {now?.wrong.map((words) => (
        <p key={words} role="alert" className={style["mc-wrong"]}>
          {words}
        </p>
      ))}
      {view.followed && <p className="hint">{view.followed}</p>}
      <Told of={problem} />
      {state && !view.followed && (
        <p className={style["mc-buttons"]}>
          {(state.state === "idle" || state.state === "ended") && (
            <>
              {!mine &&
                button("Send it the design", () =>
                  post("/orders/{order_id}/passes/{pass_id}/machine/design", {
                    path: { order_id: order, pass_id: pass },
                  }),
                )}
              {mine &&
                piece &&
                button(
                  "Start this piece",
                  () =>
                    post("/orders/{order_id}/passes/{pass_id}/machine/start", {
                      path: { order_id: order, pass_id: pass },
                      body: { piece: piece.id, attempt: 1 },
                    }),
                  true,
                )}
              {mine && button("New bobbin in it", press("bobbin"))}
            </>
          )}
          {state.state === "sewing" && button("Stop it", press("stop"))}
          {state.state === "stopped" && (
            <>
              {button("Let it go on", press("go"), true)}
              {button("Take the piece off", press("clear"))}
            </>
          )}
        </p>
      )}
    </section>
  );
}

function stands(state: NonNullable<MachineNow["state"]>, heard: Heard | null): string {
  const { spm, stitch, needle } = heard ?? { spm: 0, stitch: state.stitch ?? 0, needle: 0 };
  const of = state.of ? `, stitch ${number(stitch)} of ${number(state.of)}` : "";
  const times = state.times && state.times !== 1 ? `, in time × ${number(state.times)}` : "";
  if (state.state === "sewing")
    return `It sews, needle ${needle || state.needle}${spm ? ` at ${number(spm)} a minute` : ""}${of}${times}.`;
  if (state.state === "stopped") return `It stands: ${WHY[state.why ?? ""] ?? "stopped"}${of}.`;
  if (state.state === "ended") return `It has sewn ${state.design || "its design"}.`;
  return state.design ? `It has ${state.design}, and stands.` : "It has no design.";
}
