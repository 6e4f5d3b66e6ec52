/**
 * What the bench shows before the server has answered: the acknowledged state with the waiting events drawn on top.
 * For the eye only. It judges nothing; whatever the server answers takes its place.
 */
import type { KitItem, Step, TrialResult } from "../../api/types";
import type { PendingEvent } from "./outbox";

function withPlaced(
  result: TrialResult,
  event: PendingEvent,
  kit: readonly KitItem[],
  sign: 1 | -1,
): TrialResult {
  const item = kit.find((one) => one.key === event.data?.["item"]);
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
    step_waiting: sign > 0 || result.step_waiting,
    steps: [...result.steps, step],
    undoable: event.id,
  };
}

const become = (steps: readonly Step[], state: Step["state"]): Step[] =>
  steps.map((step) => (step.state === "waiting" ? { ...step, state } : step));

function applied(result: TrialResult, event: PendingEvent, kit: readonly KitItem[]): TrialResult {
  switch (event.kind) {
    case "place":
      return withPlaced(result, event, kit, 1);
    case "remove":
      return withPlaced(result, event, kit, -1);
    case "settle":
      return {
        ...result,
        held_kg: Math.max(result.held_kg, result.load_on_kg),
        step_waiting: false,
        steps: become(result.steps, "held"),
        undoable: event.id,
      };
    case "fail":
      return {
        ...result,
        outcome: "broke",
        mode: String(event.data?.["mode"] ?? ""),
        step_waiting: false,
        steps: become(result.steps, "broke"),
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
        undoable: event.id,
      };
    default:
      return { ...result, undoable: event.id };
  }
}

/** The state to draw: waiting events that a waiting undo takes back leave no trace. */
export function project(
  result: TrialResult,
  pending: readonly PendingEvent[],
  kit: readonly KitItem[],
): TrialResult {
  const gone = new Set<string>();
  for (const event of pending) {
    if (event.kind === "undo") gone.add(event.id).add(String(event.data?.["event"]));
  }
  return pending
    .filter((event) => !gone.has(event.id))
    .reduce((sum, event) => applied(sum, event, kit), result);
}
