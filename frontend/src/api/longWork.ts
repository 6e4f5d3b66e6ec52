/** Long work followed: how far it is, line by line, and what came of it. */
import { ApiError } from "./client";
import type { ErrorBody } from "./types";

/** How many things are done, of how many (0: nobody knows), and what comes now. */
export interface Step {
  done: number;
  of: number;
  doing: string;
}

/** A file as it comes at the end. */
export interface MadeFile {
  name: string;
  kind: string;
  base64: string;
}

interface Last {
  made?: unknown;
  file?: MadeFile;
  refused?: ErrorBody;
}

interface Streamed {
  data?: unknown;
  error?: unknown;
  response: Response;
}

async function* lines(body: ReadableStream<Uint8Array>): AsyncGenerator<string> {
  const reader = body.getReader();
  const decoder = new TextDecoder();
  let rest = "";
  for (;;) {
    const { done, value } = await reader.read();
    rest += decoder.decode(value, { stream: !done });
    const whole = rest.split("\n");
    rest = whole.pop() ?? "";
    yield* whole;
    if (done) return;
  }
}

/** What came of work that was asked for with `follow=1` and `parseAs: "stream"`; a refusal is an `ApiError`. */
export async function followed<T>(call: Promise<Streamed>, onStep: (step: Step) => void): Promise<T> {
  const { data, error, response } = await call;
  if (!response.ok || !(data instanceof ReadableStream))
    throw new ApiError(response.status, typeof error === "object" && error !== null ? error : {});
  for await (const text of lines(data as ReadableStream<Uint8Array>)) {
    const line = JSON.parse(text) as Step | Last;
    if ("doing" in line) onStep(line);
    else if (line.refused) throw new ApiError(400, line.refused);
    else return (line.made ?? line.file) as T;
  }
  throw new TypeError("The connection ended before the work did.");
}

/** A paper or table at this address, followed. */
export async function followedFile(
  address: string,
  onStep: (step: Step) => void,
  signal: AbortSignal,
): Promise<File> {
  const asked = new URL(address, window.location.href);
  asked.searchParams.set("follow", "1");
  const response = await fetch(asked, { signal });
  const call = response.ok
    ? { data: response.body, response }
    : { error: await response.json().catch(() => ({})), response };
  const made = await followed<MadeFile>(Promise.resolve(call), onStep);
  const bytes = Uint8Array.from(atob(made.base64), (letter) => letter.charCodeAt(0));
  return new File([bytes], made.name, { type: made.kind });
}
