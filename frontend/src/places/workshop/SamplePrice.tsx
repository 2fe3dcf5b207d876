// What a change does to a sample price: as it was when the page was opened, and as it is now.
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { keys, post, type Estimate } from "../../api";
import { lengthsOf } from "../../parts/costs";
import { money, percent } from "../../parts/format";
import { YardRod } from "../../parts/YardRod";
import { scaleEnd } from "../../parts/yardRod.geometry";
import type { Sample, SampleJob } from "./sample";
import style from "./SamplePrice.module.scss";

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

export function SamplePrice({ sample: { name, job } }: { sample: Sample }) {
  const now = useQuery({
    queryKey: keys.sample(job),
    queryFn: () => post("/estimates", { query: { others: -1 }, body: job as never }),
    staleTime: 0,
    placeholderData: (previous) => previous, // nothing moves while another sample is asked for
  });
  const [before, setBefore] = useState<{ job: SampleJob; estimate: Estimate } | null>(null);
  const fresh = now.data && !now.isPlaceholderData ? now.data : null;
  if (fresh && before?.job !== job && !same(before?.job, job)) setBefore({ job, estimate: fresh });
  const [was, is] = [before?.estimate.lines[0], now.data?.lines[0]];
  const both = was && is ? [was, is] : [];
  const end = scaleEnd(Math.max(...both.map((line) => Number(line.price.unit)), 1));
  const currency = now.data?.currency ?? "";
  const moved = was && is && was.price.unit !== is.price.unit;
  return (
    <section className={style["sample-price"]} aria-label="A sample price">
      <div className={style["sub-head"]}>
        <h2>{`A sample price: ${name}`}</h2>
        <span className="hint" role="status">
          {was && is
            ? moved
              ? `${money(was.price.unit, currency)} became ${money(is.price.unit, currency)}`
              : "what you change shows here"
            : ""}
        </span>
      </div>
      {both.slice(moved ? 0 : 1).map((line, n) => {
        const when = moved && n === 0 ? "As it was" : "Now";
        return (
          <div key={when} className={style["beside"]}>
            <span>
              <b>{when}</b>
            </span>
            <YardRod
              name={when}
              lengths={lengthsOf({ ...line.piece_cost })}
              end={end}
              price={Number(line.price.unit)}
              cost={Number(line.piece_cost.total)}
              target={Number(line.price.cross_checks.margin)}
              step={0.05}
              currency={currency}
              onOpen={() => undefined}
            />
            <span className="text-end">
              <strong className="beside-price">{money(line.price.unit, currency)}</strong>
              <span className="hint d-block">margin {percent(line.price.margin)}</span>
            </span>
          </div>
        );
      })}
    </section>
  );
}
