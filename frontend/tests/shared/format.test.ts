import { writeFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import { clockText } from "../../src/shared/clockText";
import {
  formatEstimate,
  formatFact,
  formatLoad,
  formatMassWithDoubt,
  formatThickness,
  typedText,
} from "../../src/shared/format";
import { told } from "../told";

describe("figures in words", () => {
  it("loads read the same on the ladder and in the headline", () => {
    expect(told.loads.length).toBeGreaterThan(10);
    for (const { load, push, says } of told.loads) {
      const [shown = "", unit] = formatLoad(load, push, "metric").split(" ");
      const [figure = "", itsUnit] = says.split(" ");
      expect(unit).toBe(itsUnit);
      // Forces of 100 N and more are whole newtons in a sentence and two figures on the ladder.
      if (push && Number(figure) >= 100)
        expect(Math.abs(Number(shown) / Number(figure) - 1)).toBeLessThan(0.05);
      else expect(Number(shown)).toBe(Number(figure));
    }
  });

  it("what a slider writes is given to the core to read back", () => {
    const written = told.typed.map((sample) => ({
      ...sample,
      text: typedText(sample.value, sample.kind, sample.units),
    }));
    expect(written.every((sample) => sample.text !== "")).toBe(true);
    // The core reads them after this run, and fails where it reads something else.
    writeFileSync(process.env["GIRDER_TYPED"] ?? "", JSON.stringify(written));
  });

  it.each([
    [0.0125, "length", "12.5 mm"],
    [0.0167, "mass", "16.7 g"],
    [50.43, "force", "50.4 N"],
    [1.4, "frequency", "1.4 Hz"],
    [19.28, "angle", "19.3°"],
    [0.124, "share", "12 %"],
    [270.4, "ratio", "270 ×"],
    [15, "count", "15"],
    [0, "words", ""],
    [4.64, "length", "4.64 m"],
    [13, "mass", "13 kg"],
  ] as const)("%s as a %s reads %s", (value, kind, words) => {
    expect(formatFact(value, kind, "metric")).toBe(words);
  });

  it("an estimate has two figures, and a sheet's thickness three", () => {
    expect(formatEstimate(1.8961, "metric")).toBe("1.9 kg");
    expect(formatEstimate(0.8201, "metric")).toBe("820 g");
    expect(formatThickness(1.6e-5, "metric")).toBe("0.016 mm");
    expect(formatThickness(2.54e-4, "us")).toBe("0.0100 in");
  });

  it("doubt is shown with as many digits as it has", () => {
    expect(formatMassWithDoubt(0.0384, 0.0000578, "metric")).toBe("38.40 ± 0.06 g");
    expect(formatMassWithDoubt(0.0384, 0.000578, "metric")).toBe("38.4 ± 0.6 g");
    expect(formatMassWithDoubt(0.0384, 0.00578, "metric")).toBe("38.4 ± 5.8 g");
  });

  it("a clock rounds up and stops at nothing", () => {
    expect([1200, 59.2, 0.4, 0, -12].map(clockText)).toEqual(["20:00", "1:00", "0:01", "0:00", "0:00"]);
  });
});
