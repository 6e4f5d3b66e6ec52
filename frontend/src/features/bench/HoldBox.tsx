/** The wait after a step, counted down for the whole room. A new one for each step. */
import { Box } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import { useTicks } from "../../shared/sound";
import { condensed, ink } from "../../shared/theme";

interface Props {
  /** The step or round that waits. */
  id: string;
  holdS: number;
  /** Called when the wait begins. */
  onBegan?: (id: string, at: number) => void;
  /** Called once the wait is over. */
  onOver?: () => void;
  /** What it says then. */
  over?: string;
}

export function HoldBox({ id, holdS, onBegan, onOver, over: said = "Did it hold?" }: Props) {
  const [since] = useState(() => performance.now());
  const [elapsed, setElapsed] = useState(0);
  const rung = useRef(false);
  useEffect(() => onBegan?.(id, since), [id, onBegan, since]);
  useEffect(() => {
    const timer = window.setInterval(() => {
      const seconds = (performance.now() - since) / 1000;
      setElapsed(seconds);
      if (seconds >= holdS && !rung.current) {
        rung.current = true;
        onOver?.();
      }
    }, 100);
    return () => window.clearInterval(timer);
  }, [holdS, onOver, since]);
  const left = Math.max(0, Math.ceil(holdS - elapsed));
  useTicks(holdS - elapsed);
  const over = elapsed >= holdS;
  return (
    <Box
      role="timer"
      sx={{
        bgcolor: ink.ink,
        color: "#ffffff",
        width: 270,
        position: "relative",
        px: 2.25,
        py: 0.75,
        overflow: "hidden",
      }}
    >
      <Box
        sx={{
          position: "absolute",
          left: 0,
          bottom: 0,
          height: 7,
          bgcolor: ink.watchFill,
          width: `${Math.min(1, elapsed / holdS) * 100}%`,
        }}
      />
      {over ? (
        <Box sx={{ fontFamily: condensed, fontWeight: 700, fontSize: "2.1rem", lineHeight: 1.75 }}>
          {said}
        </Box>
      ) : (
        <Box sx={{ display: "flex", alignItems: "baseline", gap: 1.25 }}>
          <Box
            component="span"
            sx={{
              fontFamily: condensed,
              fontWeight: 700,
              fontSize: "3.6rem",
              lineHeight: 1.02,
              color: ink.watchFill,
            }}
          >
            {left}
          </Box>
          <span style={{ fontSize: "1.25rem", fontWeight: 600 }}>s, wait and watch</span>
        </Box>
      )}
    </Box>
  );
}
