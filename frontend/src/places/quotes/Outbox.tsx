// The simulated outbox: what was posted, readable here.
import { useQuery } from "@tanstack/react-query";
import { Link, useSearchParams } from "react-router";
import { api } from "../../api/client";
import { day } from "../../parts/format";
import style from "./Outbox.module.scss";

export function Outbox() {
  const [where, setWhere] = useSearchParams();
  const open = where.get("mail");
  const mails = useQuery({ queryKey: ["outbox"], queryFn: api.outbox, staleTime: 0 });
  const mail = useQuery({
    queryKey: ["mail", open],
    queryFn: () => api.mail(open ?? ""),
    enabled: !!open,
  });
  return (
    <main className="standards">
      <h1>Outbox</h1>
      <p className="hint">
        The post is simulated: what is sent lies here as .eml files in the shop's folder, and goes
        nowhere. <Link to="/quotes">Quotes</Link>
      </p>
      {mails.data?.length === 0 && <p>Nothing was sent yet. A quote's Send button puts it here.</p>}
      <div className={style["outbox"]}>
        <ul>
          {mails.data?.map((row) => (
            <li key={row.id}>
              <button
                type="button"
                className="btn btn-plain"
                aria-pressed={open === row.id}
                onClick={() => setWhere({ mail: row.id })}
              >
                {row.subject} to {row.to}
              </button>
              <span className="hint d-block">
                {row.id}, {day(row.sent_on)}
              </span>
            </li>
          ))}
        </ul>
        {mail.data && (
          <article aria-label="Message">
            <h2 className="small-caps-head">{mail.data.subject}</h2>
            <p className="hint">
              To {mail.data.to}, with {mail.data.attachments.join(", ")}
            </p>
            <pre>{mail.data.body}</pre>
          </article>
        )}
      </div>
    </main>
  );
}
