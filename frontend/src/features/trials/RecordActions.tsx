/** What can be put right of a whole trial: its end, what spoiled it, its pile, whose it was; and a note to it. */
import { Box, Button } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link as RouterLink } from "react-router";
import { answered, api } from "../../api/client";
import { keys } from "../../api/queries";
import type { Design, LedgerLine } from "../../api/types";
import { Notice, sentenceOf } from "../../shared/states";
import { newId } from "../../shared/newId";
import { ChoicePanel, trialAddress, ValuePanel, type BenchTrial } from "../bench";
import { useRunState } from "../run";

type Asking = "void" | "pile" | "note" | "move" | "reopen" | null;

const ENDS = ["fail", "run_out", "void", "finish"];

interface Props {
  design: Design;
  trial: Design["trials"][number];
  lines: readonly LedgerLine[];
  bench: BenchTrial;
}

export function RecordActions({ design, trial, lines, bench }: Props) {
  const { state } = useRunState();
  const { run } = state;
  const client = useQueryClient();
  const [asking, setAsking] = useState<Asking>(null);
  const ended = trial.result.outcome !== "running";
  const move = useMutation({
    mutationFn: ({ to, id }: { to: number; id: string }) =>
      answered(
        api.POST("/api/trials/{id}/move", {
          params: { path: { id: trial.id } },
          body: { id, design: to, why: "" },
        }),
      ),
    onSuccess: async (moved) => {
      client.setQueryData(keys.trial(trial.id), moved);
      await client.invalidateQueries();
    },
  });
  const end = lines.findLast((line) => line.correctable && ENDS.includes(line.kind));
  const others = state.designs.filter((other) => other.id !== design.id);
  const write = (kind: Parameters<typeof bench.act>[0], data: Record<string, unknown>) => {
    bench.act(kind, data);
    setAsking(null);
  };
  return (
    <>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, my: 1.5 }}>
        {end && ended && (
          <Button variant="outlined" onClick={() => setAsking("reopen")}>
            {end.kind === "void" ? "It was not void" : "It had not ended"}
          </Button>
        )}
        {trial.result.outcome !== "void" && (
          <Button variant="outlined" onClick={() => setAsking("void")}>
            Mark it void
          </Button>
        )}
        {ended && trial.result.outcome !== "void" && Object.keys(trial.result.placed).length > 0 && (
          <Button variant="outlined" onClick={() => setAsking("pile")}>
            Weigh the pile
          </Button>
        )}
        {others.length > 0 && (
          <Button variant="outlined" onClick={() => setAsking("move")}>
            It was another team
          </Button>
        )}
        <Button variant="outlined" onClick={() => setAsking("note")}>
          Add a note
        </Button>
        <Button component={RouterLink} to={trialAddress(run.id, design.id, trial.id)}>
          Open at the bench
        </Button>
      </Box>
      {move.isError && <Notice kind="problem">{sentenceOf(move.error)}</Notice>}
      <Panels
        asking={asking}
        end={end}
        others={others}
        onClose={() => setAsking(null)}
        onWrite={write}
        onMove={(to) => {
          move.mutate({ to, id: newId() });
          setAsking(null);
        }}
      />
    </>
  );
}

interface PanelProps {
  asking: Asking;
  end: LedgerLine | undefined;
  others: readonly Design[];
  onClose: () => void;
  onWrite: (kind: "void" | "pile_reading" | "note" | "correct", data: Record<string, unknown>) => void;
  onMove: (design: number) => void;
}

function Panels({ asking, end, others, onClose, onWrite, onMove }: PanelProps) {
  const { family } = useRunState();
  return (
    <>
      {asking === "reopen" && end && (
        <ValuePanel
          title={end.kind === "void" ? "It was not void" : "It had not ended"}
          note={
            end.kind === "void"
              ? "It counts again as it did before. The line stays, struck through."
              : "It goes on at the bench from where it was. The end stays readable, struck through."
          }
          fields={[{ key: "why", label: "Why, if you like", initial: "" }]}
          onClose={onClose}
          onSave={({ why }) => {
            onWrite("correct", { event: end.id, gone: true, ...(why?.trim() ? { why: why.trim() } : {}) });
          }}
        />
      )}
      {asking === "void" && (
        <ChoicePanel
          title="What spoiled it?"
          note="A spoiled trial is listed, not scored, and can be tested again."
          choices={family.loading_errors}
          onClose={onClose}
          onChoose={(reason) => onWrite("void", { reason })}
        />
      )}
      {asking === "pile" && (
        <ValuePanel
          title="The pile on the scale"
          note="Everything that was on it at the end, platform included."
          fields={[
            { key: "mass", label: "Scale shows", initial: "", kind: "mass" },
            { key: "resolution", label: "Scale’s step", initial: "1 g", kind: "mass" },
          ]}
          onClose={onClose}
          onSave={(texts) => onWrite("pile_reading", { ...texts, covers: "all" })}
        />
      )}
      {asking === "note" && (
        <ValuePanel
          title="A note to this trial"
          note="It stands beside the result and changes nothing of it."
          fields={[{ key: "text", label: "Note", initial: "" }]}
          onClose={onClose}
          onSave={({ text }) => onWrite("note", { text })}
        />
      )}
      {asking === "move" && (
        <ChoicePanel
          title="Whose trial was it?"
          note="Its result goes to that team, with a line that says so. Own weight and measures are that team’s."
          choices={others.map((other, i) => ({
            key: String(other.id),
            letter: i < 9 ? String(i + 1) : "abcdefghijklmnopqrstuvwxyz".charAt(i - 9),
            label: `${other.team.name}${other.version > 1 ? ` v${other.version}` : ""}`,
            explanation: other.checked_in ? `${other.trials.length} trials` : "not checked in yet",
          }))}
          onClose={onClose}
          onChoose={(to) => {
            onMove(Number(to));
          }}
        />
      )}
    </>
  );
}
