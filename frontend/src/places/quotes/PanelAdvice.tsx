// The advice of a panel, on the open line: fixed by a press, or gone against with its reason.
import { AdviceList } from "../../parts/AdviceList";
import { useBench, useDraft } from "../../draft";
import { adviceFor, type Panel } from "./advice";

export function PanelAdvice({ panel }: { panel: Panel }) {
  const { quote, editable, price } = useBench();
  const { line, lineAt, placeAt, job, actions } = useDraft();
  const priced = price.estimate?.lines[lineAt];
  const view = editable ? price.view : quote;
  // of those files that the draft still has
  const replaced = view.files_changed
    .filter((changed) => changed.line === line.id)
    .filter(({ placement, sha256 }) =>
      line.placements.some((p) => p.id === placement && p.design.sha256 === sha256),
    )
    .map(({ advice }) => ({
      ...advice,
      overruled:
        (job.overruled ?? []).find(
          (o) => o.code === advice.code && o.line === line.id && o.where === advice.of,
        )?.reason ?? "",
    }));
  const advice = adviceFor(panel, [...(priced?.advice ?? []), ...replaced], placeAt, priced);
  return (
    <AdviceList
      advice={editable ? advice : advice.map((each) => ({ ...each, apply: null }))}
      onFix={actions.fix}
      onOverrule={editable ? (each, reason) => actions.overrule(each, line.id, reason) : undefined}
    />
  );
}
