// The outbox: what was sent, readable here; what the post did not take can be tried again.
import {
  keepPreviousData,
  useInfiniteQuery,
  useMutation,
  useQuery,
  useQueryClient,
} from "@tanstack/react-query";
import { useId, useRef } from "react";
import Form from "react-bootstrap/Form";
import { Link } from "react-router";
import { api, ProblemError } from "../../api/client";
import { counted, day } from "../../parts/format";
import { ListFiles, SortHead } from "../../parts/SortHead";
import { useLook } from "../../parts/useLook";
import { usePageTitle } from "../../parts/usePageTitle";
import style from "./Outbox.module.scss";

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
  const id = useId();
  const look = useLook("outbox", "sent");
  const { search, sort, down } = look;
  const open = look.value("mail");
  const waits = look.value("waits") === "true";
  const mails = useInfiniteQuery({
    queryKey: ["outbox", search, sort, down, waits],
    queryFn: ({ pageParam }) => api.outbox({ search, sort, down, waits, cursor: pageParam }),
    initialPageParam: "",
    getNextPageParam: (page) => page.next,
    placeholderData: keepPreviousData,
    staleTime: 0,
  });
  const rows = mails.data?.pages.flatMap((page) => page.items) ?? [];
  const total = mails.data?.pages[0]?.total ?? 0;
  const asked = {
    search,
    sort,
    ...(waits && { waits: "true" }),
    ...(down === undefined ? {} : { down: String(down) }),
  };
  return (
    <main className="standards">
      <h1>Outbox</h1>
      <p className="hint">
        The post is simulated: what is sent lies as .eml files in the shop's folder, and goes
        nowhere. <Link to="/quotes">Quotes</Link>
      </p>
      <div className="tools">
        <div>
          <Form.Label htmlFor={id}>Search</Form.Label>
          <Form.Control
            id={id}
            type="search"
            value={search}
            placeholder="number, address"
            onChange={(e) => look.set("search", e.target.value)}
          />
        </div>
        <button
          type="button"
          className={`btn btn-sm mb-1 ${waits ? "btn-primary" : "btn-outline-primary"}`}
          aria-pressed={waits}
          onClick={() => look.set("waits", waits ? "" : "true")}
        >
          waits for the post
        </button>
        <span className="hint mb-2" role="status">
          {mails.data && counted(total, "message")}
        </span>
      </div>
      {mails.data && rows.length === 0 && (
        <p>
          {search || waits
            ? "No message is so."
            : "Nothing was sent yet. A quote's Send button puts it here."}
        </p>
      )}
      <div className={style["outbox"]}>
        {rows.length > 0 && (
          <div>
            <table>
              <thead>
                <tr>
                  <SortHead look={look} name="subject">
                    Message
                  </SortHead>
                  <SortHead look={look} name="to">
                    To
                  </SortHead>
                  <SortHead look={look} name="sent" falls>
                    Sent
                  </SortHead>
                </tr>
              </thead>
              <tbody>
                {rows.map((row) => (
                  <tr key={row.id}>
                    <td>
                      <button
                        type="button"
                        className="btn btn-plain"
                        aria-pressed={open === row.id}
                        onClick={() => look.set("mail", row.id)}
                      >
                        {row.subject}, {row.id.replace(/^.*-/, "")}
                      </button>
                    </td>
                    <td>{row.to}</td>
                    <td>
                      {day(row.sent_on)}
                      {!row.posted && <strong className="d-block">waits for the post</strong>}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
            {mails.hasNextPage && (
              <button
                type="button"
                className="btn btn-outline-primary mt-3"
                disabled={mails.isFetchingNextPage}
                onClick={() => void mails.fetchNextPage()}
              >
                {total - rows.length} more
              </button>
            )}
            <p className="mt-3 mb-0">
              <ListFiles at="/api/v1/outbox-lists/outbox" query={asked} />
            </p>
          </div>
        )}
        {open && <Message key={open} id={open} />}
      </div>
    </main>
  );
}
