/** What the screens read. Each hook gives TanStack Query's result: pending, error or data. */
import {
  keepPreviousData,
  queryOptions,
  useMutation,
  useQuery,
  useQueryClient,
  type QueryClient,
  type QueryKey,
  type Updater,
} from "@tanstack/react-query";
import { answered, api } from "./client";
import type { ClassPart, Draft, DraftRequest, Origin, PlanRequest, Recipe, SchoolPage } from "./types";

export const keys = {
  session: ["session"] as const,
  classes: ["classes"] as const,
  families: ["families"] as const,
  recipes: ["recipes"] as const,
  runs: ["runs"] as const,
  home: ["runs", "home"] as const,
  runPlan: (id: number) => ["run-plan", id] as const,
  run: (id: number) => ["run", id] as const,
  draftKinds: ["draft-kinds"] as const,
  stocks: ["stocks"] as const,
  experience: (id: number) => ["experience", id] as const,
  board: (id: number) => ["board", id] as const,
  door: (id: number) => ["door", id] as const,
  // Under the run, so that whatever changes it is asked for again.
  stations: (id: number) => ["run", id, "stations"] as const,
  ahead: (id: number) => ["ahead", id] as const,
  team: ["team"] as const,
  teamBench: (place: string) => ["team-bench", place] as const,
  teamDraft: ["team-draft"] as const,
  trial: (id: string) => ["trial", id] as const,
  record: (id: string) => ["record", id] as const,
  changes: (id: number) => ["changes", id] as const,
  removed: ["removed"] as const,
  signedIn: ["signed-in"] as const,
  together: (id: number) => ["together", id] as const,
  school: ["school"] as const,
  cardSets: ["card-sets"] as const,
  lenses: (tablet: string) => ["lenses", tablet] as const,
  motions: (trial: string) => ["motions", trial] as const,
  shared: ["shared-recipes"] as const,
  deeds: (id: number) => ["deeds", id] as const,
  reasons: (id: number, school: string, rule: string) => ["reasons", id, school, rule] as const,
  rubric: (id: number) => ["rubric", id] as const,
  comparison: (id: number, school: string, rule: string) => ["comparison", id, school, rule] as const,
};

/**
 * Shows at once what a write answered, and asks again. A fetch that began before the write knows less than its answer
 * and would put the old back on screen: asking again gives it up.
 */
export function showAnswer<Answer>(
  client: QueryClient,
  key: QueryKey,
  answer: Updater<Answer | undefined, Answer | undefined>,
): void {
  client.setQueryData(key, answer);
  void client.invalidateQueries({ queryKey: key });
}

/** The day here, as the API writes it. */
export function today(): string {
  const now = new Date();
  return new Date(now.getTime() - now.getTimezoneOffset() * 60_000).toISOString().slice(0, 10);
}

export const sessionQuery = queryOptions({
  queryKey: keys.session,
  queryFn: () => answered(api.GET("/api/session")),
  staleTime: Infinity,
});

export const useSession = () => useQuery(sessionQuery);
export const useClasses = () =>
  useQuery({ queryKey: keys.classes, queryFn: () => answered(api.GET("/api/classes")) });

/** What one is in a class; one's own until that is known. */
export const usePart = (schoolClass: number): ClassPart =>
  useClasses().data?.find((listed) => listed.id === schoolClass)?.part ?? "owner";

/** Who has a part in a class. */
export const useTogether = (id: number) =>
  useQuery({
    queryKey: keys.together(id),
    queryFn: () => answered(api.GET("/api/classes/{id}/colleagues", { params: { path: { id } } })),
  });

/** Who did what in a class; asked for only while somebody looks. */
export const useDeeds = (id: number, wanted: boolean) =>
  useQuery({
    enabled: wanted,
    queryKey: keys.deeds(id),
    queryFn: () => answered(api.GET("/api/classes/{id}/deeds", { params: { path: { id } } })),
    staleTime: 0,
  });

export const useRecipes = () =>
  useQuery({ queryKey: keys.recipes, queryFn: () => answered(api.GET("/api/recipes")) });
export const useRuns = () => useQuery({ queryKey: keys.runs, queryFn: () => answered(api.GET("/api/runs")) });

/** The first page; the day is that of whoever looks. */
export const useHome = () =>
  useQuery({
    queryKey: keys.home,
    queryFn: () => answered(api.GET("/api/home", { params: { query: { today: today() } } })),
  });

