// @vitest-environment jsdom
import { screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import type { RunState } from "../../src/api/types";
import CheckInPage from "../../src/features/checkin/CheckInPage";
import { showPage } from "../app/page";
import { good } from "../server";
import { told } from "../told";
import { until } from "../until";

const { run, designs } = told.world.runs.boat_to_check_in;
const TYPED = ["10.0 cm", "6.0 cm", "2.0 cm"];

describe("readings typed faster than the server answers", () => {
  it("Enter moves the focus at once, and each reading lands in its own field", async () => {
    const shown = await showPage(
      `/runs/${run}/check-in/${designs[0]}`,
      "check-in/:designId",
      CheckInPage,
      600,
    );
    const user = userEvent.setup();
    const fields = await until(() => {
      const fields = [...document.querySelectorAll<HTMLInputElement>("main form, form")]
        .filter((form) => form.getAttribute("aria-label"))
        .map((form) => form.querySelector("input") as HTMLInputElement);
      expect(fields.length).toBeGreaterThanOrEqual(TYPED.length);
      return fields;
    });
    fields[0]?.focus();
    for (const text of TYPED) await user.keyboard(`${text}{Enter}`);
    expect(TYPED.map((_, i) => fields[i]?.value)).toEqual(TYPED);
    expect(document.activeElement).toBe(fields[TYPED.length]);
    const labels = fields.slice(0, TYPED.length).map((field) => field.getAttribute("aria-label"));
    await until(async () => {
      const { designs: all } = await good<RunState>(`/api/runs/${run}`);
      const design = all.find((listed) => listed.id === designs[0]);
      expect(design?.readings.map((reading) => reading.text).sort()).toEqual([...TYPED].sort());
    });
    // Each was sent once: leaving a row does not send it again.
    const sent = shown.asked.filter((request) => request.path.endsWith("/readings"));
    expect(sent.map((request) => request.body["text"])).toEqual(TYPED);
    expect(new Set(sent.map((request) => request.body["key"])).size).toBe(labels.length);
  });

  it("a reading that is refused says so at its row, keeps what was typed, and takes no focus back", async () => {
    await showPage(`/runs/${run}/check-in/${designs[1]}`, "check-in/:designId", CheckInPage, 200);
    const user = userEvent.setup();
    const forms = await until(() => {
      const forms = [...document.querySelectorAll("form[aria-label]")];
      expect(forms.length).toBeGreaterThan(2);
      return forms;
    });
    const [first, second] = forms.map((form) => form.querySelector("input") as HTMLInputElement);
    first?.focus();
    await user.keyboard("ten{Enter}6");
    await until(() => expect(forms[0]?.textContent).toContain("is not a number"));
    expect([first?.value, second?.value]).toEqual(["ten", "6"]);
    expect(document.activeElement).toBe(second);
    expect(screen.getAllByRole("alert")).toHaveLength(1);
  });
});
