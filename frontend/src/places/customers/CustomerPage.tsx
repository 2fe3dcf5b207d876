// One customer: how they are reached, what was agreed, what they order; and what is kept of them.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useId, useRef, useState } from "react";
import Form from "react-bootstrap/Form";
import { Link, useNavigate, useParams } from "react-router";
import {
  del,
  get,
  keys,
  post,
  problemOf,
  put,
  type CustomerDocument,
  type CustomerView,
  type Problem,
} from "../../api";
import { counted, day, money } from "../../parts/format";
import { goOnAt } from "../../parts/goOnAt";
import { Loading } from "../../parts/Loading";
import { Told } from "../../parts/Told";
import { useTell } from "../../parts/toasts";
import { usePageTitle } from "../../parts/usePageTitle";
import { ClassThumb } from "../../parts/GoodsThumb";
import { AgreedPrices } from "./AgreedPrices";
import { Contacts } from "./Contacts";
import style from "./Customers.module.scss";

const PAUSE_MS = 600;

export function CustomerPage() {
  const id = Number(useParams()["id"]);
  const found = useQuery({
    queryKey: keys.customer(id),
    queryFn: () => get("/customers/{customer_id}", { path: { customer_id: id } }),
    staleTime: 0,
  });
  if (problemOf(found.error))
    return (
      <main className="standards">
        <h1>Customer</h1>
        <Told of={found.error} page>
          <Link to="/customers">Look in the list.</Link>
        </Told>
      </main>
    );
  if (!found.data) return <Loading what="The customer" />;
  return <Opened key={id} customer={found.data} />;
}

type Typed = Required<CustomerDocument>;

const documentOf = (view: CustomerView): Typed => ({
  name: view.name,
  email: view.email ?? "",
  phone: view.phone ?? "",
  address: view.address ?? "",
  notes: view.notes ?? "",
  contacts: view.contacts ?? [],
  agreed: view.agreed ?? [],
  keep_until: view.keep_until ?? "",
  names_until: view.names_until ?? "",
});

/** What is typed, saved after a pause and when one leaves; a row that is only begun waits. */
function useSavedCustomer(customer: CustomerView) {
  const queries = useQueryClient();
  const [typed, setTyped] = useState(() => documentOf(customer));
  const [problem, setProblem] = useState<Problem | null>(null);
  const [state, setState] = useState<"saved" | "saving" | "not saved">("saved");
  const revision = useRef(customer.revision);
  const latest = useRef(typed);
  const dirty = useRef(false);
  const timer = useRef(0);
  const going = useRef<Promise<void>>(Promise.resolve());
  const save = () => {
    window.clearTimeout(timer.current);
    if (!dirty.current) return;
    going.current = going.current.then(async () => {
      if (!dirty.current) return;
      dirty.current = false;
      const { agreed, ...rest } = latest.current;
      const begun = agreed.flatMap((row, n) => (row.unit_price.trim() ? [n] : []));
      const whole = { ...rest, agreed: agreed.filter((_, n) => begun.includes(n)) };
      try {
        const kept = await put("/customers/{customer_id}", {
          path: { customer_id: customer.id },
          seen: revision.current,
          body: whole,
        });
        revision.current = kept.revision;
        setProblem(null);
        if (!dirty.current) setState("saved");
        void queries.invalidateQueries({ queryKey: keys.customers() });
      } catch (error) {
        dirty.current = true;
        setState("not saved");
        const problem = problemOf(error);
        if (!problem) return;
        const where = problem.where.replace(
          /^agreed\[(\d+)\]/,
          (_, n: string) => `agreed[${begun[Number(n)] ?? n}]`,
        );
        setProblem({ ...problem, where });
      }
    });
  };
  const leave = useRef(save);
  useEffect(() => {
    leave.current = save;
  });
  useEffect(() => () => leave.current(), []);
  const change = (to: Partial<Typed>) => {
    latest.current = { ...latest.current, ...to };
    dirty.current = true;
    setTyped(latest.current);
    setState("saving");
    window.clearTimeout(timer.current);
    timer.current = window.setTimeout(() => leave.current(), PAUSE_MS);
  };
  return { typed, change, problem, state };
}

