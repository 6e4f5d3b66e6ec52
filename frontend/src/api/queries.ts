/** What the screens read. Each hook gives TanStack Query's result: pending, error or data. */
import { queryOptions, useQuery } from "@tanstack/react-query";
import { answered, api } from "./client";

export const keys = {
  session: ["session"] as const,
  classes: ["classes"] as const,
  families: ["families"] as const,
  recipes: ["recipes"] as const,
  runs: ["runs"] as const,
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
