// Backups: made, downloaded, taken in, gone back to; and how the shop makes them by itself.
import { TextField } from "../../parts/fields";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import Form from "react-bootstrap/Form";
import {
  get,
  keys,
  post,
  problemOf,
  put,
  restoreBackup,
  useRenew,
  type BackupPlan,
} from "../../api";
import { TakeDocument } from "../../parts/TakeDocument";
import { Told } from "../../parts/Told";
import { bytes, counted, moment } from "../../parts/format";
import { goOnAt } from "../../parts/goOnAt";
import { useTell } from "../../parts/toasts";
import { usePageTitle } from "../../parts/usePageTitle";
import { Unreadable } from "./Unreadable";
import style from "./BackupsPage.module.scss";

export function BackupsPage() {
  usePageTitle("Backups");
  const queries = useQueryClient();
  const backups = useQuery({
    queryKey: keys.backups(),
    queryFn: () => get("/backups"),
    staleTime: 0,
  });
  const tell = useTell();
  const [sure, setSure] = useState<string | null>(null);
  const renew = useRenew("backups");
  const mutationKey = ["back up"]; // pressed twice before it is drawn as pressed, it is done once
  const make = useMutation({ mutationKey, mutationFn: () => post("/backups"), onSuccess: renew });
  const take = useMutation({
    mutationFn: (file: File) => post("/backups/taken", { file }),
    onSuccess: (row) => {
      tell(`${row.name} is here. Nothing was gone back to yet.`);
      void renew();
    },
  });
  const restore = useMutation({
    mutationFn: restoreBackup,
    onSuccess: (row) => {
      setSure(null);
      goOnAt("main h1");
      tell(`The shop is as it was at ${moment(row.made_on)}.`);
      void queries.invalidateQueries();
    },
  });
  const error = make.error ?? take.error ?? restore.error;
  return (
    <main className="standards">
      <h1 tabIndex={-1}>Backups</h1>
      <p className="hint">
        A backup holds quotes, customers, standards, stitch files, papers and the outbox. Going back
        to one first backs up what is there.
      </p>
      <div className="d-flex gap-2 flex-wrap">
        <button
          type="button"
          className="btn btn-primary"
          disabled={make.isPending}
          onClick={() => {
            if (!queries.isMutating({ mutationKey })) make.mutate();
          }}
        >
          {make.isPending ? "Backing up …" : "Back up now"}
        </button>
        <label className="btn btn-outline-primary mb-0">
          {take.isPending ? "Taking it in …" : "Take one in from a file"}
          <input
            type="file"
            className="visually-hidden"
            accept=".zip"
            onChange={(e) => {
              const chosen = e.target.files?.[0];
              if (chosen) take.mutate(chosen);
              e.target.value = "";
            }}
          />
        </label>
      </div>
      <Told of={error} />
      <Unreadable />
      <Plan />
      <section aria-labelledby="there">
        <h2 id="there" className="small-caps-head">
          What is there
        </h2>
        <ul className={style["ba-list"]}>
          {backups.data?.map((row) => (
            <li key={row.name}>
              <span>
                <b>{moment(row.made_on) || row.name}</b>, {bytes(row.size_bytes)}
                <span className="hint d-block">{row.name}</span>
              </span>
              <span className={style["ba-does"]}>
                {sure === row.name ? (
                  <>
                    <button
                      type="button"
                      className="btn btn-primary btn-sm"
                      autoFocus
                      disabled={restore.isPending}
                      onClick={() => restore.mutate(row.name)}
                    >
                      Yes, go back to it
                    </button>
                    <button
                      type="button"
                      className="btn btn-plain"
                      onClick={() => {
                        setSure(null);
                        goOnAt(`[data-begin='${row.name}']`);
                      }}
                    >
                      No
                    </button>
                  </>
                ) : (
                  <>
                    <a href={`/api/v1/backups/${row.name}`} download>
                      Download
                    </a>
                    <button
                      type="button"
                      className="btn btn-plain"
                      data-begin={row.name}
                      onClick={() => setSure(row.name)}
                    >
                      Go back to it
                    </button>
                  </>
                )}
              </span>
            </li>
          ))}
        </ul>
        {backups.data?.length === 0 && <p>None yet.</p>}
      </section>
      <section aria-labelledby="elsewhere">
        <h2 id="elsewhere" className="small-caps-head">
          For another shop or program
        </h2>
        <p className="hint">
          Standards, designs, quotes, orders, shelf and log in an open format. Read in, each takes
          its place beside what is here, with its own figures.
        </p>
        <a className="me-3" href="/api/v1/shop-documents/shop.json" download>
          The whole shop as a document
        </a>
        <TakeDocument />
      </section>
    </main>
  );
}

