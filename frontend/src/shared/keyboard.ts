/**
 * Keys of a page, in one place: who a pressed key belongs to.
 *
 * 1. To what is focused, if that uses the key: a field takes all of them, a button or link Enter and Space. Focus that
 *    a finger or a mouse left behind does not count for Enter; whoever moved it there by keyboard meant it.
 * 2. To the open dialog or menu, if there is one. Nothing listens under it.
 * 3. To the page's own keys. A key of the page is taken whether it can act just now or not, so it never falls through
 *    to whatever has the focus. Held down, it acts once.
 */
import { useLayoutEffect, useRef, type RefObject } from "react";
import { clicked } from "./clicker";

type Handler = () => void;
/** What keys do, by `event.key` in lower case; one with nothing to do is still the page's. */
export type Keys = Readonly<Record<string, Handler | null>>;

interface Layer {
  keys: () => Keys;
  /** The dialog that it belongs to; none for a page. */
  within: () => Element | null;
  isDialog: boolean;
}

const FIELD = [
  "input:not([type=button]):not([type=submit]):not([type=reset]):not([type=checkbox]):not([type=radio])",
  "textarea",
  "select",
  "[contenteditable]:not([contenteditable=false])",
  ...["textbox", "searchbox", "combobox", "listbox", "spinbutton", "slider", "menu", "tree", "grid"].map(
    (role) => `[role=${role}]`,
  ),
].join(",");
const PRESSED = [
  "button",
  "a[href]",
  "area[href]",
  "summary",
  "input",
  ...["button", "link", "checkbox", "radio", "switch", "tab", "option", "menuitem", "treeitem"].map(
    (role) => `[role=${role}]`,
  ),
].join(",");
const OVER = [
  "[role=dialog]",
  "[role=alertdialog]",
  "[aria-modal=true]",
  "dialog[open]",
  "[role=menu]",
  "[role=listbox]",
].join(",");

const layers: Layer[] = [];
// Controls that a finger or a mouse focused since the focus was last moved by keyboard: Enter is not meant for them.
let touched = new WeakSet<Element>();

const control = (target: EventTarget | null): Element | null =>
  target instanceof Element ? target.closest(`${FIELD},${PRESSED}`) : null;

/** Whether the focused control itself uses this key. */
function usesKey(target: EventTarget | null, key: string): boolean {
  const owner = control(target);
  if (!owner) return false;
  if (owner.matches(FIELD)) return true;
  return key === " " || (key === "Enter" && !touched.has(owner));
}

/** The dialog, menu or list that lies over the page, the topmost if there are several. */
function openDialog(): Element | null {
  // What a dialog closes is taken out of the page at once or hidden; what is hidden lies over nothing.
  const open = [...document.querySelectorAll(OVER)].filter(
    (layer) => !layer.closest("[hidden],[aria-hidden=true]"),
  );
  return open.at(-1) ?? null;
}

function press(event: KeyboardEvent): void {
  if (event.defaultPrevented || event.isComposing || event.ctrlKey || event.metaKey || event.altKey) return;
  const click = control(event.target)?.matches(FIELD) ? "no" : clicked(event);
  if (click !== "no") {
    // It stands for Enter on the page, whatever has the focus.
    event.preventDefault();
    if (click === "once") act("enter");
    return;
  }
  if (usesKey(event.target, event.key)) {
    // Held down, Enter would press a button, or send off a form, again and again.
    if (event.repeat && event.key === "Enter" && !(event.target instanceof HTMLTextAreaElement))
      event.preventDefault();
    return;
  }
  const handler = handlerOf(event.key.toLowerCase());
  if (handler === undefined) return;
  event.preventDefault();
  if (!event.repeat) handler?.();
}

/** What a key does now; null where it can do nothing just now, undefined where it is nobody's. */
function handlerOf(key: string): Handler | null | undefined {
  const over = openDialog();
  for (const layer of [...layers].reverse()) {
    if (over ? !layer.isDialog || !isOf(layer, over) : layer.isDialog) continue;
    const keys = layer.keys();
    if (Object.hasOwn(keys, key)) return keys[key] ?? null;
  }
  return undefined;
}

const act = (key: string): void => handlerOf(key)?.();

function isOf(layer: Layer, over: Element): boolean {
  const own = layer.within();
  return own !== null && (over === own || over.contains(own) || own.contains(over));
}

function touch(event: Event): void {
  const owner = control(event.target);
  if (owner) touched.add(owner);
}

/** Moved on by keyboard: from now on the focus says who is meant. */
function moved(event: KeyboardEvent): void {
  if (event.key === "Tab" || event.key.startsWith("Arrow")) touched = new WeakSet();
}

function listen(): void {
  // Last of all, so that what a control does with a key itself comes first.
  window.addEventListener("keydown", press);
  window.addEventListener("keydown", moved, true);
  window.addEventListener("pointerdown", touch, true);
  window.addEventListener("mousedown", touch, true);
}

function deafen(): void {
  window.removeEventListener("keydown", press);
  window.removeEventListener("keydown", moved, true);
  window.removeEventListener("pointerdown", touch, true);
  window.removeEventListener("mousedown", touch, true);
  touched = new WeakSet();
}

function add(layer: Layer): () => void {
  if (layers.length === 0) listen();
  layers.push(layer);
  return () => {
    layers.splice(layers.indexOf(layer), 1);
    if (layers.length === 0) deafen();
  };
}

function useLayer(keys: Keys, dialog: RefObject<Element | null> | null): void {
  const latest = useRef(keys);
  // Before anything of it is seen, so that no key that a page shows is without effect for a moment.
  useLayoutEffect(() => {
    latest.current = keys;
  });
  useLayoutEffect(
    () =>
      add({
        keys: () => latest.current,
        within: () => dialog?.current ?? null,
        isDialog: dialog !== null,
      }),
    [dialog],
  );
}

/** The keys of a page, or of a part of one. Where several name the same key, the part shown last has it. */
export function useKeys(keys: Keys): void {
  useLayer(keys, null);
}

/** The keys of a dialog, which act while it is the topmost; `dialog` is an element of it. */
export function useDialogKeys(keys: Keys, dialog: RefObject<Element | null>): void {
  useLayer(keys, dialog);
}
