// What is wrong, told in one way: where it is, what it is, what to do. The words are the server's.
import type { ReactNode } from "react";
import { problemOf, type Problem } from "../api";
import { capital } from "./format";

/** The words of a problem; with its place before them where the form does not show it. */
export const wordsOf = (
  { where, detail, remedy }: { where?: string; detail: string; remedy: string },
  placed = false,
) => `${placed && where ? `${where}: ${detail}` : capital(detail)} ${remedy}`.trim();

interface Props {
  /** An error that was thrown, or the problem itself; nothing is told of nothing. */
  of: unknown;
  /** What a field is described by. */
  id?: string | undefined;
  /** Say where it is, too. */
  placed?: boolean;
  /** It is all that a page has to say, not a field's. */
  page?: boolean;
  /** A way out that stands behind the words. */
  children?: ReactNode;
}

const isProblem = (of: unknown): of is Problem =>
  typeof of === "object" && of !== null && "detail" in of && "remedy" in of;

export function Told({ of, id, placed = false, page = false, children }: Props) {
  const problem = isProblem(of) ? of : problemOf(of);
  if (!problem) return null;
  const errors = problem.errors ?? [];
  return (
    <div id={id} role="alert" className={page ? "mt-3" : "invalid-feedback d-block"}>
      {wordsOf(problem, placed && errors.length < 2)}
      {children && <> {children}</>}
      {errors.length > 1 && (
        <ul>
          {errors.map((each) => (
            <li key={each.where}>
              {each.where}: {each.detail}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