/** Every so many days, copied elsewhere, so many kept. */
function Plan() {
  const plan = useQuery({
    queryKey: keys.backupPlan(),
    queryFn: () => get("/backup-plan"),
    staleTime: 0,
  });
  if (!plan.data) return null;
  return <PlanForm key={JSON.stringify(plan.data)} plan={plan.data} />;
}

function PlanForm({ plan }: { plan: BackupPlan }) {
  const id = useId();
  const queries = useQueryClient();
  const tell = useTell();
  const [days, setDays] = useState(String(plan.every_days ?? 0));
  const [keep, setKeep] = useState(String(plan.keep ?? 10));
  const [folder, setFolder] = useState(plan.folder ?? "");
  const change = useMutation({
    mutationFn: () =>
      put("/backup-plan", {
        body: { every_days: Number(days) || 0, keep: Number(keep) || 1, folder },
      }),
    onSuccess: (now) => {
      queries.setQueryData(keys.backupPlan(), now);
      void queries.invalidateQueries({ queryKey: keys.backups() });
      tell(
        now.every_days
          ? `Backed up every ${counted(now.every_days, "day")}, next on ${moment(now.next_on)}.`
          : "Backed up by hand alone.",
      );
    },
  });
  const problem = problemOf(change.error);
  const wrong = problem?.where.includes("folder");
  return (
    <section aria-labelledby={`${id}-head`}>
      <h2 id={`${id}-head`} className="small-caps-head">
        By itself
      </h2>
      <form
        className={style["ba-plan"]}
        onSubmit={(e) => {
          e.preventDefault();
          change.mutate();
        }}
      >
        <TextField
          label="Every so many days (0 never)"
          inputMode="numeric"
          value={days}
          onChange={(typed) => setDays(typed.replace(/\D/g, ""))}
        />
        <TextField
          label="How many are kept"
          inputMode="numeric"
          value={keep}
          onChange={(typed) => setKeep(typed.replace(/\D/g, ""))}
        />
        <div className={style["ba-folder"]}>
          <Form.Label htmlFor={`${id}-f`}>Copied to this folder, too</Form.Label>
          <Form.Control
            id={`${id}-f`}
            value={folder}
            placeholder="/media/stick/backups"
            isInvalid={!!wrong}
            aria-invalid={!!wrong}
            aria-describedby={problem ? `${id}-wrong` : undefined}
            onChange={(e) => setFolder(e.target.value)}
          />
        </div>
        <button type="submit" className="btn btn-outline-primary" disabled={change.isPending}>
          Keep to it
        </button>
      </form>
      <Told of={problem} id={`${id}-wrong`} />
      <p className="hint mb-0" role="status">
        {plan.last_on && `Last on ${moment(plan.last_on)}. `}
        {plan.next_on && `Next on ${moment(plan.next_on)}, while the shop is served.`}
      </p>
      {plan.trouble && (
        <p className={style["ba-trouble"]} role="alert">
          It did not go well the last time: {plan.trouble}
        </p>
      )}
    </section>
  );
}
