// Standards: every default, searched, edited, reset.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import Form from "react-bootstrap/Form";
import { Link } from "react-router";
import { api, type Standard } from "../../api/client";
import { symbol } from "../../parts/format";
import { ListFiles } from "../../parts/SortHead";
import { useLook } from "../../parts/useLook";
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
  const standards = useQuery({ queryKey: ["standards"], queryFn: api.standards });
  const queries = useQueryClient();
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
  const renew = async () => {
    await Promise.all(
      ["standards", "house", "price"].map((key) => queries.invalidateQueries({ queryKey: [key] })),
    );
  };
  const resetAll = useMutation({ mutationFn: api.resetStandards, onSuccess: renew });
  return (
    <main className="standards">
      <div className="d-flex justify-content-between align-items-center">
        <h1 tabIndex={-1}>Standards</h1>
        <Link to="/workshop/backups" className="btn btn-outline-primary">
          Backups
        </Link>
      </div>
      <p className="hint">
        What the shop holds to. Every estimate starts from these; each has a unit, a range, and the
        reason it is as it is.
      </p>
      <div className="tools">
        <div>
          <Form.Label htmlFor={`${id}-s`}>Search</Form.Label>
          <Form.Control
            id={`${id}-s`}
            type="search"
            value={search}
            placeholder="labour, polo thickness, film …"
            onChange={(e) => look.set("search", e.target.value)}
          />
        </div>
        <div>
          <Form.Label htmlFor={`${id}-t`}>Topic</Form.Label>
          <Form.Select
            id={`${id}-t`}
            value={topic}
            onChange={(e) => look.set("topic", e.target.value)}
          >
            <option value="">All</option>
            {topics.map((name) => (
              <option key={name}>{name}</option>
            ))}
          </Form.Select>
        </div>
        <Form.Check
          id={`${id}-c`}
          className="mb-2"
          label={`Changed here (${changed})`}
          checked={changedOnly}
          onChange={(e) => look.set("changed", e.target.checked ? "true" : "")}
        />
        <span className="hint mb-2" role="status">
          {standards.data && `${found.length} of ${all.length}`}
        </span>
        <ResetAll off={changed === 0} onReset={() => resetAll.mutate()} />
      </div>
      {standards.data && <SetAside all={standards.data} />}
      {standards.error && (
        <p role="alert">The shop's server does not answer. Start it, then reload.</p>
      )}
      {topics.map((name) => {
        const rows = shown.filter((s) => s.topic === name);
        return (
          rows.length > 0 && (
            <section key={name} aria-label={name}>
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
          )
        );
      })}
      {found.length > shown.length && (
        <p className="hint mt-3">{found.length - shown.length} more: search, or choose a topic.</p>
      )}
      {found.length > 0 && (
        <p className="mt-3 mb-0">
          <ListFiles
            at="/api/v1/standard-lists/standards"
            query={{ search, topic, changed: changedOnly ? "true" : "" }}
          />
        </p>
      )}
      {standards.data && found.length === 0 && <p className="mt-3">Nothing is called that.</p>}
    </main>
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
