// The outbox: what was sent, readable here; what the post did not take can be tried again.
import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { Link, useSearchParams } from "react-router";
import { api, ProblemError } from "../../api/client";
import { day } from "../../parts/format";
import style from "./Outbox.module.scss";
import { usePageTitle } from "../../parts/usePageTitle";

function Message({ id }: { id: string }) {
  const queries = useQueryClient();
  const mail = useQuery({ queryKey: ["mail", id], queryFn: () => api.mail(id) });
  const heading = useRef<HTMLHeadingElement>(null);
  const post = useMutation({
    mutationFn: () => api.postMail(id),
    onSuccess: ({ posted }) => posted && heading.current?.focus(), // its button goes
    onSettled: () => {
      void queries.invalidateQueries({ queryKey: ["mail", id] });
      void queries.invalidateQueries({ queryKey: ["outbox"] });
    },
  });
  const problem = mail.error instanceof ProblemError ? mail.error.problem : null;
  if (problem)
    return (
      <p role="alert">
        {problem.detail} {problem.remedy}
      </p>
    );
  if (!mail.data) return null;
  return (
    <article aria-label="Message">
      <h2 className="small-caps-head" tabIndex={-1} ref={heading}>
        {mail.data.subject}
      </h2>
      <p className="hint">
        To {mail.data.to}, with {mail.data.attachments.join(", ")}
      </p>
      {!mail.data.posted && (
        <p role="status">
          Not posted yet{mail.data.trouble && `: ${mail.data.trouble}`}.{" "}
          <button
            type="button"
            className="btn btn-outline-primary btn-sm"
            aria-disabled={post.isPending}
            onClick={() => !post.isPending && post.mutate()}
          >
            Try again
          </button>
        </p>
      )}
      <pre>{mail.data.body}</pre>
    </article>
  );
}

export function Outbox() {
  usePageTitle("Outbox");
  const [where, setWhere] = useSearchParams();
  const open = where.get("mail");
  const mails = useInfiniteQuery({
    queryKey: ["outbox"],
    queryFn: ({ pageParam }) => api.outbox(pageParam),
    initialPageParam: "",
    getNextPageParam: (page) => page.next,
    staleTime: 0,
  });
  const rows = mails.data?.pages.flatMap((page) => page.items);
  return (
    <main className="standards">
      <h1>Outbox</h1>
      <p className="hint">
        The post is simulated: what is sent lies as .eml files in the shop's folder, and goes
        nowhere. <Link to="/quotes">Quotes</Link>
      </p>
      {rows?.length === 0 && <p>Nothing was sent yet. A quote's Send button puts it here.</p>}
      <div className={style["outbox"]}>
        <div>
          <ul>
            {rows?.map((row) => (
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
                  {!row.posted && <strong>, waits for the post</strong>}
                </span>
              </li>
            ))}
          </ul>
          {mails.hasNextPage && (
            <button
              type="button"
              className="btn btn-outline-primary"
              disabled={mails.isFetchingNextPage}
              onClick={() => void mails.fetchNextPage()}
            >
              More of {mails.data?.pages[0]?.total}
            </button>
          )}
        </div>
        {open && <Message key={open} id={open} />}
      </div>
    </main>
  );
}
