/** What can hurt someone at a stage: a sign and a sentence each, in columns. */
import { Box, Typography } from "@mui/material";
import type { Caution } from "../api/types";
import { ink } from "../shared/theme";
import { CautionSign } from "./CautionSign";

interface Props {
  cautions: readonly Caution[];
  stage: "brief" | "bench";
  columns: Record<string, string>;
}

export function CautionList({ cautions, stage, columns }: Props) {
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: columns,
        columnGap: 4,
        rowGap: 1.5,
        mt: 3,
        borderTop: `2px solid ${ink.ink}`,
        pt: 2,
      }}
    >
      {cautions
        .filter((caution) => caution.stages.includes(stage))
        .map((caution) => (
          <Box key={caution.key} sx={{ display: "flex", gap: 1.25 }}>
            <CautionSign />
            <Typography variant="body2">
              <b>{caution.title}.</b> {caution.text}
            </Typography>
          </Box>
        ))}
    </Box>
  );
}
