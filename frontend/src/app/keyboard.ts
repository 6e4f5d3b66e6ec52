import { useEffect, useRef } from "react";

/** Calls the handler of a pressed key, unless one is typing. Keys are given as `event.key` in lower case. */
export function useKeys(handlers: Readonly<Record<string, () => void>>, active = true): void {
  const latest = useRef(handlers);
  useEffect(() => {
    latest.current = handlers;
  });
  useEffect(() => {
    if (!active) return undefined;
    const press = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      const typing =
        target instanceof HTMLInputElement ||
        target instanceof HTMLTextAreaElement ||
        target.isContentEditable;
      if (typing || event.ctrlKey || event.metaKey || event.altKey || event.repeat) return;
      const handler = latest.current[event.key.toLowerCase()];
      if (!handler) return;
      // A focused button would be pressed too.
      event.preventDefault();
      handler();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [active]);
}
