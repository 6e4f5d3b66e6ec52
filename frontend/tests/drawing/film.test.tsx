// @vitest-environment jsdom
/** Films play by themselves, stand still where less motion is asked for, and can be stepped by hand. */
import { act, cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Film } from "../../src/api/types";
import { FilmPlayer } from "../../src/drawing/FilmPlayer";

const film: Film = {
  title: "Load grows",
  box: [0, 0, 1, 1],
  frames: ["Nothing on it.", "Half of it.", "It gives way."].map((says) => ({
    says,
    drawing: { shapes: [], says, box: [0, 0, 1, 1] },
  })),
};

let less = false;
beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal("matchMedia", () => ({ matches: less }));
});
afterEach(() => {
  cleanup();
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const show = () => render(<FilmPlayer film={film} width={100} height={100} />);
const says = (words: string) => expect(screen.queryByText(words)).not.toBeNull();
const later = (ms: number) => act(() => vi.advanceTimersByTimeAsync(ms));

describe("a film", () => {
  it("plays by itself, from its end to its beginning", async () => {
    less = false;
    show();
    says("Nothing on it.");
    await later(500);
    says("Half of it.");
    await later(500);
    says("It gives way.");
    await later(2500);
    says("Nothing on it.");
  });

  it("stands still where the system asks for less motion, and can be stepped", async () => {
    less = true;
    show();
    await later(20000);
    says("Nothing on it.");
    fireEvent.click(screen.getByRole("button", { name: "One step on" }));
    says("Half of it.");
    fireEvent.click(screen.getByRole("button", { name: "One step back" }));
    fireEvent.click(screen.getByRole("button", { name: "One step back" }));
    says("It gives way.");
    await later(20000);
    says("It gives way.");
  });

  it("stops when it is stepped or moved by hand", async () => {
    less = false;
    show();
    fireEvent.change(screen.getByRole("slider"), { target: { value: "1" } });
    says("Half of it.");
    await later(20000);
    says("Half of it.");
    fireEvent.click(screen.getByRole("button", { name: "Play" }));
    await later(500);
    says("It gives way.");
  });
});
