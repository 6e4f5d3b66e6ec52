/** The next version: what to change, one thing at a time, and what the change gained. */
import { Box, Button, TextField, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "../../api/client";
import { keys } from "../../api/queries";
import type { Design, Mode } from "../../api/types";
import { formatMass, formatPercent } from "../../app/format";
import { Empty, sentenceOf } from "../../app/states";
import { ink } from "../../app/theme";
import { useUnits } from "../../app/units";
import { TeamMark } from "../../drawing/TeamMark";
import { useRunState } from "../run/useRunState";

function gainWords(gain: NonNullable<Design["gain"]>): string {
  if (gain.value === null || gain.value === undefined) return "gain not known";
  const sign = gain.value < 0 ? "−" : "+";
  const clear = gain.low > 0 || (gain.high !== null && gain.high < 0);
  return `${sign}${formatPercent(Math.abs(gain.value))}${clear ? "" : ", within the doubt"}`;
}

function Version({ design, modes }: { design: Design; modes: ReadonlyMap<string, Mode> }) {
  const units = useUnits();
  const last = [...design.trials]
    .reverse()
    .find((t) => t.result.outcome === "broke" || t.result.outcome === "ran_out");
  const how = last && modes.get(last.result.mode ?? last.result.reason ?? "");
  return (
    <Typography>
      <b>Version {design.version}</b>{" "}
      {last ? (
        <>
          held {last.result.outcome === "ran_out" && "at least "}
          {formatMass(last.result.held_kg, units)}
          {how && `, ${how.label.toLowerCase()}`}
        </>
      ) : design.state === "measured" ? (
        "measured; see Compare"
      ) : (
        "not tested yet"
      )}
      {design.gain && <b> ({gainWords(design.gain)})</b>}
      {design.changed && <span style={{ color: ink.soft }}> Changed: {design.changed}</span>}
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

export default function NextVersionPage() {
  const { state, family } = useRunState();
  const modes = new Map([...family.failure_modes, ...family.run_out_reasons].map((mode) => [mode.key, mode]));
  const byTeam = new Map<number, Design[]>();
  for (const design of state.designs)
    byTeam.set(design.team.id, [...(byTeam.get(design.team.id) ?? []), design]);
  const improved = state.designs.filter((design) => (design.gain?.value ?? 0) > 0).length;
  const compared = state.designs.filter((design) => design.gain).length;
  const tested = (design: Design) =>
    design.state === "measured" ||
    design.trials.some((t) => t.result.outcome === "broke" || t.result.outcome === "ran_out");
  const questions = (design: Design) =>
    modes.get([...design.trials].reverse().find((t) => t.result.mode)?.result.mode ?? "")?.redesign ?? [];
  return (
    <Box sx={{ pt: 3, maxWidth: 900 }}>
      <Typography variant="h1">
        {compared > 0
          ? `${improved} of ${compared} second versions held more.`
          : "Change one thing, and go again."}
      </Typography>
      <Typography sx={{ color: ink.soft, mt: 0.5, mb: 2 }}>
        The way it went says what to change. The new version goes through check-in and the bench like the
        first.
      </Typography>
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
                <Version key={design.id} design={design} modes={modes} />
              ))}
              {tested(latest) &&
                questions(latest).map((question) => (
                  <Typography key={question} sx={{ color: ink.soft }}>
                    {question}
                  </Typography>
                ))}
              {tested(latest) && <NextStep design={latest} />}
            </Box>
          </Box>
        );
      })}
    </Box>
  );
}
