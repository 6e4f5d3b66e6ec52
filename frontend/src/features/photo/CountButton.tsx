/** Count loose pieces in a picture: the way to it, where the bench asks for a number of pieces. */
import { Button } from "@mui/material";
import { lazy, Suspense, useState } from "react";
import type { CountProps } from "./CountDialog";

const CountDialog = lazy(() => import("./CountDialog"));

/** The dialog, fetched when it is needed. */
export function CountPanel(props: CountProps) {
  return (
    <Suspense>
      <CountDialog {...props} />
    </Suspense>
  );
}

export function CountButton(props: Omit<CountProps, "onClose">) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button variant="outlined" onClick={() => setOpen(true)}>
        In a picture
      </Button>
      {open && <CountPanel {...props} onClose={() => setOpen(false)} />}
    </>
  );
}
