/** Build: a clock that the whole room can read, and what each team is trying. */
import { Box, Button, TextField, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { answered, api } from "../../api/client";
import { keys } from "../../api/queries";
import type { Design } from "../../api/types";
import { Notice, sentenceOf } from "../../app/states";
import { condensed, ink } from "../../app/theme";
import { TeamMark } from "../../drawing/TeamMark";
import { useDesignWrite, useRunState } from "../run/useRunState";

function useNow(active: boolean): number {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    if (!active) return undefined;
    const timer = window.setInterval(() => setNow(Date.now()), 500);
    return () => window.clearInterval(timer);
  }, [active]);
  return now;
}

function BuildClock() {
  const { state } = useRunState();
  const { run } = state;
  const client = useQueryClient();
  const started = run.build_started_at;
  const now = useNow(started !== null);
  const set = useMutation({
    mutationFn: (running: boolean) =>
      answered(
        api.PUT("/api/runs/{id}/build-clock", { params: { path: { id: run.id } }, body: { running } }),
      ),
    onSuccess: (fresh) => client.setQueryData(keys.run(run.id), fresh),
  });
  const left = started ? run.build_minutes * 60 - (now - Date.parse(started)) / 1000 : run.build_minutes * 60;
  const shown = Math.max(0, Math.ceil(left));
  const low = started !== null && left < 300;
  return (
    <Box sx={{ bgcolor: ink.ink, color: "#ffffff", p: 3, minWidth: 340 }}>
      <Typography sx={{ fontSize: "1.2rem" }}>
        {started === null ? "To build" : left <= 0 ? "Time is up. Hands off." : "Left to build"}
      </Typography>
      <Box
        role="timer"
        sx={{
          fontFamily: condensed,
          fontWeight: 700,
          fontSize: "8.5rem",
          lineHeight: 1,
          color: low ? ink.watchFill : "#ffffff",
        }}
      >
        {Math.floor(shown / 60)}:{String(shown % 60).padStart(2, "0")}
      </Box>
      <Button
        variant="contained"
        size="large"
        sx={{ mt: 2 }}
        onClick={() => set.mutate(started === null)}
        disabled={set.isPending}
      >
        {started === null ? "Start building" : "Reset the clock"}
      </Button>
      {set.isError && <Notice kind="problem">{sentenceOf(set.error)}</Notice>}
    </Box>
  );
}

function Idea({ design }: { design: Design }) {
  const [note, setNote] = useState(design.note);
  const write = useDesignWrite((text: string) =>
    answered(api.PATCH("/api/designs/{id}", { params: { path: { id: design.id } }, body: { note: text } })),
  );
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: "40px 170px 1fr",
        gap: 1.5,
        alignItems: "center",
        py: 1,
        borderBottom: `1px solid ${ink.line}`,
      }}
    >
      <TeamMark team={design.team} size={30} />
      <Typography sx={{ fontWeight: 600, fontSize: "1.15rem", overflowWrap: "anywhere" }}>
        {design.team.name}
        {design.version > 1 && `, version ${design.version}`}
      </Typography>
      <TextField
        label={`What ${design.team.name} tries`}
        value={note}
        error={write.isError}
        helperText={write.isError ? sentenceOf(write.error) : write.isPending ? "saving" : ""}
        onChange={(e) => setNote(e.target.value)}
        onBlur={() => {
          if (note !== design.note) write.mutate(note);
        }}
      />
    </Box>
  );
}

export default function BuildPage() {
  const { state } = useRunState();
  return (
    <Box
      sx={{ display: "grid", gridTemplateColumns: { md: "auto 1fr" }, gap: 5, pt: 3, alignItems: "start" }}
    >
      <BuildClock />
      <section>
        <Typography variant="h2">What each team is trying</Typography>
        <Typography sx={{ color: ink.soft, mb: 1 }}>
          In a few words; it stands beside the result later.
        </Typography>
        {state.designs
          .filter((design) => design.trials.length === 0 || design.note !== "")
          .map((design) => (
            <Idea key={design.id} design={design} />
          ))}
      </section>
    </Box>
  );
}
