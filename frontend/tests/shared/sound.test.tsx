// @vitest-environment jsdom
/** What is heard, and when; and a clicker whose key was learned. */
import { fireEvent, render } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { learnClicker } from "../../src/shared/clicker";
import { useKeys } from "../../src/shared/keyboard";
import { play, switchSound, useClockSound, useTicks } from "../../src/shared/sound";

/** Notes that were played: how high each was [Hz]. */
let notes: number[] = [];

class Silent {
  currentTime = 0;
  state = "running";
  destination = {};
  createOscillator() {
    const tone = {
      frequency: { value: 0 },
      connect: (next: unknown) => next,
      start: () => notes.push(tone.frequency.value),
      stop: () => undefined,
    };
    return tone;
  }
  createGain() {
    return {
      gain: { setValueAtTime: () => undefined, exponentialRampToValueAtTime: () => undefined },
      connect: (next: unknown) => next,
    };
  }
}

beforeEach(() => {
  notes = [];
  vi.stubGlobal("AudioContext", Silent);
});
afterEach(() => vi.unstubAllGlobals());

function Ticks({ left }: { left: number | null }) {
  useTicks(left);
  return null;
}

function Clock({ running, nearest, over }: { running: boolean; nearest: number | null; over: boolean }) {
  useClockSound(running, nearest, over);
  return null;
}

describe("what is heard", () => {
  it("ticks once for each of the last three seconds of a wait", () => {
    const { rerender } = render(<Ticks left={null} />);
    for (const left of [6, 4.2, 3.9, 3, 2.5, 2.1, 1.9, 0.4, 0.1, 0, -1]) rerender(<Ticks left={left} />);
    expect(notes).toHaveLength(3);
  });

  it("the clock warns when it comes to a warning, not when the page opens on one", () => {
    const { rerender } = render(<Clock running nearest={300} over={false} />);
    expect(notes).toHaveLength(0);
    rerender(<Clock running nearest={180} over={false} />);
    const warned = notes.length;
    expect(warned).toBeGreaterThan(0);
    rerender(<Clock running nearest={180} over={false} />);
    expect(notes).toHaveLength(warned);
    rerender(<Clock running nearest={180} over />);
    expect(notes.length).toBeGreaterThan(warned);
  });

  it("is off by one touch, and on again", () => {
    switchSound();
    play("held");
    expect(notes).toHaveLength(0);
    switchSound();
    notes = [];
    play("held");
    expect(notes.length).toBeGreaterThan(0);
  });
});

describe("a clicker", () => {
  afterEach(() => learnClicker(null));

  function Bench({ onEnter }: { onEnter: () => void }) {
    useKeys({ enter: onEnter });
    return (
      <>
        <button type="button">Undo</button>
        <input aria-label="text" />
      </>
    );
  }

  const press = (target: Element | Window, more: object = {}) =>
    fireEvent.keyDown(target, { key: "PageDown", bubbles: true, cancelable: true, ...more });

  it("goes on like Enter once its key is learned, whatever button has the focus, and not in a field", () => {
    const onEnter = vi.fn();
    const { getByText, getByLabelText } = render(<Bench onEnter={onEnter} />);
    press(document.body);
    expect(onEnter).not.toHaveBeenCalled();
    learnClicker("PageDown");
    press(getByText("Undo"));
    expect(onEnter).toHaveBeenCalledTimes(1);
    press(getByLabelText("text"));
    expect(onEnter).toHaveBeenCalledTimes(1);
  });

  it("that repeats itself is heard once", async () => {
    const onEnter = vi.fn();
    render(<Bench onEnter={onEnter} />);
    learnClicker("PageDown");
    await new Promise((done) => setTimeout(done, 450));
    press(document.body);
    press(document.body, { repeat: true });
    press(document.body);
    expect(onEnter).toHaveBeenCalledTimes(1);
    await new Promise((done) => setTimeout(done, 450));
    press(document.body);
    expect(onEnter).toHaveBeenCalledTimes(2);
  });
});
