/** Build: a clock for the whole room, what each team tries, its draft, practice pieces and drying joints. */
import { Box, Typography } from "@mui/material";
import { ink } from "../../shared/theme";
import { UnseenHeading } from "../../shared/UnseenHeading";
import { useRunState } from "../run";
import { BuildClock } from "./BuildClock";
import { ExperiencePanel } from "./ExperiencePanel";
import { TeamLine } from "./TeamLine";

export default function BuildPage() {
  const { state } = useRunState();
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "auto minmax(0, 1fr)" },
        gap: 4,
        pt: 2.5,
        alignItems: "start",
      }}
    >
      <Box>
        <UnseenHeading>Build</UnseenHeading>
        <BuildClock />
        <ExperiencePanel />
      </Box>
      <section>
        <Typography variant="h2">What each team is trying</Typography>
        <Typography sx={{ color: ink.soft, mb: 1 }}>
          In a few words; it stands beside the result later.
        </Typography>
        {state.designs
          .filter((design) => design.trials.length === 0 || design.note !== "" || design.draft !== null)
          .map((design) => (
            <TeamLine key={design.id} design={design} />
          ))}
      </section>
    </Box>
  );
}
