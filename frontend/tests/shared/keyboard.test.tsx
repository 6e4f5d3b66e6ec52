// @vitest-environment jsdom
/** Who a pressed key belongs to: the focused control, the open dialog, or the page. */
import { Dialog, MenuItem, TextField } from "@mui/material";
import { fireEvent, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useRef, useState } from "react";
import { createRoot } from "react-dom/client";
import { describe, expect, it, vi } from "vitest";
import { useDialogKeys, useKeys } from "../../src/shared/keyboard";
import { until } from "../until";

const did = vi.fn<(what: string) => void>();

function Page({ keys = {} }: { keys?: Record<string, (() => void) | null> }) {
  useKeys({ enter: () => did("enter"), h: () => did("h"), "1": () => did("1"), r: null, ...keys });
  const [open, setOpen] = useState(false);
  return (
    <>
      <button onClick={() => did("button")}>Undo</button>
      <a href="#bay" onClick={(event) => (event.preventDefault(), did("link"))}>
        Compare
      </a>
      <input aria-label="text" />
      <input aria-label="tick" type="checkbox" />
      <textarea aria-label="note" />
      <select aria-label="native">
        <option>1</option>
        <option>2</option>
      </select>
      <TextField select label="chosen" value="1" onChange={() => undefined}>
        <MenuItem value="1">1</MenuItem>
        <MenuItem value="2">2</MenuItem>
      </TextField>
      <button onClick={() => setOpen(true)}>Board</button>
      {/* eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex -- as the strip of steps, which scrolls */}
      <div tabIndex={0} role="region" aria-label="steps" />
      <Dialog open={open} onClose={() => setOpen(false)} aria-label="frame">
        <p>A dialog of the frame</p>
        <button onClick={() => did("inside")}>Inside</button>
      </Dialog>
    </>
  );
}

function Panel({ onClose }: { onClose: () => void }) {
  const body = useRef<HTMLDivElement>(null);
  useDialogKeys({ h: () => did("panel h"), x: onClose }, body);
  return (
    <Dialog open aria-label="panel" onClose={onClose}>
      <div ref={body}>How did it go?</div>
    </Dialog>
  );
}

const done = () => did.mock.calls.map(([what]) => what);

describe("a key belongs to the focused control first", () => {
  it.each([
    ["Undo", "button"],
    ["Compare", "link"],
  ])("Enter on %s, reached by Tab, presses it and nothing else", async (name, what) => {
    render(<Page />);
    const user = userEvent.setup();
    const control = screen.getByText(name);
    while (document.activeElement !== control) await user.tab();
    await user.keyboard("{Enter}");
    expect(done()).toEqual([what]);
  });

  it.each(["text", "note", "native", "tick"])("what is typed into “%s” does nothing else", async (label) => {
    render(<Page />);
    const user = userEvent.setup();
    screen.getByLabelText(label).focus();
    await user.keyboard("1h{Enter}");
    expect(
      done()
        .filter((what) => what !== "1" || label !== "tick")
        .filter((w) => w !== "h"),
    ).toEqual([]);
    if (label !== "tick") expect(done()).toEqual([]);
  });

  it("a digit typed in a chosen list places nothing, closed or open", async () => {
    render(<Page />);
    const user = userEvent.setup();
    screen.getByRole("combobox", { name: "chosen" }).focus();
    await user.keyboard("1");
    expect(done()).toEqual([]);
    fireEvent.mouseDown(screen.getByRole("combobox", { name: "chosen" }));
    expect(screen.getByRole("listbox")).toBeTruthy();
    await user.keyboard("1h");
    expect(done()).toEqual([]);
  });

  it("letters and digits on a focused button are the page's: it has no use for them", async () => {
    render(<Page />);
    screen.getByText("Undo").focus();
    await userEvent.keyboard("h1");
    expect(done()).toEqual(["h", "1"]);
  });

  it("Enter is the page's where the focus is on nothing that takes it", async () => {
    render(<Page />);
    screen.getByRole("region", { name: "steps" }).focus();
    await userEvent.keyboard("{Enter}");
    expect(done()).toEqual(["enter"]);
  });
});

