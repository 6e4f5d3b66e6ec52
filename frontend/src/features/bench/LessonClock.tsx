/** The minutes left for tests: which teams still fit, and what to change when they do not. */
import { Box, Button, TextField, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "../../api/client";
import { keys, showAnswer } from "../../api/queries";
import { useSince } from "../../shared/clock";
import { clockText } from "../../shared/clockText";
import { sentenceOf } from "../../shared/states";
import { condensed, ink } from "../../shared/theme";
import { SoundButton } from "../../shared/SoundButton";
import { useRunState } from "../run";
import { StationsLink } from "./StationsLink";
import { ClickerControl } from "./ClickerControl";

export function LessonClock() {
  const { state } = useRunState();
  const client = useQueryClient();
  const id = state.run.id;
  const [open, setOpen] = useState(false);
  const [minutes, setMinutes] = useState("20");
  const fresh = { onSuccess: (run: typeof state) => showAnswer(client, keys.run(id), run) };
  const end = useMutation({
    mutationFn: (value: number | null) =>
      answered(api.PUT("/api/runs/{id}/bench-end", { params: { path: { id } }, body: { minutes: value } })),
    onSuccess: (run) => {
      fresh.onSuccess(run);
      setOpen(false);
    },
  });
  const fair = useMutation({
    mutationFn: () =>
      answered(api.PUT("/api/runs/{id}/queue", { params: { path: { id } }, body: { fair: true } })),
    ...fresh,
  });
  const left = state.bench_left_s;
  const since = useSince(state, left !== null);
  const fit = state.bench_fit;
  const tight = fit !== null && fit.fit < fit.waiting;
  return (
    <Box sx={{ display: "flex", flexWrap: "wrap", gap: 2, alignItems: "center", minHeight: 38, py: 0.25 }}>
      {left !== null && (
        <Typography
          role="timer"
          sx={{
            fontFamily: condensed,
            fontWeight: 700,
            fontSize: "1.7rem",
            lineHeight: 1,
            color: left - since <= 120 ? ink.oxide : ink.ink,
          }}
        >
          {clockText(left - since)}
        </Typography>
      )}
      {fit && (
        <Typography
          sx={{
            color: tight ? ink.watch : ink.soft,
            fontWeight: tight ? 600 : 400,
            flex: 1,
            lineHeight: 1.2,
          }}
        >
          {tight && "▲ "}
          {fit.sentence} {fit.gives.join(" ")}
        </Typography>
      )}
      {open ? (
        <Box
          component="form"
          sx={{ display: "flex", gap: 1, alignItems: "center" }}
          onSubmit={(event) => {
            event.preventDefault();
            end.mutate(Number(minutes.replace(",", ".")));
          }}
        >
          <TextField
            label="Minutes left for tests"
            value={minutes}
            autoFocus
            error={end.isError}
            helperText={end.isError ? sentenceOf(end.error) : undefined}
            onChange={(event) => setMinutes(event.target.value)}
            sx={{ width: 150 }}
          />
          <Button type="submit" variant="outlined" size="small">
            Set
          </Button>
          {left !== null && (
            <Button size="small" onClick={() => end.mutate(null)}>
              Do not count
            </Button>
          )}
        </Box>
      ) : (
        <Button size="small" onClick={() => setOpen(true)}>
          {left === null ? "How long have we got?" : "Change"}
        </Button>
      )}
      <Button
        size="small"
        onClick={() => fair.mutate()}
        disabled={fair.isPending}
        title="Whoever was last at the bench last time comes first"
      >
        Fair order
      </Button>
      <ClickerControl />
      <SoundButton />
      <StationsLink state={state} />
    </Box>
  );
}
