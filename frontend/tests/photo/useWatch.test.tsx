// @vitest-environment jsdom
import { renderHook } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Went } from "../../src/api/types";
import { useWatch } from "../../src/features/photo/useWatch";
import { until } from "../until";

const went = (told: string): Went => ({
  value_si: 0,
  expanded_uncertainty_si: 0,
  text: told,
  step_text: "",
  told,
  doubt: "",
  causes: [],
  moved: "",
  at: [0, 0],
});

describe("watching", () => {
  it("waits for a first picture, and goes on after each answer, one at a time", async () => {
    let [asked, under, most] = [0, 0, 0];
    const see = async () => {
      most = Math.max(most, ++under);
      asked += 1;
      await Promise.resolve();
      under -= 1;
      return went(`${asked} mm`);
    };
    const { result, rerender, unmount } = renderHook(({ first }) => useWatch(first ? see : null), {
      initialProps: { first: false },
    });
    expect(result.current).toEqual({ went: null, trouble: "" });
    rerender({ first: true });
    await until(() => expect(result.current.went?.told).toBe("2 mm"));
    expect(most).toBe(1);
    unmount();
    const last = asked;
    await new Promise((done) => setTimeout(done, 1300));
    expect(asked).toBe(last);
  });

  it("keeps what was last seen where the next picture says nothing, and says why", async () => {
    let lost = false;
    const see = () =>
      lost ? Promise.reject(new Error("It is not to be seen any more.")) : Promise.resolve(went("4 mm"));
    const { result } = renderHook(() => useWatch(see));
    await until(() => expect(result.current).toMatchObject({ went: { told: "4 mm" }, trouble: "" }));
    lost = true;
    await until(() => expect(result.current.trouble).not.toBe(""));
    expect(result.current.went?.told).toBe("4 mm");
    lost = false;
    await until(() => expect(result.current.trouble).toBe(""));
  });
});
