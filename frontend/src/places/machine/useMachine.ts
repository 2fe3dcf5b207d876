// The machine, followed: how it stands, and what it reports written down by itself, once each.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { get, keys, type MachineNow, type PassView, type RunEvent } from "../../api";

/** What a machine reports; see docs/formats.md. */
export interface MachineEvent {
  n: number;
  epoch: string;
  run: string;
  kind: string;
  stitch: number;
  block: number;
  needle: number;
  spm: number;
  at_s: number;
  data: { needle_s?: number };
}

/** Where the machine is in the design, as it was last heard. */
export interface Heard {
  run: string;
  stitch: number;
  block: number;
  needle: number;
  spm: number;
  kind: string;
}

const KINDS: Record<string, RunEvent["kind"]> = {
  begun: "begun",
  end: "done",
  break: "broke",
  "bobbin-out": "bobbin",
  bobbin: "bobbin",
};

/** An event of the machine as those of the pass: what it sewed in one loading ends together.
 *  [] for what is not written down, or not ours. */
export function eventsOf(
  told: MachineEvent,
  pass: Pick<PassView, "order_id" | "pass_id" | "pieces">,
  at: string,
): RunEvent[] {
  const kind = KINDS[told.kind];
  const stem = `${pass.order_id}:${pass.pass_id}:`;
  if (!kind || !told.run.startsWith(stem)) return [];
  const piece = told.run.slice(stem.length).replace(/:\d+$/, "");
  const id = `m:${told.epoch}:${told.n}`;
  if (told.kind !== "end") return [{ id, kind, at, piece } as RunEvent];
  const others = inLoading(pass.pieces, piece).filter((other) => other.id !== piece);
  const ended = [piece, ...others.map((other) => other.id)];
  const needle_s = told.data.needle_s;
  return ended.map(
    (each, k) =>
      ({
        id: k === 0 ? id : `${id}.${k}`,
        kind,
        at,
        piece: each,
        ...(needle_s === undefined ? {} : { needle_s: needle_s / ended.length }),
      }) as RunEvent,
  );
}

type Pieces = PassView["pieces"];

/** The pieces that are in the machine with one, and not off it yet. */
export function inLoading(pieces: Pieces, id: string): Pieces {
  const loading = pieces.find((p) => p.id === id)?.hooping;
  return pieces.filter(
    (p) => p.hooping === loading && (p.state === "waiting" || p.state === "sewing"),
  );
}

const LOOK_MS = 3000;

export function useMachine(pass: PassView, write: (events: RunEvent[]) => void) {
  const { order_id: order, pass_id } = pass;
  const queries = useQueryClient();
  const key = ["machine", order, pass_id];
  const [heard, setHeard] = useState<Heard | null>(null);
  const found = useQuery({
    queryKey: key,
    queryFn: () =>
      get("/orders/{order_id}/passes/{pass_id}/machine", {
        path: { order_id: order, pass_id: pass_id },
      }),
    enabled: pass.machine_address,
    refetchInterval: LOOK_MS,
    staleTime: 0,
  });
  const writing = useRef({ write, heard: pass.heard, pieces: pass.pieces });
  useEffect(() => {
    writing.current = { write, heard: pass.heard, pieces: pass.pieces };
  }, [write, pass.heard, pass.pieces]);
  const there = pass.machine_address && found.data?.state?.epoch;
  useEffect(() => {
    if (!there) return;
    const follow = new EventSource(
      `/api/v1/orders/${order}/passes/${encodeURIComponent(pass_id)}/machine/events`,
    );
    follow.onmessage = ({ data }: MessageEvent<string>) => {
      const told = JSON.parse(data) as MachineEvent;
      const { run, stitch, block, needle, spm, kind } = told;
      setHeard({ run, stitch, block, needle, spm, kind });
      const { pieces, heard: kept } = writing.current;
      const events = eventsOf(told, { order_id: order, pass_id, pieces }, new Date().toISOString());
      // what it tells again after a reload is kept already
      if (events[0] && !kept.includes(events[0].id)) writing.current.write(events);
      if (kind !== "stitch" && kind !== "trim")
        void queries.invalidateQueries({ queryKey: keys.machine(order, pass_id) });
    };
    return () => follow.close();
  }, [there, order, pass_id, queries]);
  const keep = (now: MachineNow) => queries.setQueryData(key, now);
  return { now: found.data ?? null, heard, keep };
}
