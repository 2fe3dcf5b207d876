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

/** An event of the machine as one of the pass; null for what is not written down, or not ours. */
export function eventOf(
  told: MachineEvent,
  pass: Pick<PassView, "order_id" | "pass_id">,
  at: string,
): RunEvent | null {
  const kind = KINDS[told.kind];
  const stem = `${pass.order_id}:${pass.pass_id}:`;
  if (!kind || !told.run.startsWith(stem)) return null;
  const piece = told.run.slice(stem.length).replace(/:\d+$/, "");
  return {
    id: `m:${told.epoch}:${told.n}`,
    kind,
    at,
    piece,
    ...(told.kind === "end" && told.data.needle_s !== undefined
      ? { needle_s: told.data.needle_s }
      : {}),
  } as RunEvent;
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
  const writing = useRef({ write, heard: pass.heard });
  useEffect(() => {
    writing.current = { write, heard: pass.heard };
  }, [write, pass.heard]);
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
      const event = eventOf(told, { order_id: order, pass_id }, new Date().toISOString());
      // what it tells again after a reload is kept already
      if (event && !writing.current.heard.includes(event.id)) writing.current.write([event]);
      if (kind !== "stitch" && kind !== "trim")
        void queries.invalidateQueries({ queryKey: keys.machine(order, pass_id) });
    };
    return () => follow.close();
  }, [there, order, pass_id, queries]);
  const keep = (now: MachineNow) => queries.setQueryData(key, now);
  return { now: found.data ?? null, heard, keep };
}
