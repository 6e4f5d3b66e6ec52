/** The trials of a design, each the way to all that it still allows: its end taken back, the pile weighed. */
import { Box, Link, Typography } from "@mui/material";
import { Link as RouterLink } from "react-router";
import type { Design } from "../../api/types";
import { ink } from "../../shared/theme";
import { useRunState } from "../run";
import { plural } from "../../shared/format";

/** The address of one trial at the bench. */
export const trialAddress = (run: number, design: number, trial: string): string =>
  `/runs/${run}/bench/${design}/${trial}`;

export function TrialList({ design }: { design: Design }) {
  const { state } = useRunState();
  if (design.trials.length === 0) return null;
  return (
    <Box component="nav" aria-label={`Trials of ${design.team.name}`} sx={{ mt: 3 }}>
      <Typography sx={{ fontWeight: 700 }}>
        {plural("Its trial", design.trials.length)}
        <Typography component="span" sx={{ color: ink.soft, ml: 1 }}>
          Open one to undo its end or weigh the pile;{" "}
          <Link component={RouterLink} to={`/runs/${state.run.id}/trials`} color="inherit">
            all trials of this run
          </Link>{" "}
          can be put right.
        </Typography>
      </Typography>
      {design.trials.map((trial) => (
        <Typography key={trial.id} sx={{ py: 0.25 }}>
          <Link
            component={RouterLink}
            to={trialAddress(state.run.id, design.id, trial.id)}
            sx={{ color: ink.oxide, fontWeight: 600 }}
          >
            Trial {trial.number}
          </Link>
          : {trial.line}
        </Typography>
      ))}
    </Box>
  );
}
