// What is on the machine's needles: each with its thread, set by hand where another is on it.
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import Form from "react-bootstrap/Form";
import { get, keys, put, useRenew, type PassView, type ThreadedView } from "../../api";
import { Dialog } from "../../parts/Dialog";
import { Loading } from "../../parts/Loading";
import { Told } from "../../parts/Told";
import style from "./Machine.module.scss";

interface Props {
  view: PassView;
  onClose: () => void;
}

export function ThreadedDialog({ view, onClose }: Props) {
  const path = { order_id: view.order_id, pass_id: view.pass_id };
  const found = useQuery({
    queryKey: keys.threaded(view.order_id, view.pass_id),
    queryFn: () => get("/orders/{order_id}/passes/{pass_id}/threaded", { path }),
    staleTime: 0,
  });
  return (
    <Dialog title={`On the needles of ${view.machine_label}`} onClose={onClose}>
      <Told of={found.error} />
      {found.data ? (
        <Needles kept={found.data} path={path} onClose={onClose} />
      ) : (
        !found.error && <Loading what="The needles" />
      )}
    </Dialog>
  );
}

interface NeedlesProps {
  kept: ThreadedView;
  path: { order_id: number; pass_id: string };
  onClose: () => void;
}

function Needles({ kept, path, onClose }: NeedlesProps) {
  const [set, setSet] = useState<Record<number, string>>({});
  const renew = useRenew("threaded");
  const colour = (thread: string) => kept.choices.find((c) => c.thread === thread)?.colour;
  const keep = useMutation({
    mutationFn: () =>
      put("/orders/{order_id}/passes/{pass_id}/threaded", {
        path,
        body: {
          needles: Object.entries(set).map(([needle, thread]) => ({
            needle: Number(needle),
            thread,
          })),
        },
      }),
    onSuccess: async () => {
      await renew();
      onClose();
    },
  });
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        if (Object.keys(set).length > 0) keep.mutate();
        else onClose();
      }}
    >
      <ol className={style["mc-threaded"]}>
        {kept.needles.map(({ needle, thread }) => {
          const now = set[needle] ?? thread;
          return (
            <li key={needle}>
              <span
                className={style["mc-thread"]}
                style={{ background: colour(now) ?? "transparent" }}
                aria-hidden="true"
              />
              <b>{needle}</b>
              <Form.Select
                aria-label={`Needle ${needle}`}
                value={now}
                onChange={(e) => setSet({ ...set, [needle]: e.target.value })}
              >
                <option value="">nothing, or not known</option>
                {kept.choices.map((each) => (
                  <option key={each.thread} value={each.thread}>
                    {each.called}, {each.kind}
                  </option>
                ))}
              </Form.Select>
            </li>
          );
        })}
      </ol>
      <Told of={keep.error} />
      <button type="submit" className="btn btn-primary" disabled={keep.isPending}>
        So it is threaded
      </button>
    </form>
  );
}
