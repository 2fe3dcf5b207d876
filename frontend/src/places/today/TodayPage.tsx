// Today: what needs the seller now, each row one press from done.
import { useMutation, useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import {
  get,
  keys,
  post,
  problemOf,
  useKeep,
  useRenew,
  type TodayPress,
  type TodayRow,
} from "../../api";
import { day } from "../../parts/format";
import { goOnAt } from "../../parts/goOnAt";
import { Loading } from "../../parts/Loading";
import { Told } from "../../parts/Told";
import { useTell } from "../../parts/toasts";
import { usePageTitle } from "../../parts/usePageTitle";
import style from "./Today.module.scss";

const BACK: Record<TodayPress["do"], TodayPress["do"]> = {
  begin: "unbegin",
  unbegin: "begin",
  deposit: "undeposit",
  undeposit: "deposit",
  done: "undone",
  undone: "done",
  "hand-over": "unhand-over",
  "unhand-over": "hand-over",
};

const SAID: Record<TodayPress["do"], string> = {
  begin: "It is in work.",
  unbegin: "It is ready again.",
  deposit: "The deposit is noted for today.",
  undeposit: "The deposit is taken back.",
  done: "It is done: what it took is off the shelf.",
  undone: "It is in work again.",
  "hand-over": "It is handed over.",
  "unhand-over": "It is done, and here.",
};

export function TodayPage() {
  usePageTitle("Today");
  const keep = useKeep();
  const renew = useRenew("today");
  const tell = useTell();
  const found = useQuery({
    queryKey: keys.today(),
    queryFn: () => get("/today"),
    staleTime: 0,
    refetchInterval: 60_000,
  });
  const press = useMutation({
    mutationFn: ({ do: what, order }: Pick<TodayPress, "do" | "order">) =>
      post("/today", { body: { do: what, order } }),
    onSuccess: async (now, pressed) => {
      await keep(keys.today(), now);
      void renew();
      const back = BACK[pressed.do];
      tell(SAID[pressed.do], {
        label: "Undo",
        does: () => press.mutate({ do: back, order: pressed.order }),
      });
      goOnAt("main h1");
    },
  });
  const problem = problemOf(press.error);
  const today = found.data;
  return (
    <main className="standards">
      <h1 tabIndex={-1}>Today{today && <span className="hint">, {day(today.day)}</span>}</h1>
      {found.error && <p role="alert">The shop's server does not answer. It is asked again.</p>}
      {found.isPending && <Loading what="Today" />}
      <Told of={problem} />
      {today?.empty && <HowToBegin />}
      {today && !today.empty && today.sections.length === 0 && (
        <p className="empty">
          Nothing needs you now. <Link to="/quotes">Quotes</Link> and{" "}
          <Link to="/orders/plan">the plan</Link> are where they were.
        </p>
      )}
      <div className={style["td-sections"]}>
        {today?.sections.map((section) => (
          <section key={section.id} aria-labelledby={`td-${section.id}`}>
            <h2 id={`td-${section.id}`} className="small-caps-head">
              {section.title}
            </h2>
            <ul>
              {section.rows.map((row, n) => (
                <Row
                  key={`${n} ${row.text}`}
                  row={row}
                  busy={press.isPending}
                  onPress={(pressed) => press.mutate(pressed)}
                />
              ))}
            </ul>
            {section.more > 0 && <p className="hint">and {section.more} more</p>}
          </section>
        ))}
      </div>
    </main>
  );
}

interface RowProps {
  row: TodayRow;
  busy: boolean;
  onPress: (pressed: TodayPress) => void;
}

function Row({ row, busy, onPress }: RowProps) {
  const { press } = row;
  return (
    <li data-tone={row.tone}>
      <span>
        {row.text}
        <span className="hint d-block">{row.hint}</span>
      </span>
      <span className={style["td-does"]}>
        {press && (
          <button
            type="button"
            className="btn btn-outline-primary btn-sm"
            disabled={busy}
            aria-label={`${press.label}: ${row.text}`}
            onClick={() => onPress(press)}
          >
            {press.label}
          </button>
        )}
        <Link to={row.href} aria-label={`${row.go}: ${row.text}`}>
          {row.go}
        </Link>
      </span>
    </li>
  );
}

function HowToBegin() {
  return (
    <section className="empty">
      <p>Nothing is here yet. A first price takes a minute:</p>
      <ol className="text-start">
        <li>
          <Link to="/begin">Set the shop up</Link>: machines, hoops, what an hour costs. Every step
          can be skipped.
        </li>
        <li>
          Press <kbd>Alt</kbd> + <kbd>N</kbd> for a new quote: goods, how many, a design.
        </li>
        <li>
          Say when you work under <Link to="/workshop/days">People and days</Link>: then each quote
          knows by when.
        </li>
      </ol>
    </section>
  );
}
