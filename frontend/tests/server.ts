/** The real server, reached as its teacher: what a page's cookies do in a browser is done here by hand. */
import { realFetch } from "./site";
import { told } from "./told";

const TOKEN = "a".repeat(32);

/** A request as a signed-in page sends it. */
export function asTeacher(
  path: string,
  init: { method?: string; body?: string | null } = {},
  session = told.world.session,
): Promise<Response> {
  return realFetch(new URL(path, told.world.server), {
    method: init.method ?? "GET",
    ...(init.body ? { body: init.body } : {}),
    headers: {
      "Content-Type": "application/json",
      Cookie: `sessionid=${session}; csrftoken=${TOKEN}`,
      "X-CSRFToken": TOKEN,
      Referer: told.world.server,
    },
  });
}

/** The body of an answer that has to be a good one. */
export async function good<T>(path: string, method = "GET", body?: unknown): Promise<T> {
  const answer = await asTeacher(path, { method, body: body === undefined ? null : JSON.stringify(body) });
  if (!answer.ok) throw new Error(`${method} ${path}: ${answer.status} ${await answer.text()}`);
  return (await answer.json()) as T;
}