export const useFamilies = () =>
  useQuery({
    queryKey: keys.families,
    queryFn: () => answered(api.GET("/api/families")),
    staleTime: Infinity,
  });

export const useRun = (id: number) =>
  useQuery({
    queryKey: keys.run(id),
    queryFn: () => answered(api.GET("/api/runs/{id}", { params: { path: { id } } })),
  });

/** The kind of challenge in motion; asked for only while somebody looks. */
export const useRunFilm = (id: number, wanted: boolean) =>
  useQuery({
    enabled: wanted,
    queryKey: ["run-film", id] as const,
    queryFn: () => answered(api.GET("/api/runs/{id}/film", { params: { path: { id } } })),
    retry: false,
  });

/** A draft in motion; asked for only while somebody looks. */
export const useDraftFilm = (request: DraftRequest, number: number, wanted: boolean) =>
  useQuery({
    queryKey: ["draft-film", request, number] as const,
    queryFn: ({ signal }) =>
      answered(api.POST("/api/drafts/film", { params: { query: { number } }, body: request, signal })),
    enabled: wanted,
    placeholderData: keepPreviousData,
    retry: false,
  });

/** What a planner sheet is filled from: the answers, and what the teacher typed over the proposals. */
export const usePlan = (request: PlanRequest | null) =>
  useQuery({
    queryKey: ["plan", request] as const,
    queryFn: ({ signal }) => answered(api.POST("/api/plans", { body: request as PlanRequest, signal })),
    enabled: request !== null,
    placeholderData: keepPreviousData,
    retry: false,
    staleTime: Infinity,
    gcTime: 60_000,
  });

/** What follows from a run's terms; it changes only with its class. */
export const useRunPlan = (id: number) =>
  useQuery({
    queryKey: keys.runPlan(id),
    queryFn: () => answered(api.GET("/api/runs/{id}/plan", { params: { path: { id } } })),
  });

export const useGoalWords = () =>
  useQuery({
    queryKey: ["goal-words"],
    queryFn: () => answered(api.GET("/api/goal-words")),
    staleTime: Infinity,
  });

export const useCoins = (wanted: boolean) =>
  useQuery({
    queryKey: ["coins"],
    queryFn: () => answered(api.GET("/api/coins")),
    enabled: wanted,
    staleTime: Infinity,
  });

/** The school of whoever is signed in, if any. */
export const useSchool = () =>
  useQuery({ queryKey: keys.school, queryFn: () => answered(api.GET("/api/school")) });

/** A change of the school; its answer is what stands there then, with what is shown only once. */
export function useSchoolWrite<Given>(write: (given: Given) => Promise<SchoolPage>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: write,
    onSuccess: async (fresh) => {
      client.setQueryData(keys.school, fresh);
      await client.invalidateQueries({ queryKey: keys.session });
    },
  });
}

/** Recipes that the school and its district share. */
export const useShared = () =>
  useQuery({ queryKey: keys.shared, queryFn: () => answered(api.GET("/api/shared-recipes")) });

export const useLibrary = () =>
  useQuery({
    queryKey: ["library"],
    queryFn: () => answered(api.GET("/api/library")),
    staleTime: Infinity,
  });

export const useDraftKinds = () =>
  useQuery({ queryKey: keys.draftKinds, queryFn: () => answered(api.GET("/api/draft-kinds")) });

export const useStocks = () =>
  useQuery({ queryKey: keys.stocks, queryFn: () => answered(api.GET("/api/stocks")) });

/** What a draft of a design begins with. */
export const useDraftStart = (design: number) =>
  useQuery({
    queryKey: ["draft-start", design] as const,
    queryFn: () => answered(api.GET("/api/designs/{id}/draft-start", { params: { path: { id: design } } })),
  });

/** Who works a draft out, and what else is asked for there. */
export interface DraftSource {
  key: readonly unknown[];
  work: (body: DraftRequest, signal: AbortSignal) => Promise<Draft>;
  /** The run whose class's experience counts. */
  run: number | null;
  /** Whether the model keeps its answer back till the team has said what it thinks. */
  veiled: boolean;
  /** Whether films of it and reasons of its figures are to be had. */
  whole: boolean;
}

export const FREE_DRAFT: DraftSource = {
  key: ["free"],
  work: (body, signal) => answered(api.POST("/api/drafts", { body, signal })),
  run: null,
  veiled: false,
  whole: true,
};

