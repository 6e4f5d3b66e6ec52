/** Whether what was typed is sent: on its way, kept on this tablet, or there. */
import { Typography } from "@mui/material";
import { ink } from "../../shared/theme";
import type { Sending } from "./useKeptUntilSent";

export function Standing({ sending, done }: { sending: Sending; done: string }) {
  const says = sending.away
    ? "◐ kept on this tablet; it is sent when the network is back"
    : sending.kept && !sending.refused
      ? "◐ on its way"
      : done;
  return (
    <Typography role="status" sx={{ color: ink.soft, minHeight: "1.5em" }}>
      {says}
    </Typography>
  );
}
