/** The marks of teams are the core's, so that paper and screen draw the same. */
import { expect, it } from "vitest";
import { MARKS } from "../../src/drawing/TeamMark";
import { told } from "../told";

it("every mark is the core's", () => {
  expect(MARKS).toEqual(told.marks);
});