function Opened({ customer }: { customer: CustomerView }) {
  const { typed, change, problem, state } = useSavedCustomer(customer);
  usePageTitle(typed.name || "Customer");
  const at = (where: string) => (problem?.where === where ? problem : undefined);
  const elsewhere = problem && !ASKED.some(([key]) => key === problem.where) ? problem : null;
  return (
    <main className={`standards ${style["customer"] ?? ""}`}>
      <p className="mb-1">
        <Link to="/customers">All customers</Link>
      </p>
      <div className="d-flex gap-3 align-items-baseline flex-wrap">
        <h1>{typed.name || "Nobody"}</h1>
        <span className="hint" role="status">
          {{ saved: "Saved", saving: "Saving …", "not saved": "Not saved" }[state]}
        </span>
      </div>
      {customer.names.length > 0 && (
        <p className="hint mb-2">Also known as {customer.names.join(", ")}.</p>
      )}
      {elsewhere && !/^(agreed|contacts)\[/.test(elsewhere.where) && (
        <p role="alert" className="invalid-feedback d-block">
          {elsewhere.detail} {elsewhere.remedy}
        </p>
      )}
      <div className={style["cu-columns"]}>
        <section aria-label="Who they are" className={style["cu-fields"]}>
          {ASKED.map(([key, label, kind]) => (
            <CustomerField
              key={key}
              label={label}
              kind={kind}
              value={typed[key]}
              problem={at(key)}
              onChange={(value) => change({ [key]: value })}
            />
          ))}
          <Contacts
            rows={typed.contacts}
            problem={problem}
            onChange={(contacts) => change({ contacts })}
          />
        </section>
        <div>
          <AgreedPrices
            rows={typed.agreed}
            problem={problem}
            onChange={(agreed) => change({ agreed })}
          />
          <Usual customer={customer} />
          <PastQuotes id={customer.id} />
          <Kept customer={customer} />
        </div>
      </div>
    </main>
  );
}

const ASKED = [
  ["name", "Name", "text"],
  ["email", "E-mail", "email"],
  ["phone", "Phone", "tel"],
  ["address", "Address", "area"],
  ["notes", "Notes, for the shop alone", "area"],
  ["keep_until", "Keep until", "date"],
  ["names_until", "Keep name lists until", "date"],
] as const;

interface FieldProps {
  label: string;
  kind: string;
  value: string;
  problem: Problem | undefined;
  onChange: (value: string) => void;
}

function CustomerField({ label, kind, value, problem, onChange }: FieldProps) {
  const id = useId();
  const about = problem ? `${id}-wrong` : kind === "date" ? `${id}-about` : undefined;
  return (
    <div>
      <Form.Label htmlFor={id}>{label}</Form.Label>
      <Form.Control
        id={id}
        {...(kind === "area"
          ? { as: "textarea", rows: 3 }
          : { type: kind === "email" ? "text" : kind })}
        value={value}
        autoComplete="off"
        isInvalid={!!problem}
        aria-invalid={!!problem}
        aria-describedby={about}
        onChange={(e) => onChange(e.target.value)}
      />
      {problem ? (
        <Told id={about} of={problem} />
      ) : (
        kind === "date" && (
          <div id={about} className="hint">
            Past that day they are listed as past it; nothing goes by itself.
          </div>
        )
      )}
    </div>
  );
}

function Usual({ customer }: { customer: CustomerView }) {
  if (customer.usual.length === 0) return null;
  return (
    <section aria-labelledby="usual">
      <h2 id="usual" className="small-caps-head">
        What they usually order
      </h2>
      <ul className={style["cu-usual"]}>
        {customer.usual.slice(0, 6).map((usual) => (
          <li key={usual.goods}>
            <ClassThumb goods={usual.goods_class} size={44} />
            <span>
              <b>{usual.goods}</b>, {usual.times === 1 ? "once" : `${usual.times} times`},{" "}
              {counted(usual.pieces, "piece")} in all
              <span className="hint d-block">
                last {money(usual.last_unit, usual.currency)} each, {day(usual.last_on)}
              </span>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function PastQuotes({ id }: { id: number }) {
  const quotes = useQuery({
    queryKey: keys.quotes("of", id),
    queryFn: () => get("/quotes", { query: { customer: id, sort: "number" } }),
    staleTime: 0,
  });
  const navigate = useNavigate();
  const copy = useMutation({
    mutationFn: (quote: number) => post("/quotes/{quote_id}/copy", { path: { quote_id: quote } }),
    onSuccess: (view) => navigate(`/quotes/${view.id}`),
  });
  const rows = quotes.data?.items ?? [];
  return (
    <section aria-labelledby="past">
      <h2 id="past" className="small-caps-head">
        Their quotes
      </h2>
      {quotes.data && rows.length === 0 && <p className="hint">None yet.</p>}
      {rows.length > 0 && (
        <table className={style["cu-customers-table"]}>
          <tbody>
            {rows.map((row) => (
              <tr key={row.id}>
                <th scope="row">
                  <Link to={`/quotes/${row.id}`}>{row.number}</Link>
                </th>
                <td>{row.summary || <span className="hint">not priced yet</span>}</td>
                <td className="text-end">{row.total && money(row.total, row.currency)}</td>
                <td>
                  <span className={`state-tag ${row.state}`}>{row.state}</span>
                </td>
                <td className="text-end">
                  <button
                    type="button"
                    className="btn btn-plain"
                    aria-label={`Copy ${row.number}`}
                    onClick={() => copy.mutate(row.id)}
                  >
                    Copy
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {(quotes.data?.total ?? 0) > rows.length && (
        <p className="hint">
          The last {rows.length} of {quotes.data?.total}.
        </p>
      )}
    </section>
  );
}

/** What is kept of them: written out, name lists erased, all erased. */
function Kept({ customer }: { customer: CustomerView }) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const tell = useTell();
  const [sure, setSure] = useState<"names" | "all" | null>(null);
  const leave = () => {
    setSure(null);
    goOnAt(`[data-begin=${sure ?? "all"}]`);
  };
  const erase = useMutation({
    mutationFn: (what: "names" | "all") =>
      what === "all"
        ? del("/customers/{customer_id}", { path: { customer_id: customer.id } })
        : del("/customers/{customer_id}/names", { path: { customer_id: customer.id } }),
    onSuccess: (done, what) => {
      const backups =
        done.backups > 0
          ? ` ${counted(done.backups, "backup")} made before still ${done.backups === 1 ? "holds" : "hold"} it.`
          : "";
      tell(
        `Erased from ${counted(done.quotes, "quote")}: ${counted(done.names, "name")}, ${counted(done.papers, "paper")}, ${counted(done.messages, "message")}.${backups}`,
      );
      leave();
      void queries.invalidateQueries();
      if (what !== "all") return;
      void navigate("/customers");
      goOnAt("main h1");
    },
  });
  return (
    <section aria-labelledby="kept">
      <h2 id="kept" className="small-caps-head">
        What is kept of them
      </h2>
      <p className="mb-2">
        <a href={`/api/v1/customers/${customer.id}/personal.json`} download>
          Write it all out (JSON)
        </a>
      </p>
      {sure ? (
        <div role="group" aria-label="Sure?">
          <p className="mb-2">
            {sure === "all"
              ? "Their name, addresses, words, messages, papers and name lists go from every quote, for good. What was sold, when and for how much stays."
              : "The name lists of their quotes go for good, with the papers and messages that show them. Figures stay."}
          </p>
          <button
            type="button"
            className="btn btn-primary btn-sm"
            autoFocus
            disabled={erase.isPending}
            onClick={() => erase.mutate(sure)}
          >
            {sure === "all" ? "Yes, erase them" : "Yes, erase the names"}
          </button>{" "}
          <button type="button" className="btn btn-plain" onClick={leave}>
            No
          </button>
        </div>
      ) : (
        <p className="d-flex gap-3 mb-0">
          <button
            type="button"
            className="btn btn-plain"
            data-begin="names"
            onClick={() => setSure("names")}
          >
            Erase their name lists
          </button>
          <button
            type="button"
            className="btn btn-plain"
            data-begin="all"
            onClick={() => setSure("all")}
          >
            Erase this customer
          </button>
        </p>
      )}
      <Told of={erase.error} />
    </section>
  );
}
