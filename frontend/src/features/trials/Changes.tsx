/** Who changed what after the fact, over all trials of the run, and the goal where that changed. */
import { Box, Link, Typography } from "@mui/material";
import { Link as RouterLink } from "react-router";
import { useRunChanges } from "../../api/queries";
import { formatMoment } from "../../shared/format";
import { Failed, Loading } from "../../shared/states";
import { ink } from "../../shared/theme";
import { changeWords } from "../bench";
import { useRunState } from "../run";

interface Row {
  key: string;
  at: string;
  who: string;
  what: string;
  why: string;
  link: { to: string; label: string } | null;
}

export function Changes() {
  const { state, family } = useRunState();
  const { run } = state;
  const changes = useRunChanges(run.id);
  if (changes.isPending) return <Loading what="the changes" />;
  if (!changes.data) return <Failed error={changes.error} retry={() => void changes.refetch()} />;
  const rows: Row[] = [
    ...changes.data.map(({ trial, team, version, number, line, about }) => ({
      key: line.id,
      at: line.happened_at,
      who: line.author,
      what: changeWords(line, about, run, family),
      why: String(line.data["why"] ?? line.data["note"] ?? ""),
      link: {
        to: `/runs/${run.id}/trials/${trial}`,
        label: `${team}${version > 1 ? ` v${version}` : ""}, trial ${number}`,
      },
    })),
    ...state.goal_changes.map((change) => ({
      key: change.changed_at,
      at: change.changed_at,
      who: change.author,
      what: "The goal was changed",
      why: change.reason,
      link: null,
    })),
  ].sort((a, b) => b.at.localeCompare(a.at));
  return (
    <section aria-labelledby="changes">
      <Typography variant="h2" id="changes">
        What was changed afterwards
      </Typography>
      {rows.length === 0 && (
        <Typography sx={{ color: ink.soft }}>
          Nothing. Pick a trial to read its ledger and to put it right.
        </Typography>
      )}
      {rows.map((row) => (
        <Box key={row.key} sx={{ py: 0.75, borderBottom: `1px solid ${ink.line}` }}>
          <Typography sx={{ fontWeight: 600 }}>
            {row.link && (
              <>
                <Link component={RouterLink} to={row.link.to} color="inherit">
                  {row.link.label}
                </Link>
                :{" "}
              </>
            )}
            {row.what}
          </Typography>
          <Typography variant="body2" sx={{ color: ink.soft }}>
            {[formatMoment(row.at), row.who, row.why && `“${row.why}”`].filter(Boolean).join(" · ")}
          </Typography>
        </Box>
      ))}
    </section>
  );
}
