// By when: the likely and the safe day, what the papers state, and what would make the wanted day.
import { useMutation } from "@tanstack/react-query";
import { useId } from "react";
import { Link } from "react-router";
import { del, put, standards, useRenew, type WayOut } from "../../../api";
import { useBench, useHead } from "../../../draft";
import { AdviceList } from "../../../parts/AdviceList";
import { counted, day, listed, money } from "../../../parts/format";
import { goOnAt } from "../../../parts/goOnAt";
import { useTell } from "../../../parts/toasts";
import { usePromise } from "./usePromise";
import style from "./Promised.module.scss";

export function Promised() {
  const id = useId();
  const { actions } = useBench();
  const head = useHead();
  const promise = usePromise();
  if (!promise || (!promise.likely && promise.advice.length === 0)) return null;
  const taken = promise.taken ?? [];
  return (
    <section aria-label="By when?" className={style["by-when"]}>
      <div className="sub-head">
        <h3 tabIndex={-1}>By when?</h3>
      </div>
      {promise.likely && (
        <p className="mb-1">
          Likely <b>{day(promise.likely)}</b>, safely <b>{day(promise.safe)}</b>, behind{" "}
          <Link to="/orders/plan">{counted(promise.orders, "open order")}</Link>
          {promise.waits_until && `; what lacks is here by ${day(promise.waits_until)}`}
          {promise.uncounted > 0 && ` (${promise.uncounted} of it not counted)`}.
        </p>
      )}
      {promise.stated && (
        <div className={style["by-stated"]}>
          <label htmlFor={`${id}-p`}>Promised</label>
          <input
            id={`${id}-p`}
            className="form-control"
            type="date"
            value={head.promised_on || promise.stated}
            onChange={(e) => actions.head({ promised_on: e.target.value })}
          />
          {head.promised_on ? (
            <button
              type="button"
              className="btn btn-plain"
              onClick={() => {
                actions.head({ promised_on: "" });
                goOnAt("[aria-label='By when?'] h3");
              }}
            >
              As worked out
            </button>
          ) : (
            <span className="hint">as worked out; papers and the customer's page state it</span>
          )}
        </div>
      )}
      {taken.length > 0 && (
        <p className="mb-1">
          Kept so: {listed(taken)}.{" "}
          <button
            type="button"
            className="btn btn-plain"
            onClick={() => {
              if (promise.let_go.length > 0) actions.fix(promise.let_go);
              actions.head({ goes_before: 0, express: false, first_part: 0 });
              goOnAt("[aria-label='By when?'] h3");
            }}
          >
            Let it go
          </button>
        </p>
      )}
      <AdviceList advice={promise.advice} onFix={() => undefined} />
      <Ways ways={promise.ways} currency={promise.currency} />
    </section>
  );
}

function Ways({ ways, currency }: { ways: WayOut[]; currency: string }) {
  const { actions, quote } = useBench();
  const tell = useTell();
  const renew = useRenew("standards");
  const take = useMutation({
    mutationFn: async (way: WayOut) => {
      const all = way.standards.length > 0 ? await standards() : [];
      const was = way.standards.map((to) => all.find((each) => each.key === to.key));
      for (const to of way.standards)
        await put("/standards/{key}", { path: { key: to.key }, body: { value: to.value } });
      return was;
    },
    onSuccess: async (was, way) => {
      if (way.patch.length > 0) actions.fix(way.patch);
      if (Object.keys(way.head).length > 0) actions.head(way.head);
      if (way.standards.length > 0) {
        await renew();
        tell(`${way.label}: it stands in the week.`, {
          label: "Undo",
          does: () =>
            void Promise.all(
              was.map((each) =>
                each?.changed
                  ? put("/standards/{key}", {
                      path: { key: each.key },
                      body: { value: each.value },
                    })
                  : each && del("/standards/{key}", { path: { key: each.key } }),
              ),
            ).then(renew),
        });
      } else tell(`${way.label}. Alt Z takes it back.`);
      goOnAt("[aria-label='By when?'] h3");
    },
  });
  if (ways.length === 0) return null;
  return (
    <ul className={style["by-ways"]} aria-label="What would make it">
      {ways.map((way) => (
        <li key={way.id + way.label}>
          <span>
            {way.label}
            <span className="hint d-block">
              {way.day && `ready ${day(way.day)}`}
              {Number(way.cost) !== 0 &&
                `, ${Number(way.cost) > 0 ? "costs" : "saves"} ${money(String(Math.abs(Number(way.cost))), currency)}`}
              {Number(way.cost) === 0 && ", costs nothing more"}
              {way.late.length > 0 && `; ${listed(way.late)} would be late by it`}
            </span>
          </span>
          <button
            type="button"
            className="btn btn-outline-primary btn-sm"
            disabled={take.isPending || quote.state !== "draft"}
            aria-label={`Take it: ${way.label}`}
            onClick={() => take.mutate(way)}
          >
            Take it
          </button>
        </li>
      ))}
    </ul>
  );
}
