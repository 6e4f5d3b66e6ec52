/** Does it stand by itself? Nobody touches it while the seconds run; then the answer is written down. */
import { Button, Typography } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import { condensed, ink } from "../../shared/theme";

export function StandTimer({ seconds, onStood }: { seconds: number; onStood: () => void }) {
  const [began, setBegan] = useState<number | null>(null);
  const [left, setLeft] = useState(seconds);
  const rung = useRef(false);
  useEffect(() => {
    if (began === null) return undefined;
    const timer = window.setInterval(() => {
      const now = seconds - (performance.now() - began) / 1000;
      setLeft(now);
      if (now <= 0 && !rung.current) {
        rung.current = true;
        onStood();
      }
    }, 100);
    return () => window.clearInterval(timer);
  }, [began, onStood, seconds]);
  if (began === null)
    return (
      <Button size="small" onClick={() => setBegan(performance.now())}>
        Time it: {seconds} s
      </Button>
    );
  return (
    <Typography
      role="timer"
      sx={{ fontFamily: condensed, fontWeight: 700, fontSize: "1.7rem", color: ink.watch }}
    >
      {Math.max(0, Math.ceil(left))} s
      <Button size="small" onClick={() => setBegan(null)}>
        Stop
      </Button>
    </Typography>
  );
}
