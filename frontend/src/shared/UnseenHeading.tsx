/** The first heading of a page whose look needs none: for who has it read out, and jumps from heading to heading. */
import { Box } from "@mui/material";
import type { ReactNode } from "react";

export function UnseenHeading({ children }: { children: ReactNode }) {
  return (
    <Box component="h1" sx={{ position: "absolute", left: -9999, m: 0 }}>
      {children}
    </Box>
  );
}
