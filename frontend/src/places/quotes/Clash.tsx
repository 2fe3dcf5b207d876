// Saved elsewhere while this page had it open: both are kept until one is chosen.
import { useSaved } from "../../draft";
import { Dialog } from "../../parts/Dialog";

export function Clash() {
  const saving = useSaved();
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
  return (
    <Dialog title="Changed in another place" footer={footer}>
      <p className="mb-0">
        {theirs?.number} was saved elsewhere{theirs?.summary ? ` (${theirs.summary})` : ""} while
        this page had it open. Both are kept until you choose; undo brings yours back.
      </p>
    </Dialog>
  );
}
