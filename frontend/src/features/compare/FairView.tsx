/** Like with like: what else differed, whether it could have decided, and what to test again. */
import { Box, Link, Typography } from "@mui/material";
import { Link as RouterLink } from "react-router";
import type { Comparison } from "../../api/types";
import { ink } from "../../shared/theme";
import { TeamMark } from "../../drawing/TeamMark";
import { useRunState } from "../run";

export function FairView({ comparison }: { comparison: Comparison }) {
  const { state } = useRunState();
  const teams = new Map(state.designs.map((design) => [design.id, design.team]));
  const { differences, retests } = comparison;
  const deciding = differences.filter((difference) => difference.decides).length;
  return (
    <Box sx={{ mt: 2, maxWidth: 980 }}>
      <Typography variant="h2">
        {differences.length === 0
          ? "As far as we know, all were tested alike."
          : deciding === 0
            ? "There were differences, but none that could change who is first."
            : `${deciding === 1 ? "One thing" : `${deciding} things`} could have decided who is first.`}
      </Typography>
      {differences.map((difference) => {
        const team = teams.get(difference.design);
        return (
          <Box
            key={difference.design + difference.says}
            sx={{
              display: "grid",
              gridTemplateColumns: "30px 1fr auto",
              gap: 1,
              py: 0.8,
              borderBottom: `1px solid ${ink.line}`,
              alignItems: "center",
            }}
          >
            {team ? <TeamMark team={team} size={20} /> : <span />}
            <Typography>
              {difference.decides && <b style={{ color: ink.watch }}>Could have decided. </b>}
              {difference.says}{" "}
              {difference.mend && <span style={{ color: ink.soft }}>{difference.mend}</span>}
            </Typography>
            <Link component={RouterLink} to={`/runs/${state.run.id}/check-in/${difference.design}`}>
              its check-in
            </Link>
          </Box>
        );
      })}
      <Typography variant="h2" sx={{ mt: 3 }}>
        What to test again
      </Typography>
      {retests.length === 0 ? (
        <Typography>Nothing: who is best is sure enough.</Typography>
      ) : (
        <Box component="ol" sx={{ mt: 0.5, pl: 3 }}>
          {retests.map((line) => (
            <Typography component="li" key={line}>
              {line}
            </Typography>
          ))}
        </Box>
      )}
      <Typography variant="body2" sx={{ color: ink.soft, mt: 2 }}>
        A difference that could have decided concerns the leader, the one behind, or somebody who could still
        be first.
      </Typography>
    </Box>
  );
}
