/** What the screens read. Each hook gives TanStack Query's result: pending, error or data. */
import { keepPreviousData, queryOptions, useQuery } from "@tanstack/react-query";
import { answered, api } from "./client";
import type { PlanRequest } from "./types";

export const keys = {
  session: ["session"] as const,
  classes: ["classes"] as const,
  families: ["families"] as const,
  recipes: ["recipes"] as const,
  runs: ["runs"] as const,
  runPlan: (id: number) => ["run-plan", id] as const,
  run: (id: number) => ["run", id] as const,
  trial: (id: string) => ["trial", id] as const,
  comparison: (id: number, school: string, rule: string) => ["comparison", id, school, rule] as const,
};

export const sessionQuery = queryOptions({
  queryKey: keys.session,
  queryFn: () => answered(api.GET("/api/session")),
  staleTime: Infinity,
});

export const useSession = () => useQuery(sessionQuery);
export const useClasses = () =>
  useQuery({ queryKey: keys.classes, queryFn: () => answered(api.GET("/api/classes")) });
export const useRecipes = () =>
  useQuery({ queryKey: keys.recipes, queryFn: () => answered(api.GET("/api/recipes")) });
export const useRuns = () => useQuery({ queryKey: keys.runs, queryFn: () => answered(api.GET("/api/runs")) });

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

export const useLibrary = () =>
  useQuery({
    queryKey: ["library"],
    queryFn: () => answered(api.GET("/api/library")),
    staleTime: Infinity,
  });
