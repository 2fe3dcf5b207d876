// Backups: made and restored while the shop is open.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ProblemError } from "../../api/client";
import { number } from "../../parts/format";
import { useTell } from "../../parts/toasts";
import { usePageTitle } from "../../parts/usePageTitle";

export function BackupsPage() {
  usePageTitle("Backups");
  const queries = useQueryClient();
  const backups = useQuery({ queryKey: ["backups"], queryFn: api.backups, staleTime: 0 });
  const tell = useTell();
  const [sure, setSure] = useState<string | null>(null);
  const make = useMutation({
    mutationFn: api.makeBackup,
    onSuccess: () => void queries.invalidateQueries({ queryKey: ["backups"] }),
  });
  const restore = useMutation({
    mutationFn: api.restoreBackup,
    onSuccess: (row) => {
      setSure(null);
      tell(`The shop is as it was at ${row.made_on}.`);
      void queries.invalidateQueries();
    },
  });
  const error = make.error ?? restore.error;
  return (
    <main className="standards">
      <h1>Backups</h1>
      <p className="hint">
        A backup holds quotes, standards, stitch files, papers and the outbox. Copy it to another
        place now and then. Going back to one first backs up what is there.
      </p>
      <button
        type="button"
        className="btn btn-primary"
        disabled={make.isPending}
        onClick={() => make.mutate()}
      >
        {make.isPending ? "Backing up …" : "Back up now"}
      </button>
      {error instanceof ProblemError && (
        <p role="alert" className="invalid-feedback d-block">
          {error.problem.detail} {error.problem.remedy}
        </p>
      )}
      <ul className="outbox-list mt-3">
        {backups.data?.map((row) => (
          <li key={row.name} className="mb-2">
            {row.name}, {number(row.size_bytes / 1024)} kB{" "}
            {sure === row.name ? (
              <>
                <button
                  type="button"
                  className="btn btn-primary btn-sm"
                  disabled={restore.isPending}
                  onClick={() => restore.mutate(row.name)}
                >
                  Yes, go back to it
                </button>{" "}
                <button type="button" className="btn btn-plain" onClick={() => setSure(null)}>
                  No
                </button>
              </>
            ) : (
              <button type="button" className="btn btn-plain" onClick={() => setSure(row.name)}>
                Go back to it
              </button>
            )}
          </li>
        ))}
      </ul>
      {backups.data?.length === 0 && <p>None yet.</p>}
    </main>
  );
}
