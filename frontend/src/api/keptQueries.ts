/**
 * What was fetched last, kept in the browser's database, so that a run that was open is there when the page is opened
 * without a network. It is asked for again as soon as that can be; a sign-out forgets it.
 */
import { dehydrate, hydrate, type Query, type QueryClient } from "@tanstack/react-query";
import { isUnreachable } from "./client";
import { forget, opened, type Kept } from "./keptHere";
import { keys, sessionQuery } from "./queries";
import { soon } from "./soon";
import type { Session } from "./types";

const EVERY_MS = 1500;
const PATIENCE_MS = 3000;
const A_DAY_MS = 24 * 3600 * 1000;
/** What a lesson needs, by the first word of its key; all else is asked for when there is a network. */
const KEPT = new Set<string>([
  "session",
  "classes",
  "families",
  "recipes",
  "runs",
  "run",
  "run-plan",
  "goal-words",
  "trial",
  "ahead",
  "team",
]);

const teacherIn = (query: Query): number | null =>
  (query.state.data as Session | undefined)?.teacher?.id ?? null;

const isSession = (query: Query): boolean => query.queryKey[0] === keys.session[0];

const isForLater = (query: Query): boolean => KEPT.has(String(query.queryKey[0]));

const isKept = (query: Query): boolean =>
  query.state.data !== undefined &&
  // What could not be asked for again is still what was said last; what was refused since is not.
  (query.state.status === "success" || isUnreachable(query.state.error)) &&
  isForLater(query) &&
  // That nobody is signed in is asked for anew each time.
  (!isSession(query) || teacherIn(query) !== null);

/** Whether the server answers, before anything is shown: then what it says now is asked for, and nothing kept is used. */
async function answers(client: QueryClient): Promise<boolean> {
  if (!navigator.onLine) return false;
  try {
    const late = new Promise<never>((_, fail) => window.setTimeout(fail, PATIENCE_MS));
    await Promise.race([client.fetchQuery({ ...sessionQuery, retry: false }), late]);
    return true;
  } catch (error) {
    return !isUnreachable(error);
  }
}

/** Puts back what was kept, where there is nobody to ask; what is older than a day, or cannot be read, is let go. */
export async function bringBack(client: QueryClient): Promise<void> {
  // What a lesson needs stays in memory though nobody looks at it for a while.
  for (const word of KEPT) client.setQueryDefaults([word], { gcTime: A_DAY_MS });
  if (await answers(client)) return;
  try {
    const kept = await soon<Kept | undefined>(
      opened().then((db) => db.get("fetched", "all")),
      undefined,
    );
    if (!kept) return;
    if (Date.now() - kept.at > A_DAY_MS) return void forget();
    hydrate(client, kept.state);
    // Whoever was signed in then may not be now.
    void client.invalidateQueries({ queryKey: keys.session });
  } catch {
    // What cannot be read is no better than nothing.
  }
}

/** Keeps from now on what is fetched; when somebody else is signed in, or nobody any more, all of it is let go. */
export function keepFetched(client: QueryClient): void {
  let timer: number | undefined;
  const session = client.getQueryCache().find({ queryKey: keys.session });
  let teacher = session ? teacherIn(session) : null;
  const save = () => {
    window.clearTimeout(timer);
    timer = undefined;
    const state = dehydrate(client, { shouldDehydrateQuery: isKept, shouldDehydrateMutation: () => false });
    // That it could not be asked for again just now says nothing of the next time.
    for (const query of state.queries)
      query.state = { ...query.state, status: "success", error: null, fetchFailureReason: null };
    const refused = client.getQueryCache().findAll({ predicate: (query) => query.state.status === "error" });
    const known = new Set([...state.queries, ...refused].map((query) => query.queryHash));
    const whose = teacher;
    void opened()
      .then(async (db) => {
        const change = db.transaction("fetched", "readwrite");
        const before = await change.store.get("all");
        // What was fetched before this page was opened is kept too, if it is the same teacher's.
        const rest = (before?.teacher === whose ? before.state.queries : []).filter(
          (query) => !known.has(query.queryHash) && Date.now() - query.state.dataUpdatedAt < A_DAY_MS,
        );
        const all = { ...state, queries: [...rest, ...state.queries] };
        await change.store.put({ at: Date.now(), teacher: whose, state: all }, "all");
        await change.done;
      })
      .catch(() => undefined);
  };
  // A lid that is closed, or a page that is left.
  document.addEventListener("visibilitychange", () => {
    if (timer !== undefined && document.visibilityState === "hidden") save();
  });
  client.getQueryCache().subscribe((event) => {
    if (event.type === "updated" && isSession(event.query) && event.query.state.data !== undefined) {
      const now = teacherIn(event.query);
      if (teacher !== null && now !== teacher) {
        client.removeQueries({ predicate: (query) => !isSession(query) });
        void forget();
      }
      teacher = now;
    }
    if ((event.type === "updated" || event.type === "removed") && isForLater(event.query))
      timer ??= window.setTimeout(save, EVERY_MS);
  });
}