describe("the page's own keys", () => {
  it("a button that a finger pressed is not pressed again by Enter", async () => {
    render(<Page />);
    const user = userEvent.setup();
    await user.click(screen.getByText("Undo"));
    expect(document.activeElement).toBe(screen.getByText("Undo"));
    await user.keyboard("{Enter}");
    expect(done()).toEqual(["button", "enter"]);
  });

  it("moved there by Tab after all, it is", async () => {
    render(<Page />);
    const user = userEvent.setup();
    await user.click(screen.getByText("Undo"));
    await user.tab();
    await user.tab({ shift: true });
    await user.keyboard("{Enter}");
    expect(done()).toEqual(["button", "button"]);
  });

  it("one that cannot act now is taken all the same, and does not press what a finger left", async () => {
    render(<Page keys={{ enter: null }} />);
    const user = userEvent.setup();
    await user.click(screen.getByText("Undo"));
    await user.keyboard("{Enter}{Enter}r");
    expect(done()).toEqual(["button"]);
  });

  it("held down, it acts once; a button under it too", () => {
    render(<Page />);
    const press = (repeat: boolean, on: Element = document.body) =>
      fireEvent.keyDown(on, { key: "Enter", repeat });
    press(false);
    for (let i = 0; i < 20; i += 1) press(true);
    expect(done()).toEqual(["enter"]);
    const button = screen.getByText("Undo");
    button.focus();
    // `fireEvent` says false where the browser's own answer, another press, is kept from happening.
    expect(press(true, button)).toBe(false);
    expect(press(false, button)).toBe(true);
  });

  it("two keys at once are two keys, the second in the state after the first", async () => {
    function Once() {
      const [placed, setPlaced] = useState(false);
      useKeys({ enter: placed ? () => did("held") : () => (did("placed"), setPlaced(true)), h: null });
      return null;
    }
    render(<Once />);
    await userEvent.keyboard("{Enter>}{h>}{/Enter}{/h}{Enter}");
    expect(done()).toEqual(["placed", "held"]);
  });

  it("with Ctrl, Alt or Meta it is the browser's", async () => {
    render(<Page />);
    await userEvent.keyboard("{Control>}h{/Control}{Alt>}1{/Alt}{Meta>}{Enter}{/Meta}");
    expect(done()).toEqual([]);
  });
});

describe("nothing listens under an open dialog", () => {
  it("a dialog of the frame, opened by a screen reader's command, has the keys", async () => {
    render(<Page />);
    // A click with no key and no pointer before it.
    fireEvent.click(screen.getByText("Board"));
    await userEvent.keyboard("h1{Enter}");
    expect(done()).toEqual([]);
    screen.getByText("Inside").focus();
    await userEvent.keyboard("{Enter}");
    expect(done()).toEqual(["inside"]);
  });

  it("closed again, the page has them", async () => {
    render(<Page />);
    fireEvent.click(screen.getByText("Board"));
    await userEvent.keyboard("{Escape}");
    await until(() => expect(screen.queryByRole("dialog")).toBeNull());
    await userEvent.keyboard("h");
    expect(done()).toEqual(["h"]);
  });

  it("a panel has its own letters, and those of the page rest", async () => {
    function Both() {
      const [open, setOpen] = useState(true);
      return (
        <>
          <Page />
          {open && <Panel onClose={() => setOpen(false)} />}
        </>
      );
    }
    render(<Both />);
    await userEvent.keyboard("h1{Enter}");
    expect(done()).toEqual(["panel h"]);
    await userEvent.keyboard("x");
    await until(() => expect(screen.queryByRole("dialog")).toBeNull());
    await userEvent.keyboard("h");
    expect(done()).toEqual(["panel h", "h"]);
  });

  it("a key works from the moment its button is seen", async () => {
    // As a browser draws: what is on the page is seen before the effects of a page have run.
    vi.stubGlobal("IS_REACT_ACT_ENVIRONMENT", false);
    const place = document.body.appendChild(document.createElement("div"));
    const root = createRoot(place);
    function Question() {
      useKeys({ h: () => did("h") });
      return <button>It held</button>;
    }
    try {
      const seen = new Promise<void>((resolve) => {
        new MutationObserver(() => {
          document.body.dispatchEvent(new KeyboardEvent("keydown", { key: "h", bubbles: true }));
          resolve();
        }).observe(place, { childList: true });
      });
      root.render(<Question />);
      await seen;
      expect(done()).toEqual(["h"]);
    } finally {
      root.unmount();
      place.remove();
      vi.unstubAllGlobals();
    }
  });
});
