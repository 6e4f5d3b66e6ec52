/** What the standing camera sees, at the foot of the bench while load goes on: how far it went, and keeping that. */
import { Box, Button, Typography } from "@mui/material";
import { useEffect, useRef } from "react";
import type { BenchMeasure } from "../../api/types";
import { condensed, ink } from "../../shared/theme";
import type { Eye } from "./eye";
import { useFollow } from "./useFollow";
import { useWatch } from "./useWatch";

export interface WatchProps {
  trialId: string;
  measure: BenchMeasure;
  eye: Eye;
  /** What is on it now. */
  loadKg: number;
  /** Takes what was found as it would have been typed. */
  onTaken: (texts: { text: string; resolution: string; source: string }) => void;
  onStop: () => void;
}

const GONE = "The first picture is not here any more. Stop watching, and take it again.";

function Live({ stream }: { stream: MediaStream }) {
  const video = useRef<HTMLVideoElement>(null);
  useEffect(() => {
    if (video.current) video.current.srcObject = stream;
  }, [stream]);
  return (
    <Box
      component="video"
      ref={video}
      autoPlay
      muted
      playsInline
      aria-label="What the camera sees"
      sx={{ height: 50, maxWidth: 110, bgcolor: ink.ink, flexShrink: 0 }}
    />
  );
}

export default function WatchStrip({ trialId, measure, eye, loadKg, onTaken, onStop }: WatchProps) {
  const { seeking, first, ask } = useFollow(trialId, measure.key);
  const { went, trouble: untold } = useWatch(first && (async () => ask(first, await eye.grab(loadKg), true)));
  const trouble = !seeking && !first ? GONE : untold;
  useEffect(() => () => eye.stop(), [eye]);
  return (
    <Box
      component="section"
      aria-label={`${measure.label}, watched`}
      sx={{
        display: "flex",
        alignItems: "center",
        gap: 2,
        flexWrap: "wrap",
        borderLeft: `4px solid ${trouble ? ink.watchFill : ink.held}`,
        pl: 1.5,
      }}
    >
      {eye.stream && <Live stream={eye.stream} />}
      <Box sx={{ flex: 1, minWidth: 220 }}>
        <Typography variant="body2" sx={{ color: ink.soft }}>
          {measure.label}, {eye.stream ? "watched" : "watched in made-up pictures"}
        </Typography>
        <Typography
          data-testid="watched"
          sx={{ fontFamily: condensed, fontWeight: 700, fontSize: "1.6rem", lineHeight: 1.1 }}
        >
          {went ? went.told : trouble === "" ? "Looking …" : "Not seen"}
        </Typography>
        {trouble !== "" && (
          <Typography variant="body2" role="status">
            {went ? `Last seen so. ${trouble}` : trouble}
          </Typography>
        )}
      </Box>
      <Button
        variant="outlined"
        disabled={!went || trouble !== ""}
        onClick={() => went && onTaken({ text: went.text, resolution: went.step_text, source: "picture" })}
      >
        Keep as {measure.label.toLowerCase()}
      </Button>
      <Button onClick={onStop}>Stop watching</Button>
    </Box>
  );
}
