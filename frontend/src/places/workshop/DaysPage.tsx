// People and days: each person's week drawn, days off, closing days from a calendar, machines,
// suppliers and the carrier.
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { del, post, problemOf, useRenew, useStandards, type Standard } from "../../api";
import { counted, day } from "../../parts/format";
import { goOnAt } from "../../parts/goOnAt";
import { Loading } from "../../parts/Loading";
import { Told } from "../../parts/Told";
import { useTell } from "../../parts/toasts";
import { usePageTitle } from "../../parts/usePageTitle";
import { AddRow } from "./AddRow";
import { PlaceHead } from "./PlaceHead";
import { StandardRow } from "./StandardRow";
import { WeekDrawn } from "./WeekDrawn";
import style from "./DaysPage.module.scss";

const DAYS = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"];
const rowOf = (standard: Standard) => standard.key.split(".")[1] ?? "";
const columnOf = (standard: Standard) => standard.key.split(".")[2] ?? "";

export function DaysPage() {
  usePageTitle("People and days");
  const standards = useStandards();
  const renew = useRenew("standards");
  const all = standards.data;
  if (!all) return <Loading what="People and days" />;
  const of = (section: string) => all.filter((each) => each.key.startsWith(`${section}.`));
  const people = [...new Set(of("people").map(rowOf))];
  const rows = (list: Standard[]) =>
    list.map((each) => (
      <StandardRow
        key={`${each.key} ${String(each.value)}`}
        standard={each}
        sign=""
        renew={renew}
      />
    ));
  return (
    <main className="standards">
      <PlaceHead place="workshop" at="/workshop/days" />
      <h2 tabIndex={-1}>People and days</h2>
      <p className="hint">
        When who works. Draw a stretch where none is; from within one, a break is rubbed out. Each
        day can be typed too.
      </p>
      {people.map((person) => {
        const own = of("people").filter((each) => rowOf(each) === person);
        const label = own.find((each) => columnOf(each) === "label");
        return (
          <section key={person} aria-label={String(label?.value ?? person)}>
            <h3 className="small-caps-head">{String(label?.value ?? person)}</h3>
            <div className={style["dy-week"]}>
              {DAYS.map((each) => {
                const standard = own.find((row) => columnOf(row) === each);
                return (
                  standard && (
                    <WeekDrawn
                      key={`${standard.key} ${String(standard.value)}`}
                      standard={standard}
                      renew={renew}
                    />
                  )
                );
              })}
            </div>
            {rows(own.filter((each) => ["label", "off", "also"].includes(columnOf(each))))}
            {label?.added && <Gone person={person} name={String(label.value)} renew={renew} />}
          </section>
        );
      })}
      <AddRow
        section="people"
        button="+ somebody else"
        rows={people.map((person) => [
          person,
          String(all.find((each) => each.key === `people.${person}.label`)?.value ?? person),
        ])}
      />
      <section aria-label="Closing days">
        <h3 className="small-caps-head" id="closing">
          Closing days
        </h3>
        {rows(of("week").filter((each) => each.key === "week.closed"))}
        <FromCalendar renew={renew} />
      </section>
      <section aria-label="Machines, suppliers, carrier">
        <h3 className="small-caps-head">Machines, suppliers, carrier</h3>
        {rows(of("machines").filter((each) => columnOf(each) === "out"))}
        {rows(
          of("suppliers").filter((each) =>
            ["days", "works", "closed", "express_days", "express"].includes(columnOf(each)),
          ),
        )}
        {rows(of("week").filter((each) => each.key !== "week.closed"))}
      </section>
    </main>
  );
}

interface GoneProps {
  person: string;
  name: string;
  renew: () => Promise<void>;
}

function Gone({ person, name, renew }: GoneProps) {
  const tell = useTell();
  const remove = useMutation({
    mutationFn: () =>
      del("/standard-rows/{section}/{row}", { path: { section: "people", row: person } }),
    onSuccess: () => {
      void renew();
      tell(`${name} is removed, with their week.`);
      goOnAt("main h2");
    },
  });
  const problem = problemOf(remove.error);
  return (
    <>
      <button type="button" className="btn btn-plain" onClick={() => remove.mutate()}>
        Remove {name}
      </button>
      <Told of={problem} />
    </>
  );
}

function FromCalendar({ renew }: { renew: () => Promise<void> }) {
  const tell = useTell();
  const [left, setLeft] = useState<Set<string>>(new Set());
  const read = useMutation({
    mutationFn: (file: File) => post("/calendar-days", { file }),
    onSuccess: () => setLeft(new Set()),
  });
  const take = useMutation({
    mutationFn: (days: string[]) => post("/closed-days", { body: { days } }),
    onSuccess: async (_, days) => {
      await renew();
      read.reset();
      tell(`${counted(days.length, "closing day")} taken.`);
      goOnAt("main h2");
    },
  });
  const error = read.error ?? take.error;
  const problem = problemOf(error);
  const fresh = read.data?.days.filter((each) => !each.closed) ?? [];
  const chosen = fresh.filter((each) => !left.has(each.day)).map((each) => each.day);
  return (
    <>
      <label className="btn btn-outline-primary btn-sm mb-0">
        {read.isPending ? "Reading it …" : "Take days from a calendar (.ics)"}
        <input
          type="file"
          className="visually-hidden"
          accept=".ics,text/calendar"
          onChange={(e) => {
            const file = e.target.files?.[0];
            if (file) read.mutate(file);
            e.target.value = "";
          }}
        />
      </label>
      <Told of={problem} />
      {read.data && fresh.length === 0 && (
        <p role="status">It names no day from today on that is not closed already.</p>
      )}
      {fresh.length > 0 && (
        <div role="group" aria-label="Days of the calendar">
          <ul className={style["dy-days"]}>
            {fresh.map((each) => (
              <li key={each.day}>
                <label className="form-check mb-0">
                  <input
                    type="checkbox"
                    className="form-check-input"
                    checked={!left.has(each.day)}
                    onChange={(e) => {
                      const next = new Set(left);
                      if (e.target.checked) next.delete(each.day);
                      else next.add(each.day);
                      setLeft(next);
                    }}
                  />{" "}
                  {day(each.day)} <span className="hint">{each.name}</span>
                </label>
              </li>
            ))}
          </ul>
          <button
            type="button"
            className="btn btn-primary btn-sm"
            disabled={chosen.length === 0 || take.isPending}
            onClick={() => take.mutate(chosen)}
          >
            Close on {counted(chosen.length, "day")}
          </button>
        </div>
      )}
    </>
  );
}
