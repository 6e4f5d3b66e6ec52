/**
 * What is so of a trial as it is shown, and what that allows. The needs are the core's and come with the run;
 * the facts are asked of the shown result, so that the keys follow entries that still wait for the network.
 */
import type { Act, Fact, KitItem, RoundPlan, TrialResult, TrialState } from "../../api/types";
import type { PendingEvent } from "./outbox";

/** What the facts are asked of, besides the shown result. */
export interface Judged {
  kit: readonly Pick<KitItem, "key">[];
  plan:
    | (Pick<RoundPlan, "planned" | "attack_s" | "measures"> & {
        procedure: Pick<RoundPlan["procedure"], "top_load">;
      })
    | null;
  /** Whether all measures that tell the result are needed, or one of them will do. */
  needsAll: boolean;
}

/** The planned round that comes after the last one made. */
export function nextRound<P extends { size: number }>(
  plan: { planned: readonly P[] },
  shown: Pick<TrialResult, "rounds">,
): P | undefined {
  const last = shown.rounds.at(-1)?.size ?? 0;
  return plan.planned.find((round) => round.size > last + 1e-9);
}

export function factsOf(
  shown: TrialResult,
  { kit, plan, needsAll }: Judged,
  pending: readonly Pick<PendingEvent, "kind" | "data">[] = [],
): Fact[] {
  const taken = new Set(shown.taken.map((measure) => measure.key));
  for (const event of pending) if (event.kind === "measure") taken.add(String(event.data?.["key"]));
  const needed = (plan?.measures ?? [])
    .filter((measure) => measure.needed)
    .map((measure) => taken.has(measure.key));
  const measured = needed.length === 0 || (needsAll ? needed.every(Boolean) : needed.some(Boolean));
  const next = plan !== null && nextRound(plan, shown) !== undefined;
  const waits = (kind: PendingEvent["kind"]) => pending.some((event) => event.kind === kind);
  const so: Record<Fact, boolean> = {
    running: shown.outcome === "running",
    void: shown.outcome === "void",
    scored: ["broke", "ran_out", "done"].includes(shown.outcome),
    step_waits: shown.step_waiting,
    round_waits: shown.round_waiting,
    waits: shown.step_waiting || shown.round_waiting,
    placed: Object.values(shown.placed).some((count) => count > 0),
    started: shown.load_on_kg > 0 || shown.rounds.length > 0,
    loaded: shown.load_on_kg > 0,
    held: shown.held_kg > 0 || shown.stood,
    stood: shown.stood,
    round_made: shown.rounds.length > 0,
    round_ahead: shown.round_waiting || next,
    all_made: plan !== null && (plan.attack_s !== null || !next),
    told: measured,
    loading: plan === null || (plan.procedure.top_load && kit.length > 0 && measured),
    read: shown.read_kg > 0 || waits("load_reading"),
    pile_weighed: shown.pile_weighed || waits("pile_reading"),
    undoable: shown.undoable !== null,
    never: false,
  };
  return (Object.keys(so) as Fact[]).filter((fact) => so[fact]).sort();
}

/** Whether all that is named is so, or is not so, as named. */
export const isSo = (asked: Readonly<Record<string, boolean>>, facts: ReadonlySet<string>): boolean =>
  Object.entries(asked).every(([fact, so]) => facts.has(fact) === so);

/** Why an act cannot be done now; empty where it can. Without waiting entries the server has said it. */
export function whyNot(
  acts: readonly Act[],
  state: TrialState,
  facts: ReadonlySet<string>,
  name: string,
  waiting: boolean,
): string {
  if (!waiting) return state.refused[name] ?? "";
  const needs = acts.find((act) => act.name === name)?.needs ?? [];
  return needs.find((need) => facts.has(need.fact) !== need.so)?.says ?? "";
}
