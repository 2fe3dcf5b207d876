// A row of the log: written from a pass that was pressed, typed in a minute, or changed.
import { Choose, TextField } from "../../parts/fields";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import Form from "react-bootstrap/Form";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import {
  del,
  get,
  keys,
  post,
  put,
  useRenew,
  useShopHouse,
  type LogRow,
  type LogView,
} from "../../api";
import { capital, counted, day, moment, number } from "../../parts/format";
import { goOnAt } from "../../parts/goOnAt";
import { Loading } from "../../parts/Loading";
import { Told } from "../../parts/Told";
import { useTell } from "../../parts/toasts";
import { usePageTitle } from "../../parts/usePageTitle";
import { useFaults } from "../../parts/useFaults";
import { MEASURED, shown, typed } from "./fields";
import { LogHead } from "./LogHead";
import style from "./Log.module.scss";

export function LogRowPage() {
  const asked = useParams()["row"] ?? "";
  const [where] = useSearchParams();
  usePageTitle("Log");
  if (asked === "new")
    return (
      <NewRow
        key={where.toString()}
        order={Number(where.get("order") ?? 0)}
        own={where.has("own")}
        pass={where.get("pass") ?? ""}
      />
    );
  return <KeptRow key={asked} id={Number(asked)} />;
}

/** A new row: its order and pass are chosen first, unless the way here says them. */
function NewRow({ order, own, pass }: { order: number; own: boolean; pass: string }) {
  const navigate = useNavigate();
  const tell = useTell();
  const renew = useRenew("log");
  const orders = useQuery({
    queryKey: keys.orders("to log"),
    queryFn: () =>
      get("/orders", {
        query: { search: "", sort: "promise", down: undefined, state: "all", cursor: "" },
      }),
    enabled: order === 0 && !own,
  });
  const passes = useQuery({
    queryKey: keys.toLog(order),
    queryFn: () => get("/orders/{order_id}/to-log", { path: { order_id: order } }),
    enabled: order > 0,
    staleTime: 0,
  });
  const pressed = useQuery({
    queryKey: keys.passLog(order, pass),
    queryFn: () =>
      get("/orders/{order_id}/passes/{pass_id}/log", { path: { order_id: order, pass_id: pass } }),
    enabled: order > 0 && pass !== "",
    staleTime: 0,
  });
  const open = passes.data?.filter((each) => !each.logged) ?? [];
  const chosen = pass || (open.length === 1 ? (open[0]?.pass_id ?? "") : "");
  const ofPass = pass ? pressed.data?.row : open.find((each) => each.pass_id === chosen)?.row;
  const begun = own ? blankRow() : ofPass;
  const save = useMutation({
    mutationFn: (row: LogRow) =>
      pass
        ? post("/orders/{order_id}/passes/{pass_id}/log", {
            path: { order_id: order, pass_id: pass },
            body: row,
          })
        : post("/log", { body: { order_id: order, row: { ...row, pass_id: chosen } } }),
    onSuccess: (view) => {
      void renew();
      tell("It is in the log, and what it took is off the shelf.");
      void navigate(`/log/${view.id}`);
      goOnAt("main h1");
    },
  });
  const error = passes.error ?? pressed.error;
  return (
    <main className="standards">
      <LogHead title="A row for the log" />
      {order === 0 && !own && (
        <section aria-label="Which order">
          <p>
            Which order was it? Or <Link to="/log/new?own">one without an order</Link>, out of a
            notebook.
          </p>
          <ul className={style["lg-choose"]}>
            {orders.data?.items.map((row) => (
              <li key={row.id}>
                <Link to={`/log/new?order=${row.id}`}>
                  {row.number} {row.customer}
                </Link>{" "}
                <span className="hint">{row.summary}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
      <Told of={error} />
      {order > 0 && !begun && !error && (passes.isPending || pressed.isPending) && (
        <Loading what="The estimate" />
      )}
      {order > 0 && !pass && passes.data && open.length !== 1 && (
        <ul className={style["lg-choose"]} aria-label="Passes">
          {open.map((each) => (
            <li key={each.pass_id}>
              <Link to={`/log/new?order=${order}&pass=${encodeURIComponent(each.pass_id)}`}>
                {each.label}
              </Link>
            </li>
          ))}
          {open.length === 0 && <li>All its passes are in the log.</li>}
        </ul>
      )}
      {begun && (
        <RowForm
          key={chosen}
          row={begun}
          order={order}
          estimatedFor={begun.sewn}
          error={save.error}
          busy={save.isPending}
          label="Write it"
          onSave={(row) => save.mutate(row)}
        />
      )}
    </main>
  );
}

function KeptRow({ id }: { id: number }) {
  const queries = useQueryClient();
  const renew = useRenew("log");
  const navigate = useNavigate();
  const tell = useTell();
  const found = useQuery({
    queryKey: keys.logRow(id),
    queryFn: () => get("/log/{row_id}", { path: { row_id: id } }),
    staleTime: 0,
  });
  const keep = (view: LogView) => {
    queries.setQueryData(keys.logRow(id), view);
    void renew();
  };
  const save = useMutation({
    mutationFn: ({ row, revision }: { row: LogRow; revision: number }) =>
      put("/log/{row_id}", { path: { row_id: id }, seen: revision, body: row }),
    onSuccess: (view, sent) => {
      const before = found.data;
      keep(view);
      tell("The row is changed.", {
        label: "Undo",
        does: () => before && save.mutate({ row: before.row, revision: sent.revision + 1 }),
      });
    },
  });
  const remove = useMutation({
    mutationFn: () => del("/log/{row_id}", { path: { row_id: id } }),
    onSuccess: () => {
      const before = found.data;
      void renew();
      tell("The row is gone, and the shelf has back what it had booked.", {
        label: "Undo",
        does: () =>
          before &&
          void post("/log", { body: { order_id: before.order_id, row: before.row } }).then(
            (view) => {
              void renew();
              void navigate(`/log/${view.id}`);
            },
          ),
      });
      void navigate("/log");
      goOnAt("main h1");
    },
  });
  const view = found.data;
  return (
    <main className="standards">
      <LogHead title={view ? `Log, ${view.row.order || view.row.goods}` : "Log"}>
        {view && view.order_id > 0 && <Link to={`/orders/${view.order_id}`}>The order</Link>}
      </LogHead>
      {found.error && <Told of={found.error} />}
      {found.isPending && <Loading what="The row" />}
      {view && (
        <>
          <p>
            {view.row.customer || "No customer"}: {view.row.design || "no design"}, sewn{" "}
            {day(view.row.finished_on)}. {view.row.method}
          </p>
          <ul aria-label="What was different">
            {view.said.map((words) => (
              <li key={words}>{capital(words)}</li>
            ))}
            {view.said.length === 0 && <li>As estimated, as far as it was measured.</li>}
          </ul>
          {view.wild.map((key) => (
            <p key={key} className={style["lg-wild"]} role="alert">
              {capital(key)}: more than three times off. Was it so?{" "}
              <button
                type="button"
                className="btn btn-outline-primary btn-sm"
                disabled={save.isPending}
                onClick={() =>
                  save.mutate({
                    row: { ...view.row, confirmed: [...view.row.confirmed, key] },
                    revision: view.revision,
                  })
                }
              >
                It was so: let it count
              </button>{" "}
              <span className="hint">
                Or correct the figure below. Until then this row counts nowhere.
              </span>
            </p>
          ))}
          <RowForm
            key={view.revision}
            row={view.row}
            order={view.order_id}
            estimatedFor={view.row.sewn}
            error={save.error ?? remove.error}
            busy={save.isPending}
            label="Keep the change"
            onSave={(row) => save.mutate({ row, revision: view.revision })}
          >
            <button
              type="button"
              className="btn btn-outline-primary"
              onClick={() => remove.mutate()}
            >
              Remove the row
            </button>
          </RowForm>
          {view.row.photo && (
            <img
              className={style["lg-photo"]}
              src={`/api/v1/photos/${view.row.photo}.jpg`}
              alt="From this pass"
            />
          )}
          {view.revision > 1 && <History id={id} revision={view.revision} />}
        </>
      )}
    </main>
  );
}

function History({ id, revision }: { id: number; revision: number }) {
  const found = useQuery({
    queryKey: keys.logHistory(id, revision),
    queryFn: () => get("/log/{row_id}/history", { path: { row_id: id } }),
  });
  return (
    <section aria-label="What it was">
      <h2 className="small-caps-head">What it was</h2>
      <ul>
        {found.data?.map((was) => (
          <li key={was.revision}>
            Until {moment(was.until)}: {counted(was.row.sewn, "piece")}, {was.row.spoiled} spoiled
            {MEASURED.map(([name, label, unit, by]) => {
              const value = was.row.actual[name];
              return value === null || value === undefined
                ? ""
                : `, ${label.toLowerCase()} ${shown(value, by)}${unit && ` ${unit}`}`;
            }).join("")}
            {was.row.excluded && ", left out"}
          </li>
        ))}
      </ul>
    </section>
  );
}

interface FormProps {
  row: LogRow;
  /** Whose pass it was; 0 for none. */
  order: number;
  /** For how many pieces the estimate was made. */
  estimatedFor: number;
  error: unknown;
  busy: boolean;
  label: string;
  onSave: (row: LogRow) => void;
  children?: React.ReactNode;
}

function RowForm(props: FormProps) {
  const { row, order, estimatedFor, error, busy, label, onSave, children } = props;
  const own = row.order === "";
  const id = useId();
  const { faults } = useFaults();
  const again = faults[0]?.again ?? "";
  const [text, setText] = useState(() =>
    Object.fromEntries(MEASURED.map(([name, , , by]) => [name, shown(row.actual[name], by)])),
  );
  const [meant, setMeant] = useState(() =>
    Object.fromEntries(MEASURED.map(([name, , , by]) => [name, shown(row.estimated[name], by)])),
  );
  const [whole, setWhole] = useState(row);
  const [mended, setMended] = useState(String(row.mended));
  const [sewn, setSewn] = useState(String(row.sewn));
  const [spoiled, setSpoiled] = useState(String(row.spoiled));
  const [reason, setReason] = useState(Object.keys(row.reasons)[0] ?? "");
  const [wrong, setWrong] = useState("");
  // a row of its own is estimated as it is typed; a pass's follows how many were sewn
  const scale = own ? 1 : (Number(sewn) || estimatedFor) / Math.max(1, estimatedFor);
  const estimate = (name: (typeof MEASURED)[number][0], by: number) => {
    const value = row.estimated[name];
    if (value === null || value === undefined) return "";
    return number((value * (name === "order_s" ? 1 : scale)) / by, by === 60 ? 1 : 1);
  };
  const submit = () => {
    const actual = { ...row.actual };
    const estimated = { ...row.estimated };
    for (const [name, said, , by] of MEASURED) {
      const sides = [
        [actual, text[name] ?? "", `${id}-${name}`],
        ...(own ? [[estimated, meant[name] ?? "", `${id}-${name}-e`] as const] : []),
      ] as const;
      for (const [side, written, field] of sides) {
        const value = typed(written, by);
        if (Number.isNaN(value)) {
          setWrong(`${said}: ${written} is no amount. Write a number, such as 12.5.`);
          document.getElementById(field)?.focus();
          return;
        }
        side[name] = value;
      }
    }
    const [count, bad, again] = [Number(sewn), Number(spoiled || 0), Number(mended || 0)];
    const whole_ = [count, bad, again].every((n) => Number.isInteger(n) && n >= 0);
    if (!whole_ || count < 1 || bad > count) {
      setWrong("Sewn, spoiled and mended are whole numbers; spoiled ones are sewn, too.");
      document.getElementById(`${id}-sewn`)?.focus();
      return;
    }
    setWrong("");
    if (scale !== 1)
      for (const [name] of MEASURED)
        if (name !== "order_s" && estimated[name] !== null)
          estimated[name] = (estimated[name] ?? 0) * scale;
    const reasons =
      Object.keys(row.reasons).length > 1 || bad + again === 0 || !reason
        ? row.reasons
        : { [reason]: bad + again };
    const threads = whole.threads.map((each) => ({
      ...each,
      estimated_m: each.estimated_m * scale,
    }));
    onSave({
      ...whole,
      actual,
      estimated,
      sewn: count,
      spoiled: bad,
      mended: again,
      reasons,
      threads,
    });
  };
  return (
    <form
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        submit();
      }}
    >
      <div className={style["lg-form"]}>
        <TextField
          label="Finished"
          type="date"
          value={whole.finished_on}
          onChange={(typed) => setWhole({ ...whole, finished_on: typed })}
        />
        <TextField
          label="Sewn, spoiled ones too"
          inputMode="numeric"
          value={sewn}
          onChange={(typed) => setSewn(typed)}
        />
        <TextField
          label="Spoiled of them"
          inputMode="numeric"
          value={spoiled}
          onChange={(typed) => setSpoiled(typed)}
        />
        <TextField
          label="Mended"
          inputMode="numeric"
          value={mended}
          onChange={(typed) => setMended(typed)}
        />
        {Number(spoiled) + Number(mended) > 0 && (
          <Choose
            label="What was seen"
            value={reason}
            onChange={(typed) => setReason(typed)}
            options={[["", "not said"], ...faults.map((fault) => [fault.id, fault.short] as const)]}
          />
        )}
      </div>
      {row.seen > 0 && (
        <p className="hint">
          The machine told of {row.seen} of {row.sewn} pieces: its figures are scaled to all.
        </p>
      )}
      {Number(spoiled) + Number(mended) > 1 && again && <p className="hint">{again}</p>}
      {own && <OwnWords row={whole} onChange={setWhole} />}
      <table className={style["lg-measured"]}>
        <thead>
          <tr>
            <th scope="col">What it took</th>
            <th scope="col">Estimated</th>
            <th scope="col">It was</th>
          </tr>
        </thead>
        <tbody>
          {MEASURED.map(([name, said, unit, by]) => (
            <tr key={name}>
              <th scope="row">
                <label htmlFor={`${id}-${name}`}>
                  {said}
                  {unit && <span className="hint"> {unit}</span>}
                </label>
              </th>
              <td>
                {own ? (
                  <Form.Control
                    id={`${id}-${name}-e`}
                    aria-label={`${said}, estimated`}
                    inputMode="decimal"
                    value={meant[name] ?? ""}
                    onChange={(e) => setMeant({ ...meant, [name]: e.target.value })}
                  />
                ) : (
                  estimate(name, by)
                )}
              </td>
              <td>
                <Form.Control
                  id={`${id}-${name}`}
                  inputMode="decimal"
                  value={text[name] ?? ""}
                  onChange={(e) => setText({ ...text, [name]: e.target.value })}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="hint">
        What nobody measured stays empty. Estimated with every factor at 1; thread and needle time
        teach {whole.known ? "here, since the design is a file" : "only where the design is a file"}
        .
      </p>
      {whole.threads.length > 0 && (
        <Threads
          threads={whole.threads}
          scale={scale}
          onChange={(threads) => setWhole({ ...whole, threads })}
        />
      )}
      <Form.Label htmlFor={`${id}-note`}>Note, for next time</Form.Label>
      <Form.Control
        id={`${id}-note`}
        as="textarea"
        rows={2}
        maxLength={2000}
        value={whole.note}
        onChange={(e) => setWhole({ ...whole, note: e.target.value })}
      />
      <Form.Check
        id={`${id}-out`}
        className="mt-2"
        label="Leave it out of what the log teaches"
        checked={whole.excluded}
        onChange={(e) => setWhole({ ...whole, excluded: e.target.checked })}
      />
      <Form.Check
        id={`${id}-known`}
        label="The design is a stitch file: thread and needle time teach"
        checked={whole.known}
        onChange={(e) => setWhole({ ...whole, known: e.target.checked })}
      />
      {order > 0 && (
        <PhotoField
          id={`${id}-photo`}
          order={order}
          kept={whole.photo !== ""}
          onKept={(photo) => setWhole({ ...whole, photo })}
        />
      )}
      {wrong && (
        <p role="alert" className="invalid-feedback d-block">
          {wrong}
        </p>
      )}
      <Told of={error} />
      <p className="d-flex gap-2 mt-3">
        <button type="submit" className="btn btn-primary" disabled={busy}>
          {label}
        </button>
        {children}
      </p>
    </form>
  );
}

interface WordsProps {
  row: LogRow;
  onChange: (row: LogRow) => void;
}

/** What a row without an order is of: in the shop's own words and tables. */
function OwnWords({ row, onChange }: WordsProps) {
  const house = useShopHouse().data;
  const words: ["customer" | "design" | "method", string][] = [
    ["customer", "Customer"],
    ["design", "Design"],
    ["method", "How it was made"],
  ];
  const tables: ["goods" | "place" | "machine", string, Record<string, { label: string }>][] = [
    ["goods", "Goods", house?.goods ?? {}],
    ["place", "Place", house?.positions ?? {}],
    ["machine", "Machine", house?.machines ?? {}],
  ];
  return (
    <div className={style["lg-form"]}>
      {words.map(([name, label]) => (
        <TextField
          key={name}
          label={label}
          maxLength={200}
          value={row[name]}
          onChange={(typed) => onChange({ ...row, [name]: typed })}
        />
      ))}
      {tables.map(([name, label, rows]) => (
        <Choose
          key={name}
          label={label}
          value={row[name]}
          onChange={(typed) => onChange({ ...row, [name]: typed })}
          options={[
            ["", "not said"],
            ...Object.entries(rows).map(([key, each]) => [key, each.label] as const),
          ]}
        />
      ))}
    </div>
  );
}

interface PhotoProps {
  id: string;
  order: number;
  kept: boolean;
  onKept: (photo: string) => void;
}

function PhotoField({ id, order, kept, onKept }: PhotoProps) {
  const send = useMutation({
    mutationFn: (file: File) =>
      post("/orders/{order_id}/photos", { path: { order_id: order }, file }),
    onSuccess: (found) => onKept(found["photo"] ?? ""),
  });
  return (
    <div className="mt-2">
      <Form.Label htmlFor={id}>{kept ? "Another photo" : "Photo"}</Form.Label>
      <Form.Control
        id={id}
        type="file"
        accept="image/jpeg,image/png,image/webp"
        onChange={(e) => {
          const file = (e.target as HTMLInputElement).files?.[0];
          if (file) send.mutate(file);
        }}
      />
      <Told of={send.error} />
    </div>
  );
}

/** A row of which nothing is known yet. */
function blankRow(): LogRow {
  const none = Object.fromEntries(MEASURED.map(([name]) => [name, null])) as LogRow["actual"];
  const words = { order: "", pass_id: "", customer: "", design: "", goods: "", place: "" };
  const today = new Date();
  const local = new Date(today.getTime() - today.getTimezoneOffset() * 60_000);
  return {
    ...words,
    machine: "",
    method: "",
    methods: {},
    finished_on: local.toISOString().slice(0, 10),
    sewn: 1,
    planned: 0,
    seen: 0,
    lines: [],
    spoiled: 0,
    mended: 0,
    reasons: {},
    known: false,
    estimated: none,
    actual: none,
    threads: [],
    bobbin_item: "",
    scale_g: 0.1,
    note: "",
    photo: "",
    source: "typed",
    excluded: false,
    confirmed: [],
  };
}

type Thread = LogRow["threads"][number];

interface ThreadsProps {
  threads: Thread[];
  scale: number;
  onChange: (threads: Thread[]) => void;
}

/** Thread by colour: cones before and after, or metres. */
function Threads({ threads, scale, onChange }: ThreadsProps) {
  const change = (n: number, name: "grams_before" | "grams_after" | "metres", said: string) => {
    const value = typed(said, 1);
    if (Number.isNaN(value)) return;
    onChange(threads.map((each, i) => (i === n ? { ...each, [name]: value } : each)));
  };
  const field = (n: number, each: Thread, name: "grams_before" | "grams_after" | "metres") => (
    <Form.Control
      aria-label={`${each.label}, ${
        { grams_before: "grams before", grams_after: "grams after", metres: "metres" }[name]
      }`}
      inputMode="decimal"
      defaultValue={shown(each[name], 1)}
      onChange={(e) => change(n, name, e.target.value)}
    />
  );
  return (
    <table className={style["lg-measured"]}>
      <thead>
        <tr>
          <th scope="col">Needle thread by colour</th>
          <th scope="col">Estimated, m</th>
          <th scope="col">Before, g</th>
          <th scope="col">After, g</th>
          <th scope="col">or metres</th>
        </tr>
      </thead>
      <tbody>
        {threads.map((each, n) => (
          <tr key={each.label}>
            <th scope="row">{each.label}</th>
            <td>{number(each.estimated_m * scale, 1)}</td>
            <td>{field(n, each, "grams_before")}</td>
            <td>{field(n, each, "grams_after")}</td>
            <td>{field(n, each, "metres")}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
