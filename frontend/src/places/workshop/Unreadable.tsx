// What was kept and could not be read: told, saved as a file, let go.
import { useMutation, useQuery } from "@tanstack/react-query";
import { del, get, keys, useRenew } from "../../api";
import { Told } from "../../parts/Told";
import { counted, day } from "../../parts/format";
import { goOnAt } from "../../parts/goOnAt";
import style from "./BackupsPage.module.scss";

export function Unreadable() {
  const found = useQuery({ queryKey: keys.aside(), queryFn: () => get("/set-aside") });
  const renew = useRenew("aside");
  const letGo = useMutation({
    mutationFn: () => del("/set-aside"),
    onSuccess: () => {
      goOnAt("main h1");
      return renew();
    },
  });
  if (!found.data?.length) return null;
  return (
    <section aria-labelledby="aside">
      <h2 id="aside" className="small-caps-head">
        Cannot be read
      </h2>
      <p className="hint">
        {counted(found.data.length, "record")} could not be read, so the shop goes on without. Going
        back to a backup from before brings them back.
      </p>
      <ul className={style["ba-list"]}>
        {found.data.map((row) => (
          <li key={row.id}>
            <span>
              <b className={style["ba-what"]}>
                {row.what} {row.row}
              </b>
              , set aside {day(row.set_on.slice(0, 10))}
              <span className="hint d-block">{row.why}</span>
            </span>
          </li>
        ))}
      </ul>
      <div className="d-flex gap-2 flex-wrap mt-2">
        <a className="btn btn-outline-primary" href="/api/v1/set-aside" download="set-aside.json">
          Save as a file
        </a>
        <button
          type="button"
          className="btn btn-plain"
          disabled={letGo.isPending}
          onClick={() => letGo.mutate()}
        >
          Let them go
        </button>
      </div>
      <Told of={letGo.error} />
    </section>
  );
}
