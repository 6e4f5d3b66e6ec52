/** The clock that the class builds by: start, pause, more time, and warnings that can be seen from the back. */
import { Box, Button, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { answered, api } from "../../api/client";
import { keys, showAnswer } from "../../api/queries";
import { Notice, sentenceOf } from "../../shared/states";
import { useClockSound } from "../../shared/sound";
import { condensed, ink } from "../../shared/theme";
import { useRunState } from "../run";
import { useSince } from "../../shared/clock";
import { clockText } from "../../shared/clockText";

type Action = "start" | "pause" | "resume" | "extend" | "reset";

const ON_DARK = { color: "#ffffff", borderColor: "#ffffff" } as const;

export function BuildClock() {
  const { state } = useRunState();
  const { run, clock } = state;
  const client = useQueryClient();
  const act = useMutation({
    mutationFn: ({ action, minutes = 0 }: { action: Action; minutes?: number }) =>
      answered(
        api.PUT("/api/runs/{id}/build-clock", {
          params: { path: { id: run.id } },
          body: { action, minutes },
        }),
      ),
    onSuccess: (fresh) => showAnswer(client, keys.run(run.id), fresh),
  });
  const left = clock.left_s - useSince(clock, clock.running) * (clock.running ? 1 : 0);
  const warned = clock.warnings_s.filter((at) => left <= at);
  const nearest = warned.length > 0 ? Math.min(...warned) : null;
  const over = clock.started && left <= 0;
  useClockSound(clock.running, nearest, over);
  const words = !clock.started
    ? "To build"
    : over
      ? "Time is up. Hands off."
      : !clock.running
        ? "Paused"
        : nearest !== null
          ? `Less than ${nearest / 60} minutes left`
          : "Left to build";
  return (
    <Box
      sx={{
        bgcolor: over ? ink.oxide : ink.ink,
        color: "#ffffff",
        p: 2.5,
        width: 360,
        maxWidth: "100%",
        outline: clock.running && nearest !== null && !over ? `8px solid ${ink.watchFill}` : "none",
      }}
    >
      <Typography sx={{ fontSize: "1.3rem", fontWeight: nearest !== null ? 700 : 400 }} aria-live="polite">
        {words}
      </Typography>
      <Box
        role="timer"
        sx={{
          fontFamily: condensed,
          fontWeight: 700,
          fontSize: "8.5rem",
          lineHeight: 1,
          color: clock.started && nearest !== null && !over ? ink.watchFill : "#ffffff",
          opacity: clock.started && !clock.running ? 0.55 : 1,
        }}
      >
        {clockText(left)}
      </Box>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, mt: 1.5 }}>
        {!clock.started ? (
          <Button variant="contained" size="large" onClick={() => act.mutate({ action: "start" })}>
            Start building
          </Button>
        ) : (
          <>
            <Button
              variant="contained"
              onClick={() => act.mutate({ action: clock.running ? "pause" : "resume" })}
              disabled={act.isPending}
            >
              {clock.running ? "Pause" : "Go on"}
            </Button>
            {[1, 5].map((minutes) => (
              <Button
                key={minutes}
                variant="outlined"
                sx={ON_DARK}
                disabled={act.isPending}
                onClick={() => act.mutate({ action: "extend", minutes })}
              >
                + {minutes} min
              </Button>
            ))}
            <Button sx={ON_DARK} onClick={() => act.mutate({ action: "reset" })} disabled={act.isPending}>
              Reset the clock
            </Button>
          </>
        )}
      </Box>
      <Typography variant="body2" sx={{ mt: 1, opacity: 0.8 }}>
        Warned {clock.warnings_s.map((at) => at / 60).join(" and ")} minutes before the end
        {clock.extra_s > 0 && `; ${Math.round(clock.extra_s / 60)} added`}.
      </Typography>
      {act.isError && <Notice kind="problem">{sentenceOf(act.error)}</Notice>}
    </Box>
  );
}
