// The same list as a file.
interface Props {
  at: string;
  query?: Record<string, string | undefined>;
}

export function ListFiles({ at, query = {} }: Props) {
  const asked = new URLSearchParams();
  for (const [name, value] of Object.entries(query)) if (value) asked.set(name, value);
  const tail = asked.size > 0 ? `?${asked.toString()}` : "";
  return (
    <span className="hint">
      This list as{" "}
      <a href={`${at}.csv${tail}`} download>
        CSV
      </a>{" "}
      or{" "}
      <a href={`${at}.xlsx${tail}`} download>
        XLSX
      </a>
    </span>
  );
}
