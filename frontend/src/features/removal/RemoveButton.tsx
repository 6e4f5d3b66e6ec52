/** Deletes something, after saying what goes with it, offering its export, and how long it can be brought back. */
import { Box, Button, Link, Typography, type ButtonProps } from "@mui/material";
import { NamedDialog } from "../../shared/NamedDialog";
import { useState } from "react";
import { Notice, sentenceOf } from "../../shared/states";
import { useRemoval, type Kind } from "./removal";

interface Props {
  what: Kind;
  id: number;
  name: string;
  /** What goes with it, in a sentence. */
  says: string;
  /** Files to keep before it goes: their addresses and what they are. */
  exports?: readonly { href: string; label: string }[];
  label?: string;
  onDone?: () => void;
  look?: Pick<ButtonProps, "variant" | "size" | "sx">;
}

export function RemoveButton({ what, id, name, says, exports = [], label, onDone, look }: Props) {
  const [asking, setAsking] = useState(false);
  const removal = useRemoval(what, id, () => {
    setAsking(false);
    onDone?.();
  });
  return (
    <>
      <Button {...look} aria-label={`Delete ${name}`} onClick={() => setAsking(true)}>
        {label ?? "Delete"}
      </Button>
      {asking && (
        <NamedDialog open onClose={() => setAsking(false)} name={`Delete ${name}?`}>
          <Box sx={{ p: 3, maxWidth: 480 }}>
            <Typography variant="h2">Delete {name}?</Typography>
            <Typography sx={{ my: 1 }}>
              {says} It can be brought back for 30 days, from “Deleted lately” on the first page.
            </Typography>
            {exports.length > 0 && (
              <Box sx={{ mb: 1 }}>
                <Typography>To keep it longer, take its file first:</Typography>
                {exports.map(({ href, label }) => (
                  <Link key={href} href={href} download sx={{ display: "block", fontWeight: 600, py: 0.5 }}>
                    {label}
                  </Link>
                ))}
              </Box>
            )}
            {removal.isError && <Notice kind="problem">{sentenceOf(removal.error)}</Notice>}
            <Button variant="contained" disabled={removal.isPending} onClick={() => removal.mutate(true)}>
              Delete it
            </Button>
            <Button onClick={() => setAsking(false)}>Keep it</Button>
          </Box>
        </NamedDialog>
      )}
    </>
  );
}
