/** The next version: what to change, one thing at a time, and what the change gained. */
import { Box, Button, Link, TextField, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link as RouterLink } from "react-router";
import { answered, api } from "../../api/client";
import { keys, useGoalWords } from "../../api/queries";
import type { Design } from "../../api/types";
import { Empty, Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { TeamMark } from "../../drawing/TeamMark";
import { FramedChart } from "../compare";
import { useRunState } from "../run";

function Version({ design }: { design: Design }) {
  const { run } = useRunState().state;
  const trials = design.trials.filter((trial) => trial.counts).map((trial) => trial.line);
  return (
    <Typography>
      <b>Version {design.version}:</b>{" "}
      {trials.length > 0
        ? trials.join("; ")
        : design.state === "measured"
          ? "measured; see Compare"
          : "not tested yet"}
      {design.gain && (
        <b title={design.gain.reason} style={{ color: design.gain.kind === "clear" ? ink.held : ink.ink }}>
          {" "}
          {design.gain.words}.
        </b>
      )}
      {design.changed && <span style={{ color: ink.soft }}> Changed: {design.changed}</span>}
      {design.version > 1 && !design.checked_in && (
        <Link
          component={RouterLink}
          to={`/runs/${run.id}/check-in/${design.id}`}
          sx={{ ml: 1, color: ink.oxide, fontWeight: 600 }}
        >
          To its check-in
        </Link>
      )}
      {design.changes.length > 1 && (
        <Box component="span" sx={{ display: "block", color: ink.watch, fontWeight: 600 }}>
          This reads like {design.changes.length} changes ({design.changes.join("; ")}): which of them helped
          cannot be told.
        </Box>
      )}
    </Typography>
  );
}

function NextStep({ design }: { design: Design }) {
  const [changed, setChanged] = useState("");
  const { state } = useRunState();
  const client = useQueryClient();
  const open = useMutation({
    mutationFn: () =>
      answered(
        api.POST("/api/designs/{id}/next-version", {
          params: { path: { id: design.id } },
          body: { changed },
        }),
      ),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.run(state.run.id) }),
  });
  return (
    <Box
      component="form"
      sx={{ display: "flex", gap: 1, mt: 1, alignItems: "start" }}
      onSubmit={(event) => {
        event.preventDefault();
        open.mutate();
      }}
    >
      <TextField
        label="The one thing that changes"
        value={changed}
        error={open.isError}
        helperText={open.isError ? sentenceOf(open.error) : ""}
        onChange={(e) => setChanged(e.target.value)}
        sx={{ flex: 1, maxWidth: 460 }}
      />
      <Button type="submit" variant="outlined" disabled={open.isPending}>
        Open version {design.version + 1}
      </Button>
    </Box>
  );
}

/** What the team answers when all is over; each answer is kept when its field is left. */
function Reflections({ versions }: { versions: readonly Design[] }) {
  const { state, family } = useRunState();
  const client = useQueryClient();
  const save = useMutation({
    mutationFn: ({ id, ...body }: { id: number; question: string; text: string }) =>
      answered(api.PUT("/api/designs/{id}/reflection", { params: { path: { id } }, body })),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.run(state.run.id) }),
  });
  const latest = versions.at(-1)?.id ?? 0;
  const given = new Map(versions.flatMap((version) => version.reflections.map((r) => [r.question, r.text])));
  const name = versions[0]?.team.name ?? "";
  return (
    <Box component="details" sx={{ mt: 1 }}>
      <Typography component="summary" sx={{ cursor: "pointer", fontWeight: 600 }}>
        What {name} says ({given.size} of {family.reflect.length})
      </Typography>
      {family.reflect.map((question) => (
        <TextField
          key={question}
          label={question}
          defaultValue={given.get(question) ?? ""}
          multiline
          fullWidth
          sx={{ mt: 1.5 }}
          slotProps={{ htmlInput: { maxLength: 1000 } }}
          onBlur={(event) => {
            if (event.target.value.trim() !== (given.get(question) ?? ""))
              save.mutate({ id: latest, question, text: event.target.value });
          }}
        />
      ))}
      {save.isError && <Notice kind="problem">{sentenceOf(save.error)}</Notice>}
    </Box>
  );
}

function HintsControl() {
  const { state } = useRunState();
  const client = useQueryClient();
  const hide = useMutation({
    mutationFn: (hidden: boolean) =>
      answered(api.PUT("/api/runs/{id}/hints", { params: { path: { id: state.run.id } }, body: { hidden } })),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.run(state.run.id) }),
  });
  const hidden = state.run.hints_hidden;
  return (
    <Button sx={{ px: 0 }} disabled={hide.isPending} onClick={() => hide.mutate(!hidden)}>
      {hidden ? "Hints are hidden. Show them" : "Hide the hints: let them find out"}
    </Button>
  );
}

export default function NextVersionPage() {
  const { state } = useRunState();
  const wins = useGoalWords().data?.schools.find((choice) => choice.key === state.run.school)?.label;
  const byTeam = new Map<number, Design[]>();
  for (const design of state.designs)
    byTeam.set(design.team.id, [...(byTeam.get(design.team.id) ?? []), design]);
  const tested = (design: Design) => design.tested;
  return (
    <Box sx={{ pt: 3, display: "grid", gridTemplateColumns: { md: "minmax(0, 1fr) 380px" }, columnGap: 5 }}>
      <Box>
        <Typography variant="h1">
          {state.class_gain.n > 0 ? state.class_gain.says : "Change one thing, and go again."}
        </Typography>
        <Typography sx={{ color: ink.soft, mt: 0.5 }}>
          How it failed says what to change. The new version goes through check-in and the bench like the
          first.{wins && state.class_gain.n > 0 && ` Gains are in what wins here: ${wins.toLowerCase()}.`}
        </Typography>
        <HintsControl />
        {!state.designs.some(tested) && <Empty title="Nothing is tested yet." />}
        {[...byTeam.values()].map((versions) => {
          const latest = versions[versions.length - 1];
          if (!latest || !versions.some(tested)) return null;
          return (
            <Box
              key={latest.id}
              sx={{
                display: "grid",
                gridTemplateColumns: "52px 1fr",
                py: 1.5,
                borderBottom: `1px solid ${ink.line}`,
              }}
            >
              <TeamMark team={latest.team} size={34} />
              <Box>
                <Typography variant="h2">{latest.team.name}</Typography>
                {versions.map((design) => (
                  <Version key={design.id} design={design} />
                ))}
                {!state.run.hints_hidden &&
                  tested(latest) &&
                  latest.ways_on.map((question) => (
                    <Typography key={question} sx={{ color: ink.soft }}>
                      {question}
                    </Typography>
                  ))}
                {tested(latest) && <NextStep design={latest} />}
                {versions.some(tested) && <Reflections key={latest.id} versions={versions} />}
              </Box>
            </Box>
          );
        })}
      </Box>
      <FramedChart chart={state.versions} />
    </Box>
  );
}
