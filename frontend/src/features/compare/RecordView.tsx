/** What stays: papers for the wall and the folder, tables for the spreadsheet, the whole run as one file. */
import { Box, Link, Typography } from "@mui/material";
import type { ReactNode } from "react";
import { ink } from "../../shared/theme";
import { useRunState } from "../run";
import { Keeping } from "./Keeping";
import { History } from "./History";
import { ResultsTable } from "./ResultsTable";

function Line({
  href,
  label,
  children,
  view = false,
}: {
  href: string;
  label: string;
  children: ReactNode;
  view?: boolean;
}) {
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: "240px 1fr",
        gap: 2,
        py: 0.7,
        borderBottom: `1px solid ${ink.line}`,
      }}
    >
      <Link href={href} {...(view ? { target: "_blank" } : { download: true })} sx={{ fontWeight: 600 }}>
        {label}
      </Link>
      <Typography>{children}</Typography>
    </Box>
  );
}

export function RecordView() {
  const { state } = useRunState();
  const base = `/api/runs/${state.run.id}`;
  return (
    <Box sx={{ mt: 2, maxWidth: 980 }}>
      <Typography variant="h2">On paper</Typography>
      <Line href={`${base}/print/report`} label="Run report" view>
        Brief, set-up, results and how sure they are, charts, photographs, what was not like with like,
        cautions, method.
      </Line>
      <Line href={`${base}/print/board`} label="Results board" view>
        One page for the wall, readable from afar.
      </Line>
      <Line href={`${base}/print/summaries`} label="Team summaries" view>
        A page for each team: what it built, how it went, what it said, what it changed.
      </Line>
      <Typography variant="h2" sx={{ mt: 3 }}>
        For a spreadsheet
      </Typography>
      <Line href={`${base}/results.xlsx`} label="Everything (XLSX)">
        A sheet each for results, every step, readings, rubric and kit; units in the headers.
      </Line>
      <Line href={`${base}/results.csv`} label="Results (CSV)">
        One row for each trial.
      </Line>
      <Line href={`${base}/ledger.csv`} label="Every step (CSV)">
        One row for each entry, also for those that were taken back.
      </Line>
      <Typography variant="h2" sx={{ mt: 3 }}>
        To keep, and to take elsewhere
      </Typography>
      <Line href={`${base}/run.json`} label="The whole run (JSON)">
        Everything, photographs too, in one documented file. Home brings it in again, here or at another
        school.
      </Line>
      <Keeping />
      <ResultsTable />
      <History />
    </Box>
  );
}
