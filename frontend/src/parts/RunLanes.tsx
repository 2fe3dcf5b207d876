// The run as it goes: each machine and pair of hands over a clock, who waits for whom, and what
// else would save. Opened, it is simulated; its spread is asked for with its progress.
import { useQuery } from "@tanstack/react-query";
import { useId, useRef, useState } from "react";
import { keys, problemOf, run, runSpread, type RunDocument, type RunSpread } from "../api";
import { Told } from "./Told";
import { capital, money } from "./format";
import { lasting } from "./lasting";
import { clockAt, lanePath, ticks } from "./runLanes.geometry";
import style from "./RunLanes.module.scss";

const CAUSES: [cause: string, name: string][] = [
  ["prepare", "prepare"],
  ["load", "load"],
  ["sew", "sew"],
  ["stand by", "stand by"],
  ["serve", "serve a stop"],
  ["finish", "finish"],
  ["wait for hands", "wait for hands"],
  ["wait for a piece", "wait for a piece"],
];
const WIDTH = 1000;

interface Props {
  of: "orders" | "quotes";
  id: number;
  /** What it is simulated from: another one is simulated anew. */
  revision: number;
}

export function RunLanes({ of, id, revision }: Props) {
  const [open, setOpen] = useState(false);
  const found = useQuery({
    queryKey: keys.run(of, id, revision),
    queryFn: () => run(of, id),
    enabled: open,
    staleTime: Infinity,
  });
  const problem = problemOf(found.error);
  return (
    <details className={style["run-lanes"]} onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>The run, simulated</summary>
      {found.isFetching && !found.data && <p role="status">It is simulated …</p>}
      <Told of={problem} page />
      {found.data && <Lanes key={found.data.plan_sha256} run={found.data} of={of} id={id} />}
    </details>
  );
}

function Lanes({ run, of, id }: { run: RunDocument; of: "orders" | "quotes"; id: number }) {
  const field = useId();
  const [at, setAt] = useState(0);
  const shown = CAUSES.filter(([cause]) =>
    run.lanes.some((lane) => lane.intervals.some((each) => each.cause === cause)),
  );
  const differs = Math.abs(run.elapsed_s - run.closed_form_s) >= 30;
  return (
    <>
      <p className="mb-1">
        <b>{lasting(run.elapsed_s / 60)}</b> from the first piece to the last finished.{" "}
        {run.bottleneck}{" "}
        {differs && (
          <span className="hint">
            The estimate goes by the closed form, {lasting(run.closed_form_s / 60)}.
          </span>
        )}
      </p>
      <ul className={style["run-key"]}>
        {shown.map(([cause, name]) => (
          <li key={cause}>
            <span data-cause={cause} aria-hidden="true" /> {name}
          </li>
        ))}
      </ul>
      {run.lanes.map((lane) => (
        <div key={lane.id} className={style["run-lane"]}>
          <span>
            {lane.label}
            <span className="hint d-block">waits {lasting(lane.waiting_s / 60)}</span>
          </span>
          <svg
            viewBox={`0 0 ${WIDTH} 26`}
            preserveAspectRatio="none"
            role="img"
            aria-label={`${lane.label}: busy ${lasting(lane.busy_s / 60)}, waiting ${lasting(lane.waiting_s / 60)}`}
          >
            {shown.map(([cause]) => (
              <path
                key={cause}
                data-cause={cause}
                d={lanePath(lane.intervals, cause, run.elapsed_s, WIDTH)}
              />
            ))}
            <line
              x1={(at / run.elapsed_s) * WIDTH}
              x2={(at / run.elapsed_s) * WIDTH}
              y1={0}
              y2={26}
            />
          </svg>
        </div>
      ))}
      <div className={style["run-lane"]} aria-hidden="true">
        <span />
        <div className={style["run-clock"]}>
          {ticks(run.elapsed_s).map((second) => (
            <span key={second} style={{ left: `${(second / run.elapsed_s) * 100}%` }}>
              {clockAt(second)}
            </span>
          ))}
        </div>
      </div>
      <div className={style["run-lane"]}>
        <label htmlFor={field}>At</label>
        <input
          id={field}
          type="range"
          min={0}
          max={Math.round(run.elapsed_s)}
          step={Math.max(1, Math.round(run.elapsed_s / 500))}
          value={at}
          aria-valuetext={clockAt(at)}
          onChange={(e) => setAt(Number(e.target.value))}
        />
      </div>
      <p role="status" className={style["run-now"]}>
        {clockAt(at)}: {run.lanes.map((lane) => `${lane.label} ${doing(lane, at, run)}`).join("; ")}
        .
      </p>
      <Ways run={run} />
      <SpreadOf of={of} id={id} />
    </>
  );
}

type Lane = RunDocument["lanes"][number];

/** What a lane does at a moment, in words. */
function doing(lane: Lane, at: number, run: RunDocument): string {
  const here = lane.intervals.find((each) => each.start_s <= at && at < each.end_s);
  if (!here) return "idle";
  const place = (run.passes[here.of] ?? "").toLowerCase();
  const many = Object.keys(run.passes).length > 1 ? `, ${place}` : "";
  return here.cause === "finish" ? `finish${many}` : `${here.cause}, piece ${here.cycle}${many}`;
}

function Ways({ run }: { run: RunDocument }) {
  const ways = run.instead.filter((way) => way.saved_s >= 60);
  if (ways.length === 0) return null;
  return (
    <table className={style["run-ways"]}>
      <caption>What would save time, each simulated again; worth it at the hours’ rates</caption>
      <tbody>
        {ways.map((way) => (
          <tr key={way.id}>
            <th scope="row">{capital(way.label)}</th>
            <td>{lasting(way.saved_s / 60)}</td>
            <td>{money(way.saved, run.currency)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** How far a run may fall: simulated many times, with its progress, and stopped by a press. */
function SpreadOf({ of, id }: { of: "orders" | "quotes"; id: number }) {
  const [step, setStep] = useState<RunSpread | null>(null);
  const [failed, setFailed] = useState(false);
  const stop = useRef<AbortController | null>(null);
  const going = step !== null && step.done < step.of;
  const press = () => {
    if (going) {
      stop.current?.abort();
      setStep(null);
      return;
    }
    setFailed(false);
    stop.current = new AbortController();
    const { signal } = stop.current;
    runSpread(of, id, setStep, signal).catch(() => {
      if (!signal.aborted) setFailed(true);
      setStep(null);
    });
  };
  return (
    <div className={style["run-spread"]}>
      <button type="button" className="btn btn-outline-primary btn-sm" onClick={press}>
        {going ? "Stop" : "How far may it fall?"}
      </button>
      <span role="status">
        {going && `${step.done} of ${step.of} runs`}
        {step?.p10_s && step.p50_s && step.p90_s
          ? `In 80 of 100 runs it takes ${lasting(step.p10_s / 60)} to ${lasting(step.p90_s / 60)}, half of them ${lasting(step.p50_s / 60)} or less.`
          : ""}
        {failed && "The shop's server does not answer. Try it again."}
      </span>
    </div>
  );
}