export const draftOfDesign = (id: number, run: number, veiled: boolean): DraftSource => ({
  key: ["design", id, veiled],
  work: (body, signal) =>
    answered(api.POST("/api/designs/{id}/draft", { params: { path: { id } }, body, signal })),
  run,
  veiled,
  whole: true,
});

/** At a team's own tablet. */
export const draftAtTablet = (veiled: boolean): DraftSource => ({
  key: ["team", veiled],
  work: (body, signal) => answered(api.POST("/api/team/draft", { body, signal })),
  run: null,
  veiled,
  whole: false,
});

/** A draft worked out; for a design, with its class's experience and only once the team has said what it thinks. */
export const useDraft = (request: DraftRequest, source: DraftSource) =>
  useQuery({
    queryKey: ["draft", request, ...source.key] as const,
    queryFn: ({ signal }) => source.work(request, signal),
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 60_000,
  });

/** A trial's ledger, line by line. */
export const useRecord = (id: string) =>
  useQuery({
    queryKey: keys.record(id),
    queryFn: () => answered(api.GET("/api/trials/{id}/record", { params: { path: { id } } })),
  });

/** What was changed in a run's trials after the fact. */
export const useRunChanges = (id: number) =>
  useQuery({
    queryKey: keys.changes(id),
    queryFn: () => answered(api.GET("/api/runs/{id}/changes", { params: { path: { id } } })),
  });

/** What was deleted and can be brought back. */
export const useRemoved = () =>
  useQuery({ queryKey: keys.removed, queryFn: () => answered(api.GET("/api/removed")) });

/** The link to a run's board. */
export const useBoardLink = (run: number, wanted: boolean) =>
  useQuery({
    queryKey: keys.board(run),
    queryFn: () => answered(api.GET("/api/runs/{id}/board", { params: { path: { id: run } } })),
    enabled: wanted,
  });

/** What a run's class has taught about the model. */
export const useExperience = (run: number) =>
  useQuery({
    queryKey: keys.experience(run),
    queryFn: () => answered(api.GET("/api/runs/{id}/experience", { params: { path: { id: run } } })),
  });

/** The run compared by these rules; looked up anew each time it is shown. */
export const useComparison = (id: number, { school, trial_rule }: Pick<Recipe, "school" | "trial_rule">) =>
  useQuery({
    queryKey: keys.comparison(id, school, trial_rule),
    queryFn: () =>
      answered(
        api.GET("/api/runs/{id}/comparison", { params: { path: { id }, query: { school, trial_rule } } }),
      ),
    placeholderData: keepPreviousData,
    staleTime: 0,
  });

/** Something to ask why of: a figure, under a name of its own, and the way to its origin. */
export interface Why {
  key: readonly unknown[];
  fetch: (signal: AbortSignal) => Promise<Origin>;
}

/** Rules to look at a run by, other than its own. */
export type RunRules = Partial<Pick<Recipe, "school" | "trial_rule">>;

/** Why a figure of a run is what it is; `of` is a design, a trial, a reading, a load object. */
export const whyOfRun = (
  id: number,
  figure: string,
  of: string | number = "",
  rules: RunRules = {},
): Why => ({
  key: ["why", "run", id, figure, of, rules],
  fetch: (signal) =>
    answered(
      api.GET("/api/runs/{id}/why", {
        params: { path: { id }, query: { figure, of: String(of), ...rules } },
        signal,
      }),
    ),
});

export const whyOfPlan = (body: PlanRequest, figure: string): Why => ({
  key: ["why", "plan", figure, body],
  fetch: (signal) => answered(api.POST("/api/plans/why", { params: { query: { figure } }, body, signal })),
});

export const whyOfDraft = (body: DraftRequest, figure: string): Why => ({
  key: ["why", "draft", figure, body],
  fetch: (signal) => answered(api.POST("/api/drafts/why", { params: { query: { figure } }, body, signal })),
});

/** Asked anew each time: what went into a figure may have been read again since. */
export const useWhy = (why: Why | null) =>
  useQuery({
    queryKey: why?.key ?? ["why"],
    queryFn: ({ signal }) => (why as Why).fetch(signal),
    enabled: why !== null,
    retry: false,
    staleTime: 0,
    gcTime: 60_000,
  });
