/**
 * What the bench shows before the server has answered: the acknowledged state with the waiting events drawn on top.
 * For the eye only. It judges nothing; whatever the server answers takes its place.
 */
import type { KitItem, Round, RoundPlan, Step, TrialResult } from "../../api/types";
import type { PendingEvent } from "./outbox";

function seated(
  seats: Readonly<Record<string, number>>,
  seat: unknown,
  count: number,
): Record<string, number> {
  return typeof seat === "string" ? { ...seats, [seat]: (seats[seat] ?? 0) + count } : { ...seats };
}

function withPlaced(
  result: TrialResult,
  event: PendingEvent,
  kit: readonly KitItem[],
  sign: 1 | -1,
): TrialResult {
  const item = kit.find((item) => item.key === event.data?.["item"]);
  const count = Number(event.data?.["count"] ?? 0);
  if (!item) return result;
  const step: Step = {
    event_id: event.id,
    kind: sign > 0 ? "place" : "remove",
    item: item.key,
    count,
    mass_kg: sign * item.mass_kg * count,
    state: sign > 0 ? "waiting" : "not_counted",
    signs: [],
  };
  return {
    ...result,
    placed: { ...result.placed, [item.key]: (result.placed[item.key] ?? 0) + sign * count },
    load_on_kg: result.load_on_kg + step.mass_kg,
    pieces_on: result.pieces_on + (item.shape === "platform" ? 0 : sign * count * item.roll_of),
    seats: seated(result.seats, event.data?.["seat"], sign * count),
    step_waiting: sign > 0 || result.step_waiting,
    steps: [...result.steps, step],
    undoable: event.id,
  };
}

const become = (steps: readonly Step[], state: Step["state"]): Step[] =>
  steps.map((step) => (step.state === "waiting" ? { ...step, state } : step));

const holds = (result: TrialResult): TrialResult => ({
  ...result,
  held_kg: Math.max(result.held_kg, result.load_on_kg),
  pieces_held: Math.max(result.pieces_held, result.pieces_on),
  step_waiting: false,
  steps: become(result.steps, "held"),
});

/** A load as one figure. Which figure that is, the server reads from the text; till then what is known stands. */
function withLoadRead(result: TrialResult, event: PendingEvent): TrialResult {
  const held = event.data?.["held"] !== false;
  const step: Step = {
    event_id: event.id,
    kind: "load_reading",
    item: "",
    count: 1,
    mass_kg: 0,
    state: held ? "held" : "waiting",
    signs: [],
  };
  const settled = held ? holds(result) : { ...result, step_waiting: true };
  return { ...settled, steps: [...settled.steps, step], undoable: event.id };
}

const endRound = (rounds: readonly Round[], state: Round["state"]): Round[] =>
  rounds.map((round) => (round.state === "waiting" ? { ...round, state } : round));

function withRound(result: TrialResult, event: PendingEvent, plan: RoundPlan | null): TrialResult {
  const last = result.rounds[result.rounds.length - 1]?.size ?? 0;
  const throwing = plan?.procedure.hit_or_miss === true;
  const hit = throwing ? event.data?.["hit"] === true : null;
  const round: Round = {
    event_id: event.id,
    number: result.rounds.length + 1,
    size: plan?.planned.find((round) => round.size > last + 1e-9)?.size ?? last,
    state: throwing ? "held" : "waiting",
    hit,
    lasted_s: null,
  };
  return {
    ...result,
    rounds: [...result.rounds, round],
    round_waiting: !throwing,
    stood: result.stood || throwing,
    hits: result.hits + (hit ? 1 : 0),
    undoable: event.id,
  };
}

