// The one way to the server: typed calls, and problems in the server's own words.
import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

type Schemas = components["schemas"];
export type Estimate = Schemas["Estimate"];
export type EstimateLine = Schemas["EstimateLine"];
export type PieceCost = Schemas["PieceCost"];
export type Advice = Schemas["Advice"];
export type Method = Schemas["Method"];
export type Working = Schemas["Working"];
export type Tier = Schemas["Tier"];
export type House = Schemas["House"];
export type KeptDesign = Schemas["KeptDesign"];
export type DesignPath = Schemas["DesignPath"];
export type Standard = Schemas["StandardView"];
export type Problem = Schemas["Problem"];
export type FieldProblem = Schemas["FieldProblem"];

const client = createClient<paths>({ baseUrl: window.location.origin });

/** An answer that says no: what happened, where, and what to do. */
export class ProblemError extends Error {
  problem: Problem;
  constructor(problem: Problem) {
    super(problem.detail);
    this.problem = problem;
  }
}

const OFFLINE: Problem = {
  type: "about:blank",
  title: "Not reached",
  status: 0,
  code: "offline",
  detail: "The shop's server does not answer.",
  where: "",
  remedy: "What you typed is kept here; it is sent again as soon as the server is back.",
  kept: "",
  errors: [],
};

async function unpack<T>(call: Promise<{ data?: T; error?: unknown }>): Promise<T> {
  let found: { data?: T; error?: unknown };
  try {
    found = await call;
  } catch (error) {
    if (error instanceof DOMException && error.name === "AbortError") throw error;
    throw new ProblemError(OFFLINE);
  }
  if (found.data === undefined) throw new ProblemError((found.error as Problem) ?? OFFLINE);
  return found.data;
}

export const api = {
  about: () => unpack(client.GET("/api/v1/about")),
  house: () => unpack(client.GET("/api/v1/house")),
  designs: () => unpack(client.GET("/api/v1/designs")),
  designPath: (sha256: string) =>
    unpack(client.GET("/api/v1/designs/{sha256}/path", { params: { path: { sha256 } } })),
  keepDesign: (file: File, signal: AbortSignal) =>
    unpack(
      client.POST("/api/v1/designs", {
        body: { file: file as unknown as string },
        signal,
        bodySerializer: () => {
          const form = new FormData();
          form.append("file", file);
          return form;
        },
      }),
    ),
  // the job is sent as typed: the server says what is wrong with it, field by field
  estimate: (job: unknown, working: boolean, signal?: AbortSignal) =>
    unpack(
      client.POST("/api/v1/estimates", {
        params: { query: { working: working ? "full" : "none" } },
        body: job as never,
        ...(signal ? { signal } : {}),
      }),
    ),
  standards: () => unpack(client.GET("/api/v1/standards")),
  changeStandard: (key: string, value: unknown) =>
    unpack(client.PUT("/api/v1/standards/{key}", { params: { path: { key } }, body: { value } })),
  resetStandard: (key: string) =>
    unpack(client.DELETE("/api/v1/standards/{key}", { params: { path: { key } } })),
  resetStandards: () => unpack(client.DELETE("/api/v1/standards")),
};
