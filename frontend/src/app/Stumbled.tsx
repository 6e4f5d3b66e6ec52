/** What is shown instead of a page whose script did not arrive, or that fell over itself. */
import { Box, Button, Typography } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { answered, api } from "../api/client";
import { Notice, sentenceOf } from "../shared/states";

export function Stumbled() {
  // The page is only loaded again when there is somebody to load it from.
  const again = useMutation({
    mutationFn: () => answered(api.GET("/api/session")),
    onSuccess: () => window.location.reload(),
  });
  return (
    <Box sx={{ p: 3 }} role="alert">
      <Typography variant="h2" sx={{ mb: 1 }}>
        This page could not be shown.
      </Typography>
      <Typography sx={{ mb: 2 }}>
        Is the network there, and the server running? What was written down at the bench is kept in this
        browser until it is saved.
      </Typography>
      <Button variant="outlined" disabled={again.isPending} onClick={() => again.mutate()}>
        Try again
      </Button>
      {again.isError && <Notice kind="problem">{sentenceOf(again.error)}</Notice>}
    </Box>
  );
}
