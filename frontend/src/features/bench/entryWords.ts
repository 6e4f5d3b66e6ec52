/** An entry of the ledger in few words, as one would say what was pressed. */
import type { Family, Run } from "../../api/types";
import { itemWords } from "./kitWords";

/** What is said of an entry: what it is and what stands in it. */
export interface Told {
  kind: string;
  data?: Readonly<Record<string, unknown>>;
}

export function entryWords(event: Told, run: Run, family: Family): string {
  const data: Readonly<Record<string, unknown>> = event.data ?? {};
  const text = (key: string): string => {
    const value = data[key];
    return typeof value === "string" || typeof value === "number" ? String(value) : "";
  };
  const modes = [
    ...family.failure_modes,
    ...family.loading_errors,
    ...family.run_out_reasons,
    ...family.observations,
  ];
  const named = (key: string): string => modes.find((mode) => mode.key === text(key))?.label ?? text(key);
  const measured = family.bench.measures.find((measure) => measure.key === data["key"])?.label ?? "Measured";
  const items = () => itemWords(run.kit, text("item"), Number(data["count"] ?? 1));
  switch (event.kind) {
    case "place":
      return items();
    case "remove":
      return `${items()} off`;
    case "settle":
      return "It held";
    case "observe":
      return named("sign");
    case "measure":
      return `${measured} ${text("text") || text("sag")}${data["source"] === "picture" ? ", in a picture" : ""}`.trim();
    case "load_reading":
      return `A load of ${text("mass")}`;
    case "pile_reading":
      return `The pile, ${text("mass")}`;
    case "fail":
      return `It went: ${named("mode")}`;
    case "run_out":
      return `It still stands: ${named("reason")}`;
    case "void":
      return `Void: ${named("reason")}`;
    case "round":
      if (typeof data["hit"] === "boolean") return data["hit"] ? family.procedure.hit : family.procedure.miss;
      return data["height"] ? `A drop from ${text("height")}` : "A round";
    case "finish":
      return "Done";
    case "undo":
      return "Undo";
    case "correct":
      return data["gone"] === true ? "Struck out" : "Corrected";
    case "note":
      return `Note: ${text("text")}`;
    case "move":
      return `From ${text("from")} to ${text("to")}`;
    default:
      // An entry of another version.
      return event.kind;
  }
}

/** A correction in full: what it is about, and what that says now. */
export function changeWords(change: Told, about: Told | null, run: Run, family: Family): string {
  const words = entryWords(change, run, family);
  if (about === null) return words;
  const before = entryWords(about, run, family);
  if (change.kind === "undo") return `Taken back: ${before}`;
  if (change.data?.["gone"] === true) return `Struck out: ${before}`;
  // What is typed again is from no picture any more, as the ledger has it.
  const source = change.data?.["text"] === undefined ? about.data?.["source"] : undefined;
  const now = entryWords({ kind: about.kind, data: { ...about.data, ...change.data, source } }, run, family);
  return now === before ? `${before}, corrected` : `${before} → ${now}`;
}
