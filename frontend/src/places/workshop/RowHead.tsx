// A row's name, drawn where it can be; a row of the shop's own can be removed.
import { useMutation } from "@tanstack/react-query";
import { del, problemOf, useRenew, type Standard } from "../../api";
import { words } from "../../parts/format";
import { ThreadCard } from "../../parts/ThreadCard";
import { wordsOf } from "../../parts/Told";
import { useTell } from "../../parts/toasts";
import { ClassThumb } from "../../parts/GoodsThumb";
import { StandardCell } from "./StandardCell";

interface HeadProps {
  section: string;
  label: Standard | undefined;
  row: string;
  colour: string | undefined;
  onFocus: (standard: Standard) => void;
}

export function RowHead({ section, label, row, colour, onFocus }: HeadProps) {
  const renew = useRenew("standards");
  const tell = useTell();
  const remove = useMutation({
    mutationFn: () => del("/standard-rows/{section}/{row}", { path: { section, row } }),
    onSuccess: async () => {
      await renew();
      tell(`${label?.of ?? row} is removed.`);
    },
    onError: (error) => {
      const problem = problemOf(error);
      if (problem) tell(`${label?.of ?? row} stays: ${wordsOf(problem)}`);
    },
  });
  if (!label) return words(row);
  return (
    <span className="row-head">
      {section === "thread_shelf" && <ThreadCard colour={colour ?? null} />}
      {section === "goods" && <ClassThumb goods={row} size={32} />}
      <StandardCell standard={label} onFocus={onFocus} />
      {label.added && (
        <button
          type="button"
          className="btn btn-plain"
          aria-label={`Remove ${label.of}`}
          onClick={() => remove.mutate()}
        >
          remove
        </button>
      )}
    </span>
  );
}
