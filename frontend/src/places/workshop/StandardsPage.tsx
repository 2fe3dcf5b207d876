// Standards: every default, searched, edited, reset.
import { Choose } from "../../parts/fields";
import { ListPage, useLook } from "../../lists";
import { useMutation } from "@tanstack/react-query";
import { useId, useState } from "react";
import Form from "react-bootstrap/Form";
import { Link } from "react-router";
import { del, useRenew, useStandards, type Standard } from "../../api";
import { symbol } from "../../parts/format";
import { usePageTitle } from "../../parts/usePageTitle";
import { SetAside } from "./SetAside";
import { StandardRow } from "./StandardRow";

const MOST_SHOWN = 150;

function matches(standard: Standard, search: string): boolean {
  const text = [standard.key, standard.topic, standard.of, standard.name, standard.reason]
    .join(" ")
    .toLowerCase();
  return search
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word));
}

export function StandardsPage() {
  usePageTitle("Standards");
  const standards = useStandards();
  const look = useLook("standards", "");
  const { search } = look;
  const topic = look.value("topic");
  const changedOnly = look.value("changed") === "true";
  const id = useId();
  const all = standards.data ?? [];
  const sign = symbol(String(all.find((s) => s.key === "price.currency")?.value ?? "GBP"));
  const topics = [...new Set(all.map((s) => s.topic))];
  const changed = all.filter((s) => s.changed && !s.added).length;
  const found = all.filter(
    (s) =>
      (!topic || s.topic === topic) &&
      (!changedOnly || (s.changed && !s.added)) &&
      matches(s, search.trim()),
  );
  const shown = found.slice(0, MOST_SHOWN);
  const renew = useRenew("standards");
  const resetAll = useMutation({ mutationFn: () => del("/standards"), onSuccess: renew });
  const list = {
    rows: found,
    total: standards.data ? found.length : null,
    pending: standards.isPending,
    error: standards.error,
    more: null,
  };
  return (
    <ListPage
      what="The standards"
      head={
        <>
          <div className="d-flex justify-content-between align-items-center">
            <h1 tabIndex={-1}>Standards</h1>
            <Link to="/workshop/backups" className="btn btn-outline-primary">
              Backups
            </Link>
          </div>
          <p className="hint">
            What the shop holds to. Every estimate starts from these; each has a unit, a range, and
            the reason it is as it is.
          </p>
        </>
      }
      look={look}
      finds="labour, polo thickness, film …"
      filters={
        <>
          <Choose
            label="Topic"
            value={topic}
            options={[["", "All"], ...topics.map((name) => [name, name] as const)]}
            onChange={(to) => look.set("topic", to)}
          />
          <Form.Check
            id={id}
            className="mb-2"
            label={`Changed here (${changed})`}
            checked={changedOnly}
            onChange={(e) => look.set("changed", e.target.checked ? "true" : "")}
          />
          <ResetAll off={changed === 0} onReset={() => resetAll.mutate()} />
        </>
      }
      list={list}
      told={`${found.length} of ${all.length}`}
      before={standards.data && <SetAside all={standards.data} />}
      files={{
        at: "/api/v1/standard-lists/standards",
        query: { search, topic, changed: changedOnly ? "true" : "" },
      }}
      empty={<p className="mt-3">Nothing is called that.</p>}
    >
      {topics.map((name) => (
        <Topic
          key={name}
          name={name}
          rows={shown.filter((s) => s.topic === name)}
          sign={sign}
          renew={renew}
        />
      ))}
      {found.length > shown.length && (
        <p className="hint mt-3">{found.length - shown.length} more: search, or choose a topic.</p>
      )}
    </ListPage>
  );
}

interface TopicProps {
  name: string;
  rows: Standard[];
  sign: string;
  renew: () => Promise<void>;
}

function Topic({ name, rows, sign, renew }: TopicProps) {
  if (rows.length === 0) return null;
  return (
    <section aria-label={name}>
      <h2 className="small-caps-head">{name}</h2>
      {rows.map((s) => (
        <StandardRow
          key={`${s.key}=${JSON.stringify(s.value)}`}
          standard={s}
          sign={sign}
          renew={renew}
        />
      ))}
    </section>
  );
}

function ResetAll({ off, onReset }: { off: boolean; onReset: () => void }) {
  const [sure, setSure] = useState(false);
  if (sure && !off)
    return (
      <span className="d-flex gap-2">
        <button
          type="button"
          className="btn btn-primary"
          onClick={() => {
            onReset();
            setSure(false);
          }}
        >
          Yes, reset all
        </button>
        <button type="button" className="btn btn-outline-primary" onClick={() => setSure(false)}>
          Keep them
        </button>
      </span>
    );
  return (
    <button
      type="button"
      className="btn btn-outline-primary"
      disabled={off}
      onClick={() => setSure(true)}
    >
      Reset all
    </button>
  );
}
