/** A draft under the hand: what is typed, which joints were moved. Nothing is worked out here. */
import type { DraftKind, DraftParam, DraftRequest, KeptDraft } from "../../api/types";

export interface DraftState {
  typed: Readonly<Record<string, string>>;
  moves: Readonly<Record<string, number[]>>;
}

/** What a choice stands at, where nothing was chosen yet. */
export function chosen(param: DraftParam, typed: DraftState["typed"]): string {
  return typed[param.key] || (param.options[0]?.key ?? "");
}

/** The parameters that count with the present choices. */
export function counting(kind: DraftKind, typed: DraftState["typed"]): DraftParam[] {
  return kind.params.filter((param) => {
    if (!param.only_key) return true;
    const other = kind.params.find((candidate) => candidate.key === param.only_key);
    return other !== undefined && param.only_values.includes(chosen(other, typed));
  });
}

/** The steps of a corbel beyond its layers are left out: they are typed, but do not count. */
export function laidOut(kind: DraftKind, typed: DraftState["typed"]): DraftParam[] {
  const layers = Number(typed["layers"] ?? "");
  return counting(kind, typed).filter((param) => {
    const step = /^step_(\d+)_m$/.exec(param.key);
    return !step || !(layers > 0) || Number(step[1]) <= layers;
  });
}

/** A joint put elsewhere. Another pattern or panel count has other joints, so moves go with these. */
export function withTyped(state: DraftState, key: string, text: string): DraftState {
  const fresh = key === "pattern" || key === "panels" || key === "span_m" || key === "depth_m";
  return { typed: { ...state.typed, [key]: text }, moves: fresh ? {} : state.moves };
}

export function withMove(state: DraftState, joint: string, to: [number, number]): DraftState {
  return { ...state, moves: { ...state.moves, [joint]: to } };
}

export function request(kind: string, state: DraftState, run: number | null): DraftRequest {
  return { kind, typed: { ...state.typed }, moves: { ...state.moves }, run };
}

/** What a draft begins with: what was kept of this kind, else what the design says. */
export function begun(
  kept: KeptDraft | null,
  kind: string,
  start: Readonly<Record<string, string>>,
): DraftState {
  return kept?.kind === kind
    ? { typed: { ...start, ...kept.typed }, moves: kept.moves }
    : { typed: start, moves: {} };
}

/** Whether a draft is kept as it stands. */
export function isKept(kept: KeptDraft | null, kind: string, state: DraftState): boolean {
  return (
    kept !== null &&
    kept.kind === kind &&
    JSON.stringify(kept.moves) === JSON.stringify(state.moves) &&
    Object.entries(state.typed).every(([key, text]) => kept.typed[key] === text)
  );
}
