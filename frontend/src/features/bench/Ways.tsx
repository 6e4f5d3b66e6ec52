/** In which of several ways a test is set up. */
import { Box, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import type { Mode } from "../../api/types";
import { ink } from "../../shared/theme";

export function Ways({
  ways,
  way,
  onWay,
}: {
  ways: readonly Mode[];
  way: string;
  onWay: (way: string) => void;
}) {
  return (
    <Box sx={{ mt: 1.5 }}>
      <ToggleButtonGroup
        exclusive
        size="small"
        aria-label="How it is set up"
        value={way}
        onChange={(_, key: string | null) => key && onWay(key)}
        sx={{
          flexWrap: "wrap",
          "& .MuiToggleButton-root": { px: 1.5, py: 0.4, textTransform: "none", fontSize: "1.05rem" },
        }}
      >
        {ways.map((way, i) => (
          <ToggleButton key={way.key} value={way.key}>
            {i + 1} {way.label}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <Typography variant="body2" sx={{ color: ink.soft, mt: 0.5 }}>
        {ways.find((arrangement) => arrangement.key === way)?.explanation} The same for every team, or it is
        named when they are compared.
      </Typography>
    </Box>
  );
}
