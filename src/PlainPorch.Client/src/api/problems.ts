import { bareOf } from "./bare";

interface ProblemBody {
  title?: string | null;
  detail?: string | null;
  errors?: Record<string, string[]>;
}

/** The server answered that something is wrong. */
export class ApiError extends Error {
  readonly status: number;
  /** The answer's body, as with a 412 the thing as it is now. */
  readonly body: unknown;

  constructor(status: number, body: unknown) {
    super(describe(status, body));
    this.name = "ApiError";
    this.status = status;
    this.body = body;
  }

  /** What is wrong with which field; "" for the whole. */
  get fields(): Record<string, string> {
    const errors = asProblem(this.body).errors ?? {};
    return bareOf(Object.entries(errors).map(([field, messages]) => [field, messages.join(" ")] as const));
  }
}

/** The server could not be reached at all. */
export class NoConnectionError extends Error {
  constructor() {
    super("The server cannot be reached. Nothing you typed is lost.");
    this.name = "NoConnectionError";
  }
}

function asProblem(body: unknown): ProblemBody {
  return typeof body === "object" && body !== null ? body : {};
}

function describe(status: number, body: unknown): string {
  const problem = asProblem(body);
  if (problem.detail) return problem.detail;
  if (status === 404) return "There is nothing at this address, or it no longer exists.";
  return problem.title ?? `The server answered with an error (${status}).`;
}
