/** In which plane the edges lie that are measured: in that of the card, before it, or behind it. */
import { Box, TextField, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { assumeUnit } from "../../shared/assumeUnit";
import { ink } from "../../shared/theme";
import { useUnits } from "../../shared/units";
import type { Where } from "./sending";

interface Props {
  asks: string;
  where: Where;
  onWhere: (where: Where) => void;
}

export function PlaneField({ asks, where, onWhere }: Props) {
  const units = useUnits();
  const settled = (text: string) => (text.trim() === "" ? "" : assumeUnit(text, "length", units));
  return (
    <Box sx={{ my: 1.5 }}>
      <Typography variant="body2" sx={{ color: ink.soft, mb: 0.5 }}>
        {asks}
      </Typography>
      <ToggleButtonGroup
        exclusive
        size="small"
        aria-label="Where the edges are"
        value={where.side}
        sx={{ "& .MuiToggleButton-root": { px: 1.1, py: 0.4, textTransform: "none" } }}
        onChange={(_, side: Where["side"] | null) => side && onWhere({ ...where, side })}
      >
        <ToggleButton value="in">Level with the card</ToggleButton>
        <ToggleButton value="before">Nearer</ToggleButton>
        <ToggleButton value="behind">Farther away</ToggleButton>
      </ToggleButtonGroup>
      {where.side !== "in" && (
        <Box sx={{ display: "flex", gap: 1, mt: 1.5 }}>
          <TextField
            label="By how much"
            value={where.distance}
            placeholder={units === "us" ? "1 in" : "2 cm"}
            sx={{ width: 130 }}
            onChange={(event) => onWhere({ ...where, distance: event.target.value })}
            onBlur={() => onWhere({ ...where, distance: settled(where.distance) })}
          />
          <TextField
            label="Give or take"
            value={where.within}
            placeholder={units === "us" ? "1/4 in" : "5 mm"}
            sx={{ width: 130 }}
            onChange={(event) => onWhere({ ...where, within: event.target.value })}
            onBlur={() => onWhere({ ...where, within: settled(where.within) })}
          />
        </Box>
      )}
    </Box>
  );
}
