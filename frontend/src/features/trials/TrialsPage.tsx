/** All trials of a run: what each came to, who wrote it, and the way to put one right after the fact. */
import { Box, Link, Typography } from "@mui/material";
import { Link as RouterLink, useParams } from "react-router";
import { TeamMark } from "../../drawing/TeamMark";
import type { Design } from "../../api/types";
import { formatMoment } from "../../shared/format";
import { Empty } from "../../shared/states";
import { ink } from "../../shared/theme";
import { useRunState } from "../run";
import { Changes } from "./Changes";
import { TrialRecord } from "./TrialRecord";

type Trial = Design["trials"][number];

function TrialLine({
  design,
  trial,
  run,
  chosen,
}: {
  design: Design;
  trial: Trial;
  run: number;
  chosen: boolean;
}) {
  const isVoid = trial.result.outcome === "void";
  const marks = [
    trial.result.corrected.length > 0 ? "corrected" : "",
    trial.result.notes.length > 0 ? "with a note" : "",
  ].filter(Boolean);
  return (
    <Link
      component={RouterLink}
      to={`/runs/${run}/trials/${trial.id}`}
      underline="none"
      color="inherit"
      aria-current={chosen ? "true" : undefined}
      sx={{
        display: "grid",
        gridTemplateColumns: "30px 1fr",
        columnGap: 1.5,
        alignItems: "center",
        px: 1,
        py: 0.75,
        borderBottom: `1px solid ${ink.line}`,
        borderLeft: `5px solid ${chosen ? ink.oxide : "transparent"}`,
        bgcolor: chosen ? ink.sheet : "transparent",
        "&:hover": { bgcolor: ink.sheet },
      }}
    >
      <TeamMark team={design.team} size={26} />
      <Box>
        <Typography sx={{ fontWeight: 600 }}>
          {design.team.name}
          {design.version > 1 && ` v${design.version}`}, trial {trial.number}:{" "}
          <Box component="span" sx={{ color: isVoid ? ink.soft : ink.ink, fontWeight: 700 }}>
            {trial.line}
          </Box>
        </Typography>
        <Typography variant="body2" sx={{ color: ink.soft }}>
          {[formatMoment(trial.latest_at ?? trial.started_at), trial.authors.join(", "), ...marks]
            .filter(Boolean)
            .join(" · ")}
        </Typography>
      </Box>
    </Link>
  );
}

export default function TrialsPage() {
  const { state } = useRunState();
  const opened = useParams()["trialId"];
  const trials = state.designs
    .flatMap((design) => design.trials.map((trial) => ({ design, trial })))
    .sort((a, b) => b.trial.started_at.localeCompare(a.trial.started_at));
  const chosen = trials.find(({ trial }) => trial.id === opened);
  return (
    <Box sx={{ pt: 2 }}>
      <Typography variant="h1">All trials</Typography>
      <Typography sx={{ color: ink.soft, mb: 2 }}>
        Put right here what was written down wrong. The first writing stays readable, with who changed it and
        when.
      </Typography>
      {trials.length === 0 ? (
        <Empty title="No trial yet.">
          <Typography>What is tested at the bench appears here.</Typography>
        </Empty>
      ) : (
        <Box
          sx={{
            display: "grid",
            gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "minmax(300px, 5fr) 7fr" },
            gap: 4,
          }}
        >
          <Box component="nav" aria-label="Trials">
            {trials.map(({ design, trial }) => (
              <TrialLine
                key={trial.id}
                design={design}
                trial={trial}
                run={state.run.id}
                chosen={trial.id === opened}
              />
            ))}
          </Box>
          <Box>
            {chosen ? (
              <TrialRecord key={chosen.trial.id} design={chosen.design} trial={chosen.trial} />
            ) : (
              <Changes />
            )}
          </Box>
        </Box>
      )}
    </Box>
  );
}
