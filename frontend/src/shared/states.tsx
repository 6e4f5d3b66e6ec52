/** The states every screen shares: loading, an error that says what to do, an empty place that says what comes next. */
import { Box, Button, LinearProgress, Typography } from "@mui/material";
import type { ReactNode } from "react";
import { ApiError } from "../api/client";
import { ink } from "./theme";

export function Loading({ what }: { what: string }) {
  return (
    <Box sx={{ maxWidth: 420, py: 4 }} role="status">
      <Typography sx={{ mb: 1 }}>Fetching {what} …</Typography>
      <LinearProgress aria-label={`Fetching ${what}`} />
    </Box>
  );
}

export function Failed({ error, retry }: { error: unknown; retry?: () => void }) {
  const sentence =
    error instanceof ApiError
      ? error.message
      : "No answer from the server. Is the network there, and the server running?";
  return (
    <Box sx={{ py: 3 }} role="alert">
      <Typography variant="h2" sx={{ mb: 1 }}>
        This could not be fetched.
      </Typography>
      <Typography sx={{ mb: 2 }}>{sentence}</Typography>
      {retry && (
        <Button variant="outlined" onClick={retry}>
          Try again
        </Button>
      )}
    </Box>
  );
}

interface Asked {
  isError: boolean;
  refetch: () => unknown;
}

/** What _Try again_ does where several things were asked for: fetches those that did not come. */
export const fetchAgain =
  (...asked: readonly Asked[]) =>
  (): void =>
    asked.filter((query) => query.isError).forEach((query) => void query.refetch());

export function Empty({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <Box sx={{ borderLeft: `6px solid ${ink.line}`, pl: 2, py: 1, my: 2 }}>
      <Typography variant="h2">{title}</Typography>
      {children}
    </Box>
  );
}

/** A message under or beside what it is about: a problem in red oxide, a caution in ochre, both with a word. */
export function Notice({ kind, children }: { kind: "problem" | "caution" | "done"; children: ReactNode }) {
  const colour = { problem: ink.oxide, caution: ink.watch, done: ink.held }[kind];
  const word = { problem: "Not taken:", caution: "Watch:", done: "Done:" }[kind];
  return (
    <Box
      role={kind === "problem" ? "alert" : "status"}
      sx={{ border: `2px solid ${colour}`, bgcolor: ink.sheet, px: 1.5, py: 0.75, my: 1 }}
    >
      <Box component="span" sx={{ fontWeight: 700, color: colour, mr: 1 }}>
        {word}
      </Box>
      {children}
    </Box>
  );
}

/** What a failed write says in a sentence. */
export function sentenceOf(error: unknown): string {
  return error instanceof ApiError
    ? error.message
    : "No answer from the server. Nothing is lost here; try again when the network is back.";
}
