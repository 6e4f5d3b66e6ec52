/** The planner's state: the answers, and what the teacher typed over the proposals. Nothing is worked out here. */
import type { AgeBand, FamilyKey, OwnParts, PlanRequest, Recipe, TypedPlan } from "../../api/types";

export type Answers = Omit<PlanRequest, "own">;
export type Own = OwnParts;

export const AGES: Record<AgeBand, string> = {
  "5-7": "5 to 7",
  "8-10": "8 to 10",
  "11-13": "11 to 13",
  "14-18": "14 to 18",
};

const ANSWERED = ["family", "age_band", "minutes", "teams", "students", "difficulty"] as const;

export function answersFor(family: FamilyKey, teams: number): Answers {
  return { family, age_band: "11-13", minutes: 50, teams, students: null, difficulty: 0 };
}

/** A kept recipe taken apart again: what was proposed may be proposed again, the rest is the teacher's own. */
export function takeApart(recipe: Recipe): { answers: Answers; own: Own } {
  const typed = recipe.typed;
  const proposed = new Set(typed.proposed ?? []);
  const answers: Answers = {
    family: typed.family,
    age_band: typed.age_band,
    minutes: typed.minutes,
    teams: typed.teams,
    students: typed.students ?? null,
    difficulty: typed.difficulty,
  };
  const skipped = new Set<string>([...ANSWERED, "proposed", "setup"]);
  const own = Object.fromEntries(
    Object.entries(typed).filter(([key]) => !skipped.has(key) && !proposed.has(key)),
  ) as Own;
  const setup = Object.fromEntries(
    Object.entries(typed.setup).filter(([key]) => !proposed.has(`setup.${key}`)),
  );
  return { answers, own: Object.keys(setup).length > 0 ? { ...own, setup } : own };
}

/** Another family: its set-up, kit, goal and material are proposed again; a name and a class stay. */
export function forFamily(own: Own): Own {
  return Object.fromEntries(
    Object.entries(own).filter(([key]) => ["name", "benches", "two_lessons"].includes(key)),
  );
}

/** The sheet as it stands now: what came back, with what was typed since. */
export function merged(entry: TypedPlan, answers: Answers, own: Own): TypedPlan {
  const proposed = (entry.proposed ?? []).filter(
    (key) => !(key in own) && !(key.startsWith("setup.") && key.slice(6) in (own.setup ?? {})),
  );
  return {
    ...entry,
    ...answers,
    students: answers.students ?? null,
    ...own,
    setup: { ...entry.setup, ...own.setup },
    proposed,
  } as TypedPlan;
}

export function without(own: Own, key: string): Own {
  if (key.startsWith("setup.")) {
    const setup = Object.fromEntries(
      Object.entries(own.setup ?? {}).filter(([name]) => name !== key.slice(6)),
    );
    return { ...own, setup };
  }
  return Object.fromEntries(Object.entries(own).filter(([name]) => name !== key));
}
