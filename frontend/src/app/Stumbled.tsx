/** What is shown instead of a page whose script did not arrive, or that fell over itself. */
import { Box, Button, Typography } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { useEffect } from "react";
import { useRouteError } from "react-router";
import { answered, api } from "../api/client";
import { Notice, sentenceOf } from "../shared/states";
import { NotArrived } from "./page";

const AGAIN_EVERY_MS = 5000;

/** The page is only loaded again when there is somebody to load it from. */
const loadedAgain = () => answered(api.GET("/api/session")).then(() => window.location.reload());

export function Stumbled() {
  const comesBack = useRouteError() instanceof NotArrived;
  const again = useMutation({ mutationFn: loadedAgain });
  // Nobody stands at a projector to try again.
  useEffect(() => {
    if (!comesBack) return undefined;
    const timer = window.setInterval(() => void loadedAgain().catch(() => undefined), AGAIN_EVERY_MS);
    return () => window.clearInterval(timer);
  }, [comesBack]);
  return (
    <Box sx={{ p: 3 }} role="alert">
      <Typography variant="h2" sx={{ mb: 1 }}>
        This page could not be shown.
      </Typography>
      <Typography sx={{ mb: 2 }}>
        Is the network there, and the server running? What was written down at the bench is kept in this
        browser until it is saved.{comesBack && " The page comes by itself as soon as it can."}
      </Typography>
      <Button variant="outlined" disabled={again.isPending} onClick={() => again.mutate()}>
        Try again
      </Button>
      {again.isError && <Notice kind="problem">{sentenceOf(again.error)}</Notice>}
    </Box>
  );
}
