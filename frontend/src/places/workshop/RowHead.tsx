// A row's name, drawn where it can be; a row of the shop's own can be removed.
import { useMutation } from "@tanstack/react-query";
import { api, ProblemError, type Standard } from "../../api/client";
import { words } from "../../parts/format";
import { ThreadCard } from "../../parts/ThreadCard";
import { useTell } from "../../parts/toasts";
import { ClassThumb } from "../quotes";
import { StandardCell, useRenew } from "./StandardCell";

interface HeadProps {
  section: string;
  label: Standard | undefined;
  row: string;
  colour: string | undefined;
  onFocus: (standard: Standard) => void;
}

export function RowHead({ section, label, row, colour, onFocus }: HeadProps) {
  const renew = useRenew();
  const tell = useTell();
  const remove = useMutation({
    mutationFn: () => api.removeRow(section, row),
    onSuccess: async () => {
      await renew();
      tell(`${label?.of ?? row} is removed.`);
    },
    onError: (error) => {
      if (error instanceof ProblemError)
        tell(`${label?.of ?? row} stays: ${error.problem.detail} ${error.problem.remedy}`);
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
