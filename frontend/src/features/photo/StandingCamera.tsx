/** The first picture from this tablet's own camera, which then stands still and watches. */
import { Box, Button, Typography } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { ASKED, openCamera } from "./eye";

interface Props {
  onShot: (file: File) => void;
  busy: boolean;
}

export function StandingCamera({ onShot, busy }: Props) {
  const open = useMutation({ mutationFn: openCamera });
  const shot = useMutation({
    mutationFn: () => open.data?.grab(0) ?? Promise.reject(new Error()),
    onSuccess: onShot,
  });
  const video = useRef<HTMLVideoElement>(null);
  const eye = open.data;
  useEffect(() => {
    if (video.current && eye) video.current.srcObject = eye.stream;
    return () => eye?.stop();
  }, [eye]);
  if (!eye)
    return (
      <Box sx={{ mt: { xs: 2.5, md: 0 } }}>
        <Button variant="outlined" disabled={open.isPending || busy} onClick={() => open.mutate()}>
          Stand this tablet up, to watch each second
        </Button>
        {open.isPending && <Typography role="status">{ASKED}</Typography>}
        {open.isError && <Notice kind="caution">{sentenceOf(open.error)}</Notice>}
      </Box>
    );
  return (
    <Box sx={{ mt: { xs: 2.5, md: 0 }, maxWidth: 640 }}>
      <Box
        component="video"
        ref={video}
        autoPlay
        muted
        playsInline
        aria-label="What the camera sees"
        sx={{ width: "100%", bgcolor: ink.ink, display: "block" }}
      />
      <Typography sx={{ my: 1 }}>
        It stands by itself, sees the card and the dot, and nobody has to reach past it.
      </Typography>
      <Button variant="contained" disabled={shot.isPending || busy} onClick={() => shot.mutate()}>
        Take the first picture
      </Button>
      {shot.isError && <Notice kind="problem">{sentenceOf(shot.error)}</Notice>}
    </Box>
  );
}
