/** The run that the pages below the deck show, and writes that answer with a fresh state of it. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { createContext, use, useMemo } from "react";
import { keys, showAnswer } from "../../api/queries";
import type { Design, Family, RunState, Team } from "../../api/types";

export interface RunContextValue {
  state: RunState;
  family: Family;
  /** Whether it is a team's own tablet that shows it: of other teams there is nothing then, and nothing to ask for. */
  atStation: boolean;
}

export const RunContext = createContext<RunContextValue | null>(null);

/** The run of the page; only below `RunPages`. */
export function useRunState(): RunContextValue {
  const value = use(RunContext);
  if (!value) throw new Error("useRunState is for pages of a run");
  return value;
}

/** The team of each design, by the design's id as charts have it. */
export function useTeams(): ReadonlyMap<string, Team> {
  const { designs } = useRunState().state;
  return useMemo(() => new Map(designs.map((design) => [String(design.id), design.team])), [designs]);
}

/**
 * A write to one design: the answer replaces the design at once, then the run is fetched again. Writes of one `line` go
 * one after the other.
 */
export function useDesignWrite<Entry>(
  write: (entry: Entry) => Promise<Design>,
  onDone?: (design: Design) => void,
  line?: string,
) {
  const client = useQueryClient();
  const { state } = useRunState();
  const key = keys.run(state.run.id);
  return useMutation({
    mutationFn: write,
    ...(line ? { scope: { id: line } } : {}),
    onSuccess: (design) => {
      showAnswer<RunState>(
        client,
        key,
        (old) =>
          old && { ...old, designs: old.designs.map((kept) => (kept.id === design.id ? design : kept)) },
      );
      onDone?.(design);
    },
  });
}
