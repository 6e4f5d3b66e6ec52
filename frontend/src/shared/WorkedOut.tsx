/** Figures that follow from what was measured, in a line; each says how on being pointed at. */
import { Typography } from "@mui/material";
import type { WorkedOut } from "../api/types";
import { formatLength, formatPower } from "./format";
import { useUnits } from "./units";

export function WorkedOutLine({ figures }: { figures: readonly WorkedOut[] }) {
  const units = useUnits();
  if (figures.length === 0) return null;
  return (
    <Typography sx={{ py: 1 }}>
      {figures.map((figure, i) => (
        <span key={figure.key} title={figure.how}>
          {i > 0 && " · "}
          {figure.label}{" "}
          <b>
            {figure.kind === "area" || figure.kind === "volume"
              ? formatPower(figure.value_si, figure.kind, units)
              : formatLength(figure.value_si, units)}
          </b>
        </span>
      ))}
    </Typography>
  );
}
