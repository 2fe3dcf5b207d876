// An answer that says no: what happened, where, and what to do.
import type { Problem } from "./types";

export class ProblemError extends Error {
  problem: Problem;
  constructor(problem: Problem) {
    super(problem.detail);
    this.problem = problem;
  }
}

/** What is wrong, in the server's own words; null where nothing is, or the fault is our own. */
export const problemOf = (error: unknown): Problem | null =>
  error instanceof ProblemError ? error.problem : null;

export const isOffline = (error: unknown) => problemOf(error)?.status === 0;

export const OFFLINE: Problem = {
  type: "about:blank",
  title: "Not reached",
  status: 0,
  code: "offline",
  detail: "The shop's server does not answer.",
  where: "",
  remedy: "What you typed is kept here; it is sent again as soon as the server is back.",
  kept: "",
  errors: [],
  documents: {},
};
