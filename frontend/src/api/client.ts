/** The typed client: one error class, and the token that Django asks of every write. */
import createClient, { type Middleware } from "openapi-fetch";
import type { ErrorBody } from "./types";
import type { paths } from "./schema";
import { oldestUnsentS, UNSENT_HEADER } from "./unsent";

/** A refusal by the server: what is wrong in a sentence, per field where it belongs to one. */
export class ApiError extends Error {
  readonly status: number;
  readonly code: string;
  readonly fields: Readonly<Record<string, string>>;
  readonly confirm: boolean;
  /** What else the refusal says, by its code. */
  readonly data: Readonly<Record<string, unknown>>;

  constructor(status: number, body: Partial<ErrorBody>) {
    super(body.sentence ?? "The server gave no answer that makes sense. Try again.");
    this.status = status;
    this.code = body.code ?? "unknown";
    this.fields = body.fields ?? {};
    this.confirm = body.confirm ?? false;
    this.data = body.data ?? {};
  }
}

/** How long an answer is waited for where there is a way without one [ms]. */
export const PATIENCE_MS = 5000;

/** Whether an error means that no answer came at all: the network is away, or the server is. */
export function isUnreachable(error: unknown): boolean {
  return !(error instanceof ApiError) || error.status >= 500;
}

/** Whether an error means that nobody is signed in here; one who has no part in it any more is told so otherwise. */
export function isSignedOut(error: ApiError): boolean {
  const told = error.code === "out_of_class" || error.code === "not_your_part";
  return error.status === 401 || (error.status === 403 && !told);
}

function cookie(name: string): string {
  const pair = document.cookie.split("; ").find((part) => part.startsWith(`${name}=`));
  return pair ? decodeURIComponent(pair.slice(name.length + 1)) : "";
}

const token: Middleware = {
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", cookie("csrftoken"));
    const unsent = oldestUnsentS();
    if (unsent !== null) request.headers.set(UNSENT_HEADER, String(unsent));
    return request;
  },
};

export const api = createClient<paths>({ baseUrl: "" });
api.use(token);

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** The data of an answer, or an `ApiError`. */
export async function answered<T>(call: Promise<Answer<T>>): Promise<T> {
  const { data, error, response } = await call;
  if (data === undefined || !response.ok) {
    throw new ApiError(response.status, typeof error === "object" && error !== null ? error : {});
  }
  return data;
}

/** The same for what is answered without a body. */
export async function done(call: Promise<Answer<unknown>>): Promise<void> {
  const { error, response } = await call;
  if (!response.ok)
    throw new ApiError(response.status, typeof error === "object" && error !== null ? error : {});
}
