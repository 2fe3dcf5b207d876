// The outbox: what was sent, readable here; what the post did not take can be tried again.
import { ListPage, ListTable, Switch, useList, useLook, type Column } from "../../../lists";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useRef } from "react";
import { Link } from "react-router";
import { get, keys, post, problemOf, useRenew } from "../../../api";
import { counted, day } from "../../../parts/format";
import { Told } from "../../../parts/Told";
import { usePageTitle } from "../../../parts/usePageTitle";
import style from "./Outbox.module.scss";

function Message({ id }: { id: string }) {
  const renew = useRenew("outbox");
  const mail = useQuery({
    queryKey: keys.mail(id),
    queryFn: () => get("/outbox/{mail_id}", { path: { mail_id: id } }),
  });
  const heading = useRef<HTMLHeadingElement>(null);
  const again = useMutation({
    mutationFn: () => post("/outbox/{mail_id}/post", { path: { mail_id: id } }),
    onSuccess: ({ posted }) => posted && heading.current?.focus(), // its button goes
    onSettled: () => {
      void renew();
    },
  });
  const problem = problemOf(mail.error);
  if (problem) return <Told of={problem} page />;
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
            aria-disabled={again.isPending}
            onClick={() => !again.isPending && again.mutate()}
          >
            Try again
          </button>
        </p>
      )}
      <pre>{mail.data.body}</pre>
    </article>
  );
}

const COLUMNS: Column[] = [
  { head: "Message", sort: "subject" },
  { head: "To", sort: "to" },
  { head: "Sent", sort: "sent", falls: true },
];

export function Outbox() {
  usePageTitle("Outbox");
  const look = useLook("outbox", "sent");
  const open = look.value("mail");
  const waits = look.value("waits") === "true";
  const list = useList({
    key: keys.outbox(look.asked, waits),
    page: (cursor) => get("/outbox", { query: { ...look.asked, waits, cursor } }),
  });
  return (
    <ListPage
      what="The outbox"
      head={
        <>
          <h1>Outbox</h1>
          <p className="hint">
            The post is simulated: what is sent lies as .eml files in the shop's folder, and goes
            nowhere. <Link to="/quotes">Quotes</Link>
          </p>
        </>
      }
      look={look}
      finds="number, address"
      filters={
        <Switch on={waits} onTurn={(on) => look.set("waits", on ? "true" : "")}>
          waits for the post
        </Switch>
      }
      list={list}
      told={counted(list.total ?? 0, "message")}
      files={{
        at: "/api/v1/outbox-lists/outbox",
        query: { ...look.written, waits: waits ? "true" : "" },
      }}
      empty={
        <p>
          {look.search || waits
            ? "No message is so."
            : "Nothing was sent yet. A quote's Send button puts it here."}
        </p>
      }
    >
      <div className={style["outbox"]}>
        <ListTable
          columns={COLUMNS}
          look={look}
          rows={list.rows}
          row={(row) => (
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
          )}
        />
        {open && <Message key={open} id={open} />}
      </div>
    </ListPage>
  );
}