/** A step that was put right. Anything else that is corrected waits for the server. */
function withCorrection(result: TrialResult, event: PendingEvent, kit: readonly KitItem[]): TrialResult {
  const place = result.steps.findIndex((step) => step.event_id === event.data?.["event"]);
  const step = result.steps[place];
  const corrected = { ...result, undoable: event.id };
  if (!step || step.kind === "load_reading") return corrected;
  const key = typeof event.data?.["item"] === "string" ? event.data["item"] : step.item;
  const item = kit.find((item) => item.key === key);
  const gone = event.data?.["gone"] === true;
  const count = gone ? 0 : Number(event.data?.["count"] ?? step.count);
  if (!item) return corrected;
  const sign = step.kind === "remove" ? -1 : 1;
  const now: Step = { ...step, item: item.key, count, mass_kg: sign * item.mass_kg * count };
  const steps = [...result.steps.slice(0, place), ...(gone ? [] : [now]), ...result.steps.slice(place + 1)];
  const less = { ...result.placed, [step.item]: (result.placed[step.item] ?? 0) - sign * step.count };
  const more = now.mass_kg - step.mass_kg;
  const roll = (key: string) => {
    const item = kit.find((item) => item.key === key);
    return item && item.shape !== "platform" ? item.roll_of : 0;
  };
  const pieces = sign * (count * roll(item.key) - step.count * roll(step.item));
  const held = step.state === "held";
  return {
    ...corrected,
    steps,
    placed: { ...less, [item.key]: (less[item.key] ?? 0) + sign * count },
    load_on_kg: result.load_on_kg + more,
    held_kg: held ? result.held_kg + more : result.held_kg,
    pieces_on: result.pieces_on + pieces,
    pieces_held: held ? result.pieces_held + pieces : result.pieces_held,
    corrected: [...result.corrected, step.event_id],
    step_waiting: steps.some((step) => step.state === "waiting"),
  };
}

function applied(
  result: TrialResult,
  event: PendingEvent,
  kit: readonly KitItem[],
  plan: RoundPlan | null,
): TrialResult {
  switch (event.kind) {
    case "round":
      return withRound(result, event, plan);
    case "finish":
      return { ...result, outcome: "done", undoable: event.id };
    case "place":
      return withPlaced(result, event, kit, 1);
    case "remove":
      return withPlaced(result, event, kit, -1);
    case "load_reading":
      return withLoadRead(result, event);
    case "settle":
      if (result.round_waiting)
        return {
          ...result,
          rounds: endRound(result.rounds, "held"),
          round_waiting: false,
          stood: true,
          undoable: event.id,
        };
      return { ...holds(result), undoable: event.id };
    case "fail":
      return {
        ...result,
        outcome: "broke",
        mode: String(event.data?.["mode"] ?? ""),
        step_waiting: false,
        steps: become(result.steps, "broke"),
        rounds: endRound(result.rounds, "broke"),
        round_waiting: false,
        undoable: event.id,
      };
    case "run_out":
      return {
        ...result,
        outcome: "ran_out",
        reason: String(event.data?.["reason"] ?? ""),
        undoable: event.id,
      };
    case "void":
      return {
        ...result,
        outcome: "void",
        reason: String(event.data?.["reason"] ?? ""),
        step_waiting: false,
        steps: become(result.steps, "not_counted"),
        rounds: endRound(result.rounds, "not_counted"),
        round_waiting: false,
        undoable: event.id,
      };
    case "correct":
      return withCorrection(result, event, kit);
    case "note":
      return { ...result, notes: [...result.notes, String(event.data?.["text"] ?? "")] };
    default:
      return { ...result, undoable: event.id };
  }
}

/** The state to draw: waiting events that a waiting undo takes back leave no trace. */
export function project(
  result: TrialResult,
  pending: readonly PendingEvent[],
  kit: readonly KitItem[],
  plan: RoundPlan | null = null,
): TrialResult {
  const gone = new Set<string>();
  for (const event of pending) {
    if (event.kind === "undo") gone.add(event.id).add(String(event.data?.["event"]));
  }
  return pending
    .filter((event) => !gone.has(event.id))
    .reduce((sum, event) => applied(sum, event, kit, plan), result);
}
