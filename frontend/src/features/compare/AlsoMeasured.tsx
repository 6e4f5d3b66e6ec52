/** What follows from the readings of each design: areas, edges, room inside. Nothing where no kind of it was measured. */
import { Box, Typography } from "@mui/material";
import { WorkedOutLine } from "../../shared/WorkedOut";
import { TeamMark } from "../../drawing/TeamMark";
import { useRunState } from "../run";

export function AlsoMeasured() {
  const designs = useRunState().state.designs.filter((design) => design.worked_out.length > 0);
  if (designs.length === 0) return null;
  return (
    <Box component="section" sx={{ mt: 2 }}>
      <Typography variant="h3">Also measured</Typography>
      {designs.map((design) => (
        <Box key={design.id} sx={{ display: "flex", gap: 1, alignItems: "center" }}>
          <TeamMark team={design.team} size={18} />
          <Typography sx={{ fontWeight: 600, minWidth: 120 }}>
            {design.team.name}
            {design.version > 1 && ` v${design.version}`}
          </Typography>
          <WorkedOutLine figures={design.worked_out} />
        </Box>
      ))}
    </Box>
  );
}
