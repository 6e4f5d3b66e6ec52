// @vitest-environment jsdom
/** The bench by keyboard: Tab and Enter through every control, and what a key may and may not do on its way. */
import { fireEvent, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import BenchPage from "../../src/features/bench/BenchPage";
import { showPage, type Shown } from "../app/page";
import { told } from "../told";
import { endTrialsOf } from "./lossy";
import { until } from "../until";

const { run, designs } = told.world.runs.bridge;
const design = designs[3] ?? 0;
const PATTERN = "bench/:designId?/:trialId?";
const FOCUSABLE = "a[href],button:not([disabled]),input,select,textarea,[tabindex='0']";

const open = (family: keyof typeof told.world.runs, id: number) =>
  showPage(`/runs/${told.world.runs[family].run}/bench/${id}`, PATTERN, BenchPage);
const saved = () => until(() => expect(screen.getByText("saved")).toBeTruthy());
// Plainer than asking for roles, which takes jsdom a second on a page like this.
const key = (name: RegExp): HTMLElement => {
  const button = [...document.querySelectorAll("button")].find((each) => name.test(each.textContent ?? ""));
  if (!button) throw new Error(`no key ${String(name)}`);
  return button;
};
const dialog = (words: string): Element => {
  const box = [...document.querySelectorAll("[role=dialog]")].find((each) =>
    each.textContent?.includes(words),
  );
  if (!box) throw new Error(`no dialog “${words}”`);
  return box;
};

/** Counts the first press of a control, and keeps it from leading away or changing the trial. */
function pressesOf(control: HTMLElement) {
  const pressed = vi.fn();
  control.addEventListener(
    "click",
    (event) => {
      pressed();
      event.preventDefault();
      event.stopImmediatePropagation();
    },
    { capture: true, once: true },
  );
  return pressed;
}

let shown: Shown;
const kinds = () => shown.entries().map((entry) => entry.kind);

/** A trial is started by its key: the first, or another one. */
async function start(): Promise<void> {
  const starter = await until(() => key(/^(Start the trial|Test again)/));
  await userEvent.keyboard(starter.textContent?.startsWith("Start") ? "{Enter}" : "a");
  await until(() => key(/^Place tray/));
}

/** The trial under way, its platform on and held. */
async function begin(): Promise<void> {
  shown = await open("bridge", design);
  await start();
  await userEvent.keyboard("{Enter}");
  await until(() => expect(screen.getByText("Did it hold?")).toBeTruthy());
  await userEvent.keyboard("h");
  await until(() => expect(kinds()).toEqual(["place", "settle"]));
  await saved();
}

beforeEach(() => endTrialsOf(run));
afterEach(() => vi.unstubAllGlobals());

describe("Tab and Enter through every control of the bench", () => {
  it("Enter presses what is focused, and the planned load is not placed instead", async () => {
    await begin();
    const count = document.querySelectorAll(FOCUSABLE).length;
    expect(count).toBeGreaterThan(18);
    for (let i = 0; i < count; i += 1) {
      const control = document.querySelectorAll<HTMLElement>(FOCUSABLE)[i];
      if (!control) continue;
      const before = kinds().length;
      const address = shown.address();
      control.focus();
      const words = (control.textContent ?? "").trim();
      const isPressed = control.matches("a[href],button");
      // Only what is pressed is listened to: a region would take the press of a button in it.
      const pressed = isPressed ? pressesOf(control) : null;
      await userEvent.keyboard("{Enter}");
      if (isPressed) {
        expect(pressed, `Enter on “${words}”`).toHaveBeenCalledTimes(1);
        expect(kinds().length, `Enter on “${words}”`).toBe(before);
      } else {
        // The list of steps has nothing to press: Enter is the bench's own there. It is on its way before the next.
        await until(() => expect(kinds().length, `Enter on “${words}”`).toBe(before + 1));
      }
      expect(shown.address(), `Enter on “${words}”`).toBe(address);
    }
  });

  it("Undo is reached by Tab and takes the latest entry back", async () => {
    await begin();
    const user = userEvent.setup();
    await user.keyboard("2");
    await until(() => expect(kinds()).toHaveLength(3));
    await saved();
    const undo = key(/^Undo/);
    for (let i = 0; i < 80 && document.activeElement !== undo; i += 1) await user.tab();
    expect(document.activeElement).toBe(undo);
    await user.keyboard("{Enter}");
    await until(() => expect(kinds().at(-1)).toBe("undo"));
    expect(kinds()).toEqual(["place", "settle", "place", "undo"]);
  });

  it("Enter on Rehearse rehearses and starts no real trial", async () => {
    shown = await open("bridge", design);
    const rehearse = await until(() => key(/^Rehearse/));
    const user = userEvent.setup();
    for (let i = 0; i < 60 && document.activeElement !== rehearse; i += 1) await user.tab();
    await user.keyboard("{Enter}");
    await until(() => expect(screen.getByText(/Rehearsal, never a result/)).toBeTruthy());
    const started = shown.asked.filter((request) => request.path.endsWith("/trials"));
    expect(started.map((request) => request.body["rehearsal"])).toEqual([true]);
  });
});

describe("keys while a trial is under way", () => {
  it("Enter once too early does nothing, whatever button was pressed last", async () => {
    shown = await open("bridge", design);
    await until(() => key(/^(Start the trial|Test again)/));
    const user = userEvent.setup();
    const queue = document.querySelector('nav[aria-label="Order of teams"]') as HTMLElement;
    const own = [...queue.querySelectorAll("button")].find((button) =>
      button.textContent?.startsWith("Skua"),
    );
    const other = [...queue.querySelectorAll("button")].find((button) =>
      button.textContent?.startsWith("Tern"),
    );
    // The queue's button is pressed by pointer; a key then starts this team's trial.
    await user.click(own as HTMLElement);
    await start();
    await user.keyboard("{Enter}");
    await until(() => expect(screen.getByText(/wait and watch/)).toBeTruthy());
    // The wait stands still from here, however slow the machine is.
    const still = vi.spyOn(performance, "now").mockReturnValue(performance.now());
    // Another team's button is touched and keeps the focus, as when a finger slips off it.
    await user.pointer([{ keys: "[MouseLeft>]", target: other as HTMLElement }, { target: document.body }]);
    other?.focus();
    const address = shown.address();
    await user.keyboard("{Enter}{Enter}");
    expect(shown.address()).toBe(address);
    expect(kinds()).toEqual(["place"]);
    still.mockRestore();
  });

  it("Enter held down places once", async () => {
    await begin();
    fireEvent.keyDown(document.body, { key: "Enter" });
    for (let i = 0; i < 30; i += 1) fireEvent.keyDown(document.body, { key: "Enter", repeat: true });
    await until(() => expect(kinds()).toEqual(["place", "settle", "place"]));
    await saved();
    expect(kinds()).toEqual(["place", "settle", "place"]);
  });

  it("two keys at once are two steps, each once", async () => {
    await begin();
    await userEvent.keyboard("{1>}{2>}{/1}{/2}");
    await until(() => expect(kinds()).toHaveLength(4));
    await saved();
    expect(
      shown
        .entries()
        .slice(2)
        .map((entry) => entry.data["count"]),
    ).toEqual([1, 5]);
  });

  it("nothing is placed under a dialog of the frame or a panel of the bench", async () => {
    await begin();
    fireEvent.click(key(/^Board$/));
    await until(() => dialog("The board for the projector"));
    await userEvent.keyboard("12h{Enter}");
    expect(kinds()).toEqual(["place", "settle"]);
    await userEvent.keyboard("{Escape}");
    await until(() => expect(document.querySelector("[role=dialog]")).toBeNull());
    await userEvent.keyboard("w");
    await until(() => dialog("What do you see?"));
    await userEvent.keyboard("1{Enter}");
    expect(kinds()).toEqual(["place", "settle"]);
    await userEvent.keyboard("c");
    await until(() => expect(kinds()).toEqual(["place", "settle", "observe"]));
  });

  it("an instrument's dialog over a panel has the keys", async () => {
    await begin();
    await userEvent.keyboard("g");
    await until(() => dialog("The load as one figure"));
    fireEvent.click(key(/Read it from a scale or gauge/));
    await until(() => expect(document.querySelectorAll("[role=dialog]").length).toBe(2));
    await userEvent.keyboard("12hx");
    expect(kinds()).toEqual(["place", "settle"]);
  });
});

describe("other kinds of bench", () => {
  it.each(["boat", "shake_tower", "wall"] as const)("a %s: Enter presses what is focused", async (family) => {
    const [id = 0] = told.world.runs[family].designs;
    shown = await open(family, id);
    if (family !== "wall") {
      const rehearse = await until(() => key(/^Rehearse/));
      fireEvent.click(rehearse);
      await until(() => expect(screen.getByText(/Rehearsal, never a result/)).toBeTruthy());
    }
    await until(() => expect(document.querySelectorAll(FOCUSABLE).length).toBeGreaterThan(10));
    const controls = [...document.querySelectorAll<HTMLElement>("a[href],button:not([disabled])")];
    for (const control of controls) {
      const pressed = pressesOf(control);
      control.focus();
      await userEvent.keyboard("{Enter}");
      expect(pressed, control.textContent ?? "").toHaveBeenCalledTimes(1);
    }
    expect(kinds()).toEqual([]);
  });
});

describe("an ended trial", () => {
  it("is not gone on from while its end is only asked about", async () => {
    await begin();
    await userEvent.keyboard("r");
    await until(() => expect(document.querySelector("[role=dialog]")).toBeTruthy());
    // “No more load”, and on at once, before the answer is there.
    await userEvent.keyboard("n");
    await userEvent.keyboard("n");
    await until(() => expect(document.body.textContent).toContain("By the count there is load left"));
    expect(key(/^It held|^Place/)).toBeTruthy();
    expect(kinds()).toEqual(["place", "settle", "run_out"]);
    fireEvent.click(key(/^It is right$/));
    await until(() => key(/^Go on/));
    await saved();
    // Nobody has gone on yet: that was another end.
    expect(key(/^Undo the end/)).toBeTruthy();
  });

  it("is reached again from its team, with its end to undo and its pile to weigh", async () => {
    await begin();
    await userEvent.keyboard("1");
    await until(() => expect(kinds()).toHaveLength(3));
    await userEvent.keyboard("x");
    await until(() => expect(document.querySelector("[role=dialog]")).toBeTruthy());
    await userEvent.keyboard("c");
    await until(() => expect(kinds().at(-1)).toBe("fail"));
    await until(() => key(/^Go on/));
    await userEvent.keyboard("n");
    const links = await until(() => {
      const links = [...document.querySelectorAll("a")].filter((link) =>
        /^Trial \d+$/.test(link.textContent ?? ""),
      );
      expect(links.length, document.body.textContent ?? "").toBeGreaterThan(0);
      return links;
    });
    fireEvent.click(links.at(-1) as HTMLElement);
    await until(() => key(/^Undo the end/));
    expect(key(/^Weigh the pile/)).toBeTruthy();
    expect(shown.address()).toMatch(/\/bench\/\d+\/[0-9a-f-]{36}$/);
    await userEvent.keyboard("z");
    await until(() => expect(kinds().at(-1)).toBe("undo"));
    await until(() => key(/^Void/));
    await userEvent.keyboard("v");
    await until(() => expect(document.querySelector("[role=dialog]")).toBeTruthy());
    await userEvent.keyboard("k");
    await until(() => expect(kinds().at(-1)).toBe("void"));
  });
});
