/** The keys of the page that is shown: asked for by "?", read from the keys that say what they are pressed by. */
import { Button, Dialog, DialogContent, DialogTitle, Typography } from "@mui/material";
import { useState } from "react";
import { useKeys } from "../shared/keyboard";
import { PlainTable } from "../shared/Figures";

/** What a control is called: its label, else its words without its letter. */
function nameOf(control: Element): string {
  const label = control.getAttribute("aria-label");
  if (label) return label;
  const copy = control.cloneNode(true) as Element;
  copy.querySelectorAll("[aria-hidden]").forEach((hidden) => hidden.remove());
  return [...copy.childNodes]
    .map((node) => node.textContent?.trim())
    .join(" ")
    .trim();
}

function keysOfPage(): (readonly [string, string])[] {
  const controls = [...document.querySelectorAll("main [aria-keyshortcuts]")];
  const seen = new Map<string, string>();
  for (const control of controls) {
    const keys = control.getAttribute("aria-keyshortcuts") ?? "";
    if (keys !== "" && !seen.has(keys)) seen.set(keys, nameOf(control));
  }
  return [...seen];
}

export function KeysHelp() {
  const [keys, setKeys] = useState<readonly (readonly [string, string])[] | null>(null);
  useKeys({ "?": () => setKeys(keysOfPage()) });
  if (keys === null) return null;
  return (
    <Dialog open onClose={() => setKeys(null)} aria-label="The keys of this page">
      <DialogTitle>The keys of this page</DialogTitle>
      <DialogContent>
        {keys.length === 0 ? (
          <Typography>
            This page has no keys of its own. Tab goes from one thing to the next, Enter presses it.
          </Typography>
        ) : (
          <PlainTable
            head={["Key", "What it does"]}
            rows={keys.map(([key, does]) => [<b key={key}>{key}</b>, does])}
          />
        )}
        <Button sx={{ mt: 2, px: 0 }} onClick={() => setKeys(null)}>
          Close
        </Button>
      </DialogContent>
    </Dialog>
  );
}
