// The draft began from another document than the server has: both are kept until one is chosen.
import { text, useBench, useHead, useJob, useSaved } from "../../draft";
import { Dialog } from "../../parts/Dialog";
import { day, listed, money } from "../../parts/format";
import { goodsName } from "./goods/goods";

export function Clash() {
  const saving = useSaved();
  const head = useHead();
  const { lines } = useJob();
  const { house } = useBench();
  const { theirs } = saving;
  const footer = (
    <>
      <button type="button" className="btn btn-outline-primary" onClick={saving.takeTheirs}>
        Take what is there
      </button>
      <button type="button" className="btn btn-primary" onClick={saving.keepMine}>
        Keep mine
      </button>
    </>
  );
  if (!theirs) return null;
  const mine = lines.map(
    (line) =>
      `${text(line.quantity) || "some"} × ${(house && goodsName(line, house)) ?? "goods not yet said"}`,
  );
  return (
    <Dialog title="Changed in another place" footer={footer}>
      <p>
        {theirs.number} is not what this page began from: it was saved elsewhere meanwhile, or a
        backup was gone back to. Both are kept until you choose; undo brings yours back.
      </p>
      <dl className="mb-0">
        <dt>What is there</dt>
        <dd>
          {theirs.customer || "no customer"}, {theirs.summary || "no goods yet"}
          {theirs.total && `, ${money(theirs.total, theirs.currency)}`}; saved{" "}
          {day(theirs.changed_on)}
        </dd>
        <dt>Yours</dt>
        <dd>
          {head.customer || "no customer"}, {listed(mine)}
        </dd>
      </dl>
    </Dialog>
  );
}
