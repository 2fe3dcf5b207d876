// Standards that cannot be used as they are kept: which, why, and the ways out.
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { del, type Standard } from "../../api";
import { words } from "../../parts/format";

/** A row of the shop's own stands or falls whole: it is told once. */
function told(all: Standard[]): Standard[] {
  const seen = new Set<string>();
  return all.filter((standard) => {
    if (!standard.set_aside) return false;
    const name = standard.added ? standard.key.split(".").slice(0, 2).join(".") : standard.key;
    return !seen.has(name) && seen.add(name);
  });
}

export function SetAside({ all }: { all: Standard[] }) {
  const queries = useQueryClient();
  const out = useMutation({
    mutationFn: async (standard: Standard) => {
      const [section = "", row = ""] = standard.key.split(".");
      if (standard.added) await del("/standard-rows/{section}/{row}", { path: { section, row } });
      else await del("/standards/{key}", { path: { key: standard.key } });
    },
    onSettled: async () => {
      await queries.invalidateQueries();
      document.querySelector<HTMLElement>("[data-set-aside], main h1")?.focus(); // its button went
    },
  });
  const found = told(all);
  if (found.length === 0) return null;
  return (
    <section
      className="alert alert-warning"
      role="alert"
      aria-label="Set aside"
      tabIndex={-1}
      data-set-aside
    >
      {found.length === 1 ? "One standard" : `${found.length} standards`} cannot be used as kept.
      The default is used instead; change it below, or:
      <ul className="mb-0">
        {found.map((standard) => (
          <li key={standard.key}>
            {standard.topic}, {standard.of || words(standard.name)}
            {standard.of && !standard.added && `, ${words(standard.name)}`}: {standard.set_aside}{" "}
            <button type="button" className="btn btn-plain" onClick={() => out.mutate(standard)}>
              {standard.added ? "Remove the row" : "Go back to the default"}
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
