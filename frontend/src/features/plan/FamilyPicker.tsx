/** Which kind of challenge: each drawn to scale. */
import { Box, Typography } from "@mui/material";
import type { Family, FamilyKey } from "../../api/types";
import { bareButton, ink } from "../../shared/theme";
import { SetupDrawing } from "../../drawing/SetupDrawing";

export function FamilyPicker({
  families,
  onPick,
}: {
  families: readonly Family[];
  onPick: (key: FamilyKey) => void;
}) {
  return (
    <Box
      component="nav"
      aria-label="What is built"
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "1fr 1fr", sm: "repeat(4, 1fr)", lg: "repeat(6, 1fr)" },
      }}
    >
      {families.map((family) => (
        <Box
          key={family.key}
          component="button"
          type="button"
          onClick={() => onPick(family.key as FamilyKey)}
          sx={{
            ...bareButton,
            display: "flex",
            flexDirection: "column",
            alignItems: "stretch",
            justifyContent: "flex-start",
            bgcolor: "transparent",
            borderTop: `1px solid ${ink.line}`,
            px: 1.5,
            py: 1.5,
            "&:hover": { bgcolor: ink.sheet },
          }}
        >
          <Box sx={{ height: 104 }}>
            <SetupDrawing drawing={family.sketch} width={170} height={104} plain />
          </Box>
          <Typography
            component="span"
            sx={{ display: "block", fontWeight: 700, fontSize: "1.15rem", mt: 0.75 }}
          >
            {family.name}
          </Typography>
          <Typography component="span" variant="body2" sx={{ display: "block", color: ink.soft }}>
            {family.built}
          </Typography>
        </Box>
      ))}
    </Box>
  );
}
