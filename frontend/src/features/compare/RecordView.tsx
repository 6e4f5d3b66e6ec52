/** What stays: papers for the wall and the folder, tables for the spreadsheet, the whole run as one file. */
import { Box, Link, Typography } from "@mui/material";
import type { ReactNode } from "react";
import { PaperLink } from "../../shared/LongWork";
import { ink } from "../../shared/theme";
import { useRunState } from "../run";
import { Keeping } from "./Keeping";
import { History } from "./History";
import { ResultsTable } from "./ResultsTable";

function Line({
  href,
  label,
  children,
  paper = false,
}: {
  href: string;
  label: string;
  children: ReactNode;
  paper?: boolean;
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
      <Box>
        {paper ? (
          <PaperLink href={href} label={label} />
        ) : (
          <Link href={href} download sx={{ fontWeight: 600 }}>
            {label}
          </Link>
        )}
      </Box>
      <Typography>{children}</Typography>
    </Box>
  );
}

export function RecordView() {
  const { state } = useRunState();
  const base = `/api/runs/${state.run.id}`;
  const words = `words=1&zone=${encodeURIComponent(Intl.DateTimeFormat().resolvedOptions().timeZone)}`;
  return (
    <Box sx={{ mt: 2, maxWidth: 980 }}>
      <Typography variant="h2">On paper</Typography>
      <Line href={`${base}/print/report`} label="Run report" paper>
        Brief, set-up, results and how sure they are, charts, photographs, what was not like with like,
        cautions, method.
      </Line>
      <Line href={`${base}/print/board`} label="Results board" paper>
        One page for the wall, readable from afar.
      </Line>
      <Line href={`${base}/print/summaries`} label="Team summaries" paper>
        A page for each team: what it built, how it went, what it said, what it changed.
      </Line>
      <Typography variant="h2" sx={{ mt: 3 }}>
        For a spreadsheet
      </Typography>
      <Line href={`${base}/results.xlsx?${words}`} label="Everything (XLSX)">
        A sheet each for results, every step, readings, rubric and kit; headers in words, in your units and
        time.
      </Line>
      <Line href={`${base}/results.csv?${words}`} label="Results (CSV)">
        One row for each trial.
      </Line>
      <Line href={`${base}/ledger.csv?${words}`} label="Every step (CSV)">
        One row for each entry, also for those that were taken back.
      </Line>
      <Line href={`${base}/results.csv`} label="Results for programs (CSV)">
        Short names and SI units, the same in every language and year;{" "}
        <Link href={`${base}/ledger.csv`} download>
          every step
        </Link>{" "}
        likewise.
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
