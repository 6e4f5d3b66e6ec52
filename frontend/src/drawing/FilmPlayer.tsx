/** A short film of a drawing: it plays by itself, can be stopped and stepped by hand, and stands still where the system asks for less motion. */
import { Box, Button, Typography } from "@mui/material";
import { useEffect, useState } from "react";
import type { Film } from "../api/types";
import { SetupDrawing } from "./SetupDrawing";

/** How long a frame stands, and the last one [ms]. */
const FRAME = 450;
const LAST = 2200;

const still = (): boolean => window.matchMedia("(prefers-reduced-motion: reduce)").matches;

interface Props {
  film: Film;
  width: number;
  height: number;
  /** Whether it plays by itself at first; where less motion is asked for it never does. */
  plays?: boolean;
  /** Letters as on a board. */
  large?: boolean;
}

export function FilmPlayer({ film, width, height, plays = true, large = false }: Props) {
  const [at, setAt] = useState(0);
  const [running, setRunning] = useState(() => plays && !still());
  const last = film.frames.length - 1;
  const shown = Math.min(at, last);
  useEffect(() => {
    if (!running || last < 1) return;
    const timer = setTimeout(() => setAt(shown === last ? 0 : shown + 1), shown === last ? LAST : FRAME);
    return () => clearTimeout(timer);
  }, [running, shown, last]);
  const frame = film.frames[shown];
  if (!frame) return null;
  const step = (by: number) => {
    setRunning(false);
    setAt((shown + by + film.frames.length) % film.frames.length);
  };
  return (
    <Box component="figure" aria-label={film.title} sx={{ m: 0 }}>
      <Box sx={{ height: large ? "58vh" : height }} data-frame={shown}>
        <SetupDrawing
          drawing={{ ...frame.drawing, box: film.box }}
          width={width}
          height={height}
          plain
          room={26}
        />
      </Box>
      <Box component="figcaption">
        <Typography
          sx={{ fontWeight: 600, fontSize: large ? "2rem" : undefined, minHeight: "1.4em" }}
          aria-live={running ? "off" : "polite"}
        >
          {frame.says}
        </Typography>
      </Box>
      {last > 0 && (
        <Box sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap", mt: 0.5 }}>
          <Button
            size="small"
            variant="outlined"
            color="inherit"
            aria-label="One step back"
            onClick={() => step(-1)}
          >
            ◀
          </Button>
          <Button size="small" variant="outlined" color="inherit" onClick={() => setRunning(!running)}>
            {running ? "Stop" : "Play"}
          </Button>
          <Button
            size="small"
            variant="outlined"
            color="inherit"
            aria-label="One step on"
            onClick={() => step(1)}
          >
            ▶
          </Button>
          <Box
            component="input"
            type="range"
            min={0}
            max={last}
            value={shown}
            aria-label="Where in the film"
            aria-valuetext={frame.says}
            onChange={(event: React.ChangeEvent<HTMLInputElement>) => {
              setRunning(false);
              setAt(Number(event.target.value));
            }}
            sx={{ flex: 1, minWidth: 120, maxWidth: 420, accentColor: "#9e3d26" }}
          />
        </Box>
      )}
    </Box>
  );
}
