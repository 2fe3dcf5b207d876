// What the log teaches: each factor on a ruler of actual ÷ estimated, and what it does to prices.
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useDeferredValue, useId, useState } from "react";
import Form from "react-bootstrap/Form";
import { Link } from "react-router";
import { del, get, keys, post, problemOf, put, useRenew, type Factor } from "../../api";
import { counted, day, money, number, percent } from "../../parts/format";
import { Loading } from "../../parts/Loading";
import { Told } from "../../parts/Told";
import { useTell } from "../../parts/toasts";
import { usePageTitle } from "../../parts/usePageTitle";
import { useWidth } from "../../parts/useWidth";
import { LogHead } from "./LogHead";
import { marksOf, placeOf, reachOf, rowsOf } from "./ruler.geometry";
import style from "./Log.module.scss";

export function LearnPage() {
  usePageTitle("What the log teaches");
  const queries = useQueryClient();
  const renew = useRenew("learning");
  const tell = useTell();
  const found = useQuery({
    queryKey: keys.learning(),
    queryFn: () => get("/learning"),
    staleTime: 0,
  });
  const [here, setHere] = useState("");
  const [tried, setTried] = useState<number | null>(null);
  const factors = found.data ?? [];
  const first = [...factors].filter((f) => f.jobs > 0).sort((a, b) => offBy(b) - offBy(a))[0];
  const chosen = factors.find((f) => f.key === here) ?? first;
  const change = useMutation({
    mutationFn: (does: () => Promise<Factor[]>) => does(),
    onSuccess: (now) => {
      queries.setQueryData(keys.learning(), now);
      setTried(null);
      void renew();
    },
  });
  const problem = problemOf(change.error);
  const take = (factor: Factor) =>
    change.mutate(() => post("/learning/taken", { query: { key: factor.key } }), {
      onSuccess: () =>
        tell(`${factor.label}: prices are made with ${number(factor.value, 3)} now.`, {
          label: "Undo",
          does: () => change.mutate(() => del("/learning/taken", { query: { key: factor.key } })),
        }),
    });
  return (
    <main className="standards">
      <LogHead title="What the log teaches" />
      {found.isPending && <Loading what="What was learnt" />}
      {found.error && <p role="alert">The shop's server does not answer. It is asked again.</p>}
      <Told of={problem} />
      <p className="hint">
        Every dot is a job: what it took, by what the standards say. The slider is what is learnt, a
        starting value counts for four jobs. Drafts follow what is taken; sent quotes keep their
        figures.
      </p>
      <div className={style["lg-learn"]}>
        <ul className={style["lg-factors"]}>
          {factors.map((factor) => (
            <FactorRow
              key={factor.key}
              factor={factor}
              here={chosen?.key === factor.key}
              tried={chosen?.key === factor.key ? tried : null}
              busy={change.isPending}
              onTry={(value) => {
                setHere(factor.key);
                setTried(value);
              }}
              onShow={() => {
                setHere(factor.key);
                setTried(null);
              }}
              onTake={() => take(factor)}
              onUndo={() =>
                change.mutate(() => del("/learning/taken", { query: { key: factor.key } }))
              }
              onAuto={(on) =>
                change.mutate(() =>
                  put("/learning/by-itself", { query: { key: factor.key }, body: { on } }),
                )
              }
            />
          ))}
        </ul>
        {chosen && <EffectsOf factor={chosen} tried={tried} />}
      </div>
    </main>
  );
}

interface RowProps {
  factor: Factor;
  here: boolean;
  tried: number | null;
  busy: boolean;
  onTry: (value: number) => void;
  onShow: () => void;
  onTake: () => void;
  onUndo: () => void;
  onAuto: (on: boolean) => void;
}

/** How far what is learnt lies from what is in force: the farthest is shown first. */
const offBy = (f: Factor) => (f.points.length > 0 ? Math.abs(Math.log(f.value / f.now)) : 0);
const isShare = ({ key }: Factor) => key.startsWith("spoil:") || key.startsWith("carries:");
const text = (factor: Factor, value: number) =>
  isShare(factor) ? percent(value) : number(value, 3);

function FactorRow(props: RowProps) {
  const { factor, here, tried } = props;
  const id = useId();
  const asked = factor.points.filter((point) => point.asked);
  return (
    <li className={style["lg-factor"]} data-here={here || undefined}>
      <section aria-label={factor.label}>
        <div className={style["lg-head"]}>
          <h2>{factor.label}</h2>
          <span>
            in force {text(factor, factor.now)}
            {factor.jobs > 0 && !factor.taken && `, learnt ${text(factor, factor.value)}`}
            {factor.jobs > 0 && factor.taken && ", as learnt"}
          </span>
          <span className="hint">
            {counted(factor.jobs, "job")}
            {factor.jobs > 0 &&
              !isShare(factor) &&
              `, a job ± ${percent(factor.spread)}, the factor itself ${text(factor, factor.low)} to ${text(factor, factor.high)}`}
          </span>
        </div>
        {factor.jobs > 0 && !isShare(factor) && (
          <>
            <Ruler factor={factor} tried={tried} />
            <Form.Label htmlFor={`${id}-try`} className="visually-hidden">
              Try {factor.label}
            </Form.Label>
            <input
              id={`${id}-try`}
              type="range"
              className={style["lg-slide"]}
              min={0}
              max={1000}
              value={Math.round(1000 * placeOf(tried ?? factor.value, reach(factor)))}
              aria-valuetext={text(factor, tried ?? factor.value)}
              onChange={(e) => props.onTry(tryAt(factor, Number(e.target.value) / 1000))}
            />
          </>
        )}
        {isShare(factor) && <p className="mb-0">{factor.said}</p>}
        {asked.map((point) => (
          <p key={point.row_id} className="mb-0">
            {point.label}, {day(point.on)}, took {number(point.ratio, 2)} times what was estimated.{" "}
            <Link to={`/log/${point.row_id}`} className={style["lg-ask"]}>
              Was it so? It is left out until you say.
            </Link>
          </p>
        ))}
        {factor.jobs > 0 && (
          <div className={style["lg-does"]}>
            {!factor.taken && (
              <button
                type="button"
                className="btn btn-primary btn-sm"
                disabled={props.busy}
                aria-label={`Take it: ${factor.label} ${text(factor, factor.value)}`}
                onClick={props.onTake}
              >
                Take it
              </button>
            )}
            {factor.can_undo && (
              <button
                type="button"
                className="btn btn-outline-primary btn-sm"
                disabled={props.busy}
                aria-label={`Go back: ${factor.label}`}
                onClick={props.onUndo}
              >
                Go back
              </button>
            )}
            {!here && (
              <button
                type="button"
                className="btn btn-plain btn-sm"
                aria-label={`What it does to prices: ${factor.label}`}
                onClick={props.onShow}
              >
                What it does to prices
              </button>
            )}
            <Form.Check
              id={`${id}-auto`}
              label={
                <>
                  moves by itself <span className="visually-hidden">, {factor.label}</span>
                </>
              }
              checked={factor.auto}
              disabled={props.busy}
              onChange={(e) => props.onAuto(e.target.checked)}
            />
          </div>
        )}
      </section>
    </li>
  );
}

/** Dots are jobs by their ratio to the start; the ruler is of factors. */
const reach = (factor: Factor) =>
  reachOf([...factor.points.map((p) => p.ratio), factor.value, factor.now, factor.start]);
const tryAt = (factor: Factor, place: number) => {
  const value = Math.exp((place - 0.5) * 2 * Math.log(reach(factor)));
  return Math.min(5, Math.max(0.2, Math.round(value * 1000) / 1000));
};

const TOP = 34;
const DOT = 5;

function Ruler({ factor, tried }: { factor: Factor; tried: number | null }) {
  const [ref, width] = useWidth<SVGSVGElement>();
  const far = reach(factor);
  const x = (ratio: number) => 8 + placeOf(ratio, far) * Math.max(0, width - 16);
  const at = tried ?? factor.value;
  const wide = Math.exp(1.2816 * factor.spread);
  const rows = rowsOf(
    factor.points.map((p) => placeOf(p.ratio, far)),
    (2 * DOT + 1) / Math.max(1, width - 16),
  );
  return (
    <svg
      ref={ref}
      className={style["lg-ruler"]}
      role="img"
      aria-label={`${factor.label}: ${factor.points.map((p) => number(p.ratio, 2)).join(", ")} by job`}
    >
      {width > 0 && (
        <>
          <rect
            x={x(at / wide)}
            y={TOP - 18}
            width={Math.max(1, x(at * wide) - x(at / wide))}
            height={18}
            fill="var(--cloth-deep)"
          />
          <path d={`M8 ${TOP}H${width - 8}`} stroke="var(--line-strong)" />
          {marksOf(far).map((mark) => (
            <g key={mark}>
              <path d={`M${x(mark)} ${TOP}v6`} stroke="var(--line-strong)" />
              <text x={x(mark)} y={TOP + 20} textAnchor="middle" fontSize="12" fill="var(--ink)">
                {number(mark, 2)}
              </text>
            </g>
          ))}
          {factor.points.map((point, n) => (
            <circle
              key={point.row_id}
              cx={x(point.ratio)}
              cy={TOP - 6 - Math.min(3, rows[n] ?? 0) * (2 * DOT - 1)}
              r={point.counts < 0.75 ? DOT - 1.5 : DOT}
              fill={point.asked ? "none" : "var(--machine)"}
              stroke={point.asked ? "var(--stop)" : "var(--white)"}
              strokeWidth={point.asked ? 2 : 1}
            >
              <title>
                {point.label}, {day(point.on)}: {number(point.ratio, 2)}
              </title>
            </circle>
          ))}
          <path
            d={`M${x(factor.now)} ${TOP - 24}V${TOP + 4}`}
            stroke="var(--ink)"
            strokeDasharray="3 2"
          />
          <path d={`M${x(at)} ${TOP - 24}V${TOP + 4}`} stroke="var(--brass)" strokeWidth="3" />
          <text x={Math.min(width - 60, x(at) + 5)} y={10} fontSize="12" fill="var(--brass)">
            {number(at, 3)}
          </text>
        </>
      )}
    </svg>
  );
}

/** The last quotes as they are and as they would be. */
function EffectsOf({ factor, tried }: { factor: Factor; tried: number | null }) {
  const value = useDeferredValue(tried ?? undefined);
  const found = useQuery({
    queryKey: keys.effects(factor.key, value ?? factor.value),
    queryFn: () => get("/learning/effects", { query: { key: factor.key, value } }),
    placeholderData: keepPreviousData,
    enabled: factor.jobs > 0,
    staleTime: 0,
  });
  const rows = found.data?.quotes ?? [];
  const most = Math.max(
    1,
    ...rows.flatMap((r) => [Number(r.cost_now), Number(r.cost_then)].map(Math.sqrt)),
  );
  return (
    <section aria-label="What it does to prices" className={style["lg-effects"]}>
      <h2 className="small-caps-head">
        The last quotes with {factor.label.toLowerCase()} at {text(factor, tried ?? factor.value)}
      </h2>
      {factor.jobs === 0 && <p className="hint">Nothing is learnt of it yet.</p>}
      <ul>
        {rows.map((row) => (
          <li key={row.quote_id}>
            <div className={style["lg-two"]}>
              <span>
                <Link to={`/quotes/${row.quote_id}`}>{row.number}</Link> {row.customer}
              </span>
              <b>{row.share === 0 ? "the same" : signed(row.share)}</b>
            </div>
            <svg className={style["lg-bars"]} aria-hidden="true">
              <rect
                width={`${(100 * Math.sqrt(Number(row.cost_now))) / most}%`}
                height="5"
                fill="var(--cloth-deep)"
              />
              <rect
                y="7"
                width={`${(100 * Math.sqrt(Number(row.cost_then))) / most}%`}
                height="5"
                fill="var(--brass)"
              />
            </svg>
            <span className="hint">
              cost {money(row.cost_now, row.currency)} → {money(row.cost_then, row.currency)}, price{" "}
              {money(row.price_now, row.currency)}
              {row.price_then !== row.price_now && ` → ${money(row.price_then, row.currency)}`}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

const signed = (share: number) =>
  Math.abs(share) < 0.0005 ? "under 0.1%" : `${share > 0 ? "+" : "−"}${percent(Math.abs(share))}`;
