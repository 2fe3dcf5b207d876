// The plan as a calendar: to take along, or to subscribe to by a link that can be withdrawn.
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { del, get, keys, post, useRenew } from "../../api";
import { day } from "../../parts/format";
import { goOnAt } from "../../parts/goOnAt";
import { useTell } from "../../parts/toasts";
import style from "./Plan.module.scss";

export function PlanFiles() {
  const tell = useTell();
  const link = useQuery({ queryKey: keys.planLink(), queryFn: () => get("/plan/link") });
  const [url, setUrl] = useState("");
  const renew = useRenew("planLink");
  const make = useMutation({
    mutationFn: () => post("/plan/link"),
    onSuccess: (made) => {
      setUrl(made.url);
      void renew();
    },
  });
  const withdraw = useMutation({
    mutationFn: () => del("/plan/link"),
    onSuccess: () => {
      setUrl("");
      tell("The link opens nothing any more.");
      void renew();
      goOnAt("main h1");
    },
  });
  return (
    <section aria-label="As a calendar" className={style["pl-files"]}>
      <a href="/api/v1/plan.ics" className="btn btn-outline-primary btn-sm">
        As a calendar (.ics)
      </a>
      <button
        type="button"
        className="btn btn-outline-primary btn-sm"
        disabled={make.isPending}
        onClick={() => make.mutate()}
      >
        {link.data?.there ? "Make another link to subscribe to" : "Make a link to subscribe to"}
      </button>
      {link.data?.there && (
        <>
          <span className="hint">One was made on {day(link.data.made_on)}.</span>
          <button
            type="button"
            className="btn btn-plain"
            disabled={withdraw.isPending}
            onClick={() => withdraw.mutate()}
          >
            Withdraw it
          </button>
        </>
      )}
      {url && (
        <p role="status" className="mb-0">
          <code>{url}</code>{" "}
          <span className="hint">
            Who has it reads customers and days. It is shown once; the one before opens nothing.
          </span>
        </p>
      )}
    </section>
  );
}
