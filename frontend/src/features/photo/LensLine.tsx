/** Whether the lens of this tablet was calibrated, and the way to it. */
import { Button, Typography } from "@mui/material";
import { useState } from "react";
import { formatMoment } from "../../shared/format";
import { ink } from "../../shared/theme";
import { LensDialog } from "./LensDialog";
import { useLenses } from "./useLens";

export function LensLine({ setNumber }: { setNumber: number }) {
  const [open, setOpen] = useState(false);
  const latest = useLenses().data?.[0];
  return (
    <Typography variant="body2" component="div" sx={{ color: ink.soft, mt: 0.5 }}>
      {latest
        ? `The lens of this tablet was calibrated on ${formatMoment(latest.calibrated_at)}. `
        : "Far from the card, a lens that was calibrated once tells more. "}
      <Button
        size="small"
        sx={{ p: 0, minWidth: 0, verticalAlign: "baseline" }}
        onClick={() => setOpen(true)}
      >
        {latest ? "Look at it" : "Calibrate this tablet’s lens"}
      </Button>
      {open && <LensDialog setNumber={setNumber} onClose={() => setOpen(false)} />}
    </Typography>
  );
}
