import { describe, expect, it } from "vitest";
import { laidOut, request, withMove, withTyped } from "../../src/features/drafting/draftState";
import { told } from "../told";

describe("a draft as it is typed", () => {
  it("steps beyond an arch's layers are not shown", () => {
    const shown = laidOut(told.arch.kind as never, told.arch.typed).map((param) => param.key);
    expect(shown.filter((key) => key.startsWith("step_"))).toEqual(["step_1_m", "step_2_m", "step_3_m"]);
  });

  it("another pattern puts moved joints back, and other settings leave them", () => {
    const state = { typed: { pattern: "Warren" }, moves: { T1: [0.1, 0.2] as [number, number] } };
    expect(withTyped(state, "member", "dowel-6").moves).toEqual({ T1: [0.1, 0.2] });
    const other = withTyped(state, "pattern", "Pratt");
    expect([other.moves, other.typed["pattern"]]).toEqual([{}, "Pratt"]);
  });

  it("a joint is moved and asked about", () => {
    const moved = withMove({ typed: { pattern: "Warren" }, moves: {} }, "T1", [0.1, 0.05]);
    expect(request("truss", moved, 4)).toEqual({
      kind: "truss",
      typed: { pattern: "Warren" },
      moves: { T1: [0.1, 0.05] },
      run: 4,
    });
  });
});
