/** The board's screens of words: the brief, the build clock, the cautions. */
import { Box, Typography } from "@mui/material";
import type { BoardState } from "../../api/types";
import { clockText } from "../../shared/clockText";
import { useClockSound } from "../../shared/sound";
import { condensed } from "../../shared/theme";
import { FilmPlayer } from "../../drawing/FilmPlayer";
import { SetupDrawing } from "../../drawing/SetupDrawing";
import { BoardJoin } from "./BoardJoin";
import { board } from "./boardTheme";
import { useCountdown } from "../../shared/useCountdown";

export function BoardBrief({ state }: { state: BoardState }) {
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "1.2fr 1fr", gap: 4, height: "100%" }}>
      <Box>
        <Typography
          sx={{ fontFamily: condensed, fontWeight: 700, fontSize: "3.8rem", lineHeight: 1.05, mb: 2 }}
        >
          {state.question}
        </Typography>
        {state.brief.map((line) => (
          <Box key={line.term} sx={{ display: "grid", gridTemplateColumns: "10.6rem 1fr", py: 0.6 }}>
            <Typography sx={{ fontSize: "1.8rem", fontWeight: 700, color: board.watch }}>
              {line.term}
            </Typography>
            <Typography sx={{ fontSize: "1.8rem" }}>{line.text}</Typography>
          </Box>
        ))}
      </Box>
      <Box sx={{ minHeight: 0, display: "flex", flexDirection: "column", gap: 2 }}>
        <Box sx={{ bgcolor: "#f5f0e6", p: 2, flex: "0 1 62vh", minHeight: 0 }}>
          {state.drawing && <SetupDrawing drawing={state.drawing} width={560} height={470} />}
        </Box>
        <BoardJoin code={state.join} sizePx={150} />
      </Box>
    </Box>
  );
}

/** The kind of challenge in motion, on paper colour so that its inks stay what they are. */
export function BoardMotion({ state }: { state: BoardState }) {
  if (!state.film) return <Typography sx={{ fontSize: "2rem" }}>There is nothing to move here.</Typography>;
  return (
    <Box>
      <Typography sx={{ fontFamily: condensed, fontWeight: 700, fontSize: "3rem", lineHeight: 1.05, mb: 1 }}>
        {state.film.title}
      </Typography>
      <Box sx={{ bgcolor: "#f5f0e6", color: "#1f2a2e", p: 2 }}>
        <FilmPlayer film={state.film} width={1100} height={480} large />
      </Box>
    </Box>
  );
}

export function BoardClock({ state, at }: { state: BoardState; at: number }) {
  return (
    <Box sx={{ height: "100%", display: "flex", flexDirection: "column" }}>
      {state.clock && <Clock clock={state.clock} at={at} large={state.join === ""} />}
      <BoardJoin code={state.join} sizePx={130} />
    </Box>
  );
}

function Clock({
  clock,
  at,
  large,
}: {
  clock: NonNullable<BoardState["clock"]>;
  at: number;
  large: boolean;
}) {
  const running = useCountdown(clock.running ? clock.left_s : null, at);
  const left = running ?? clock.left_s;
  const over = clock.started && left <= 0;
  const warned = clock.started ? clock.warnings_s.filter((warning) => left <= warning) : [];
  const near = warned.length > 0;
  useClockSound(clock.running, near ? Math.min(...warned) : null, over);
  return (
    <Box sx={{ textAlign: "center", pt: 2, flex: 1 }}>
      <Typography sx={{ fontSize: "3rem" }} aria-live="polite">
        {!clock.started
          ? "To build"
          : over
            ? "Time is up. Hands off."
            : clock.running
              ? "Left to build"
              : "Paused"}
      </Typography>
      <Box
        role="timer"
        sx={{
          fontFamily: condensed,
          fontWeight: 700,
          fontSize: large ? "min(38vw, 62vh)" : "min(38vw, 46vh)",
          lineHeight: 1,
          fontVariantNumeric: "tabular-nums",
          color: over ? board.oxide : near ? board.watch : board.text,
        }}
      >
        {clockText(left)}
      </Box>
    </Box>
  );
}

export function BoardCautions({ state }: { state: BoardState }) {
  return (
    <Box>
      <Typography
        sx={{ fontFamily: condensed, fontWeight: 700, fontSize: "3.8rem", lineHeight: 1.05, mb: 1 }}
      >
        Before we test
      </Typography>
      <Box sx={{ columnCount: state.cautions.length > 3 ? 2 : 1, columnGap: "48px" }}>
        {state.cautions.map((caution) => (
          <Box key={caution.key} sx={{ breakInside: "avoid", mb: 2 }}>
            <Typography sx={{ fontSize: "2.2rem", fontWeight: 700, color: board.watch }}>
              ▲ {caution.title}
            </Typography>
            <Typography sx={{ fontSize: "1.6rem", lineHeight: 1.25 }}>{caution.text}</Typography>
          </Box>
        ))}
      </Box>
    </Box>
  );
}
