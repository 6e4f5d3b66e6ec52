import { describe, expect, it } from "vitest";
import type { Family, Run } from "../../src/api/types";
import { changeWords, entryWords } from "../../src/features/bench/entryWords";

const run = { kit: [] } as unknown as Run;
const family = {
  failure_modes: [],
  loading_errors: [],
  run_out_reasons: [],
  observations: [],
  bench: { measures: [{ key: "sag", label: "Sag" }] },
} as unknown as Family;
const pictured = { kind: "measure", data: { key: "sag", text: "4.7 mm", source: "picture" } };

describe("what was measured, in the ledger", () => {
  it("says whether it was measured in a picture", () => {
    expect(entryWords(pictured, run, family)).toBe("Sag 4.7 mm, in a picture");
    const typed = { ...pictured, data: { key: "sag", text: "4.7 mm" } };
    expect(entryWords(typed, run, family)).toBe("Sag 4.7 mm");
  });

  it("is from no picture any more once it is typed again", () => {
    const about = (data: Record<string, unknown>) =>
      changeWords({ kind: "correct", data }, pictured, run, family);
    expect(about({ text: "5 mm" })).toBe("Sag 4.7 mm, in a picture → Sag 5 mm");
    expect(about({ resolution: "0.5 mm" })).toBe("Sag 4.7 mm, in a picture, corrected");
  });
});
