// What keeps a draft from being priced, where, and the way out when its field is not in sight.
import { canTakeOut, useBench, useDraft, useSaved } from "../../draft";
import { useReached } from "../../parts/connection";
import { whereText } from "./place";

export function NotPriced() {
  const { price } = useBench();
  const saving = useSaved();
  const { job, actions } = useDraft();
  const reached = useReached();
  const [first, ...more] = price.problems;
  const before = price.estimate !== null;
  if (!reached && !before)
    return (
      <div className="dock" role="alert">
        <p className="my-2">
          <strong>Not reached.</strong> What you typed is kept here; it is priced as soon as the
          server is back.
        </p>
      </div>
    );
  if (saving.state === "refused")
    return (
      <div className="dock" role="alert">
        <p className="my-2">
          <strong>Not saved.</strong> {saving.why} It is kept in this browser.
        </p>
      </div>
    );
  if (!first) return null;
  const where = whereText(first.where);
  return (
    <div className="dock" role="alert">
      <p className="my-2">
        <strong>Not priced as typed.</strong> {where ? `${where}: ` : ""}
        {first.detail} {first.remedy}
        {more.length > 0 && ` And ${more.length} more.`}
        {before && " The price below is of what was there before."}{" "}
        {!before && canTakeOut(job, first.where) && (
          <button
            type="button"
            className="btn btn-plain"
            onClick={() => actions.takeOut(first.where)}
          >
            Take it out
          </button>
        )}
      </p>
    </div>
  );
}
