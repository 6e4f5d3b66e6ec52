import { describe, expect, it } from "vitest";
import { answersFor, forFamily, merged, takeApart, without } from "../../src/features/plan/planState";
import { told } from "../told";

const { plain, own, filled, answers } = told.planner;
type Any = never;

describe("the planner's sheet", () => {
  it("a kept recipe taken apart is what was typed", () => {
    const apart = takeApart({ typed: filled } as Any);
    expect(apart.answers).toEqual(answers);
    expect(apart.own).toEqual(own);
  });

  it("a recipe of which nothing was proposed is all one's own", () => {
    const typed = { ...plain, proposed: [] };
    const own = takeApart({ typed } as Any).own as Record<string, unknown>;
    expect(own["setup"]).toEqual(plain["setup"]);
    const keys = Object.keys(typed).filter((key) => !(key in answers) && key !== "proposed");
    expect(new Set(Object.keys(own))).toEqual(new Set(keys));
  });

  it("what was typed since stands on top of what came back", () => {
    const late = { setup: { gap_m: "39 cm", tape_max_m: "" }, question: "Why?" };
    const together = merged(plain as Any, { ...answers, minutes: 45 } as Any, late as Any) as unknown as {
      setup: Record<string, string>;
      question: string;
      minutes: number;
      proposed: string[];
    };
    expect([together.setup["gap_m"], together.setup["tape_max_m"]]).toEqual(["39 cm", ""]);
    expect([together.question, together.minutes]).toEqual(["Why?", 45]);
    expect(together.setup["hold_s"]).toBe((plain["setup"] as Record<string, string>)["hold_s"]);
    for (const key of ["setup.gap_m", "setup.tape_max_m", "question"])
      expect(together.proposed).not.toContain(key);
    expect(together.proposed).toContain("setup.hold_s");
  });

  it("goes back to the proposal", () => {
    expect(without(own as Any, "setup.gap_m")).toEqual({ ...own, setup: {} });
    const rest = Object.fromEntries(Object.entries(own).filter(([key]) => key !== "name"));
    expect(without(own as Any, "name")).toEqual(rest);
  });

  it("another family keeps a name and leaves its gap behind", () => {
    expect(forFamily(own as Any)).toEqual({ name: "Mine", benches: 3 });
  });

  it("begins with the class", () => {
    expect(answersFor("bridge", 8)).toEqual(answers);
  });
});
