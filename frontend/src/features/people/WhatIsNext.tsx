/** The top of home: who is on the bench now, what to go on with, the next lesson and what it still needs. */
import { Box, Button, Typography } from "@mui/material";
import type { ReactNode } from "react";
import { Link as RouterLink } from "react-router";
import type { Home, HomeRun } from "../../api/types";
import { SetupDrawing } from "../../drawing/SetupDrawing";
import { formatDate } from "../../shared/format";
import { ink } from "../../shared/theme";

/** So many things to buy are named; the kit list has all. */
const NAMED = 4;

interface NextProps {
  run: HomeRun;
  lead: string;
  title: string;
  children: ReactNode;
  way: { to: string; label: string };
  first: boolean;
}

function Next({ run, lead, title, children, way, first }: NextProps) {
  return (
    <Box sx={{ display: "flex", gap: 2.5, minWidth: 0, flex: "1 1 360px" }}>
      <Box aria-hidden sx={{ width: 150, flexShrink: 0, alignSelf: "flex-start" }}>
        <SetupDrawing drawing={run.drawing} width={150} height={110} plain />
      </Box>
      <Box sx={{ minWidth: 0 }}>
        <Typography sx={{ color: ink.soft }}>{lead}</Typography>
        <Typography component="p" variant={first ? "h1" : "h2"}>
          {title}
        </Typography>
        <Box sx={{ mt: 0.5, mb: 1 }}>{children}</Box>
        <Button component={RouterLink} to={way.to} variant={first ? "contained" : "outlined"}>
          {way.label}
        </Button>
      </Box>
    </Box>
  );
}

export function WhatIsNext({ home }: { home: Home }) {
  const run = (id: number) => home.runs.find((listed) => listed.id === id);
  const parts: Omit<NextProps, "first">[] = [];
  // One that is on the bench, and what comes after; with nothing to come, a second bench.
  for (const now of home.on_the_bench.slice(0, home.next_lesson ? 1 : 2)) {
    const on = run(now.run);
    if (on)
      parts.push({
        run: on,
        lead: "On the bench now",
        title: now.team,
        children: `${on.name}, ${on.class_name}. ${on.tested} of ${on.designs} tested.`,
        way: { to: `/runs/${on.id}/bench`, label: "To the bench" },
      });
  }
  const next = home.next_lesson;
  const coming = next && run(next.run);
  const lesson: Omit<NextProps, "first"> | null =
    next && coming
      ? {
          run: coming,
          lead: next.to_come
            ? `Next lesson, ${formatDate(coming.date)}`
            : `Not begun, planned for ${formatDate(coming.date)}`,
          title: `${coming.name}, ${coming.class_name}`,
          children:
            next.to_buy.length === 0 ? (
              "Nothing is left to buy."
            ) : (
              <>
                To buy:{" "}
                {next.to_buy
                  .slice(0, NAMED)
                  .map((line) => `${line.name} (${line.buy})`)
                  .join("; ")}
                {next.to_buy.length > NAMED && `; and ${next.to_buy.length - NAMED} more`}.
              </>
            ),
          way: { to: `/runs/${coming.id}/kit`, label: "Its kit list" },
        }
      : null;
  if (lesson && (next?.to_come === true || parts.length > 0)) parts.push(lesson);
  const going = home.go_on == null ? undefined : run(home.go_on);
  if (going)
    parts.push({
      run: going,
      lead: "To go on with",
      title: `${going.name}, ${going.class_name}`,
      children: `${going.tested} of ${going.designs} tested.`,
      way: { to: `/runs/${going.id}/bench`, label: "To its bench" },
    });
  if (lesson && !parts.includes(lesson)) parts.push(lesson);
  if (parts.length === 0) return null;
  return (
    <Box
      component="section"
      aria-label="What is next"
      sx={{ display: "flex", flexWrap: "wrap", gap: 4, py: 2, borderBottom: `3px solid ${ink.ink}` }}
    >
      {parts.slice(0, 2).map((part, i) => (
        <Next key={part.run.id} {...part} first={i === 0} />
      ))}
    </Box>
  );
}
