/** One trial's ledger, line by line, and what can be put right in it. Nothing that was written goes away. */
import { Box, Button, Link, Typography } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link as RouterLink, useNavigate } from "react-router";
import { keys, useRecord } from "../../api/queries";
import type { Design, LedgerLine } from "../../api/types";
import { formatClock } from "../../shared/format";
import { Failed, Loading } from "../../shared/states";
import { ink } from "../../shared/theme";
import {
  changeWords,
  TestedByItself,
  CorrectPanel,
  entryWords,
  SetAside,
  trialAddress,
  useTrial,
} from "../bench";
import { MotionChart } from "../photo";
import { useRunState } from "../run";
import { RecordActions } from "./RecordActions";

type Trial = Design["trials"][number];
function Line({
  line,
  about,
  onCorrect,
}: {
  line: LedgerLine;
  about: LedgerLine | null;
  onCorrect: () => void;
}) {
  const { state, family } = useRunState();
  const struck = line.fate === "struck" || line.fate === "left_out";
  const written = changeWords(line, about, state.run, family);
  return (
    <Box
      component="tr"
      sx={{ "& td": { py: 0.5, pr: 1.5, borderBottom: `1px solid ${ink.line}`, verticalAlign: "baseline" } }}
    >
      <td>{line.sequence}</td>
      <td style={{ color: ink.soft, whiteSpace: "nowrap" }}>{formatClock(line.happened_at)}</td>
      <td>
        <Box
          component={struck || line.fate === "corrected" ? "del" : "span"}
          sx={{ color: struck || line.fate === "corrected" ? ink.soft : ink.ink }}
        >
          {written}
        </Box>
        {line.fate === "corrected" && (
          <b> {entryWords({ kind: line.kind, data: line.says }, state.run, family)}</b>
        )}
        {struck && <span style={{ color: ink.watch }}> taken back</span>}
        {typeof line.data["why"] === "string" && line.data["why"] !== "" && (
          <span style={{ color: ink.soft }}> “{line.data["why"]}”</span>
        )}
        {line.why !== "" && <span style={{ color: ink.watch }}> {line.why}</span>}
      </td>
      <td style={{ color: ink.soft }}>{line.author}</td>
      <td>
        {line.correctable && (
          <Button
            size="small"
            sx={{ py: 0 }}
            aria-label={`Put entry ${line.sequence} right`}
            onClick={onCorrect}
          >
            Put right
          </Button>
        )}
      </td>
    </Box>
  );
}

export function TrialRecord({ design, trial }: { design: Design; trial: Trial }) {
  const { state } = useRunState();
  const { run } = state;
  const client = useQueryClient();
  const go = useNavigate();
  const bench = useTrial(trial.id, run.kit);
  const record = useRecord(trial.id);
  const [righting, setRighting] = useState<LedgerLine | null>(null);
  const length = bench.state?.result.next_sequence;
  useEffect(() => {
    // What was written here, or at a bench meanwhile, is read again.
    void client.invalidateQueries({ queryKey: keys.record(trial.id) });
    void client.invalidateQueries({ queryKey: keys.motions(trial.id) });
    void client.invalidateQueries({ queryKey: keys.run(run.id) });
    void client.invalidateQueries({ queryKey: keys.changes(run.id) });
  }, [client, length, run.id, trial.id]);
  if (record.isPending || bench.trial.isPending) return <Loading what="the ledger" />;
  if (!record.data) return <Failed error={record.error} retry={() => void record.refetch()} />;
  const lines = record.data;
  const byId = new Map(lines.map((line) => [line.id, line]));
  const ended = trial.result.outcome !== "running";
  return (
    <section aria-label={`${design.team.name}, trial ${trial.number}`}>
      <Typography variant="h2">
        {design.team.name}
        {design.version > 1 && ` v${design.version}`}, trial {trial.number}: {trial.line}
      </Typography>
      <TestedByItself trial={trial} />
      {trial.result.notes.map((note) => (
        <Typography key={note} sx={{ borderLeft: `4px solid ${ink.line}`, pl: 1.5, my: 0.5 }}>
          {note}
        </Typography>
      ))}
      <RecordActions design={design} trial={trial} lines={lines} bench={bench} />
      <SetAside bench={bench} />
      <Box component="table" sx={{ borderCollapse: "collapse", width: "100%" }}>
        <Box
          component="thead"
          sx={{ textAlign: "left", color: ink.soft, "& th": { fontWeight: 500, pr: 1.5 } }}
        >
          <tr>
            <th scope="col">No.</th>
            <th scope="col">Time</th>
            <th scope="col">What was written</th>
            <th scope="col">Who</th>
            <th scope="col">
              <Box component="span" sx={{ position: "absolute", clipPath: "inset(50%)" }}>
                Put right
              </Box>
            </th>
          </tr>
        </Box>
        <tbody>
          {lines.map((line) => (
            <Line
              key={line.id}
              line={line}
              about={byId.get(String(line.data["event"] ?? "")) ?? null}
              onCorrect={() => setRighting(line)}
            />
          ))}
        </tbody>
      </Box>
      <Box sx={{ maxWidth: 620 }}>
        <MotionChart trialId={trial.id} />
      </Box>
      <Typography sx={{ mt: 2 }}>
        <Link component={RouterLink} to={`/runs/${run.id}/trials`} color="inherit">
          What was changed in this run
        </Link>
      </Typography>
      {righting && (
        <CorrectPanel
          entry={{ id: righting.id, kind: righting.kind, data: righting.says }}
          onCorrect={(data) => bench.act("correct", data)}
          onClose={() => setRighting(null)}
        />
      )}
      {bench.state?.result.outcome === "running" && !ended && (
        <Button
          variant="contained"
          sx={{ mt: 2 }}
          onClick={() => void go(trialAddress(run.id, design.id, trial.id))}
        >
          Go on at the bench
        </Button>
      )}
    </section>
  );
}
