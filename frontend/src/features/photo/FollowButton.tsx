/** Follow it in pictures instead of reading a ruler: the way to it, where something is measured that comes down or leans. */
import { Button } from "@mui/material";
import { lazy, Suspense, useState } from "react";
import type { FollowProps } from "./FollowDialog";
import type { WatchProps } from "./WatchStrip";

const FollowDialog = lazy(() => import("./FollowDialog"));
const WatchStrip = lazy(() => import("./WatchStrip"));

export function FollowButton(props: Omit<FollowProps, "onClose">) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button variant="outlined" onClick={() => setOpen(true)}>
        In pictures
      </Button>
      {open && (
        <Suspense>
          <FollowDialog {...props} onClose={() => setOpen(false)} />
        </Suspense>
      )}
    </>
  );
}

/** What goes on watching at the bench. */
export function Watch(props: WatchProps) {
  return (
    <Suspense>
      <WatchStrip {...props} />
    </Suspense>
  );
}
