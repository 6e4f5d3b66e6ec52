/** What a team is at: the brief, building, its test, what came of it. One thing on screen at a time. */
import { Box, Button, Typography } from "@mui/material";
import { useState, type ReactNode } from "react";
import { Link as RouterLink } from "react-router";
import type { TeamPage } from "../../api/types";
import { CautionList } from "../../drawing/CautionList";
import { SetupDrawing } from "../../drawing/SetupDrawing";
import { clockText } from "../../shared/clockText";
import { formatMass } from "../../shared/format";
import { condensed, ink } from "../../shared/theme";
import { useCountdown } from "../../shared/useCountdown";
import { useUnits } from "../../shared/units";
import { watched } from "../bench";
import { NextVersion, Questions } from "./Afterwards";
import { OwnPhotos } from "./OwnPhotos";
import { OwnReadings } from "./OwnReadings";
import { Pieces } from "./Pieces";
import { WhatItWillHold, WhatWeTry } from "./Said";
import { WhoDoesWhat, WhoIsHere } from "./Together";

interface Props {
  page: TeamPage;
  /** When the page came, by this tablet's clock [ms]. */
  at: number;
  /** Under which what is typed is kept: one team's version in one lesson. */
  place: string;
}

export function Brief({ page }: { page: TeamPage }) {
  return (
    <Box>
      <Typography variant="h1" sx={{ mt: 2 }}>
        {page.question || page.name}
      </Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: { md: "1fr 1fr" }, gap: 3, mt: 2 }}>
        <Box sx={{ maxHeight: 360 }}>
          <SetupDrawing drawing={page.drawing} width={560} height={340} />
        </Box>
        <Box
          component="dl"
          sx={{ m: 0, display: "grid", gridTemplateColumns: "6.5rem 1fr", rowGap: 1, alignContent: "start" }}
        >
          {page.brief.map(({ term, text }) => (
            <Box key={term} sx={{ display: "contents" }}>
              <Typography component="dt" sx={{ color: ink.soft, fontSize: "1.15rem" }}>
                {term}
              </Typography>
              <Typography component="dd" sx={{ m: 0, fontWeight: 600, fontSize: "1.15rem", lineHeight: 1.3 }}>
                {text}
              </Typography>
            </Box>
          ))}
        </Box>
      </Box>
      <CautionList cautions={page.cautions} stage="brief" columns={{ sm: "1fr 1fr" }} />
    </Box>
  );
}

/** The set-up, where there is room for it beside what is asked. */
function Beside({ page, children }: { page: TeamPage; children: ReactNode }) {
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: { md: "1fr 1fr" }, columnGap: 5 }}>
      <Box>{children}</Box>
      <Box sx={{ display: { xs: "none", sm: "block" }, height: { sm: 260, md: 380 }, mt: 3 }}>
        <SetupDrawing drawing={page.drawing} width={620} height={380} />
      </Box>
    </Box>
  );
}

function BriefAgain({ page }: { page: TeamPage }) {
  const [open, setOpen] = useState(false);
  return (
    <Box sx={{ mt: 4, borderTop: `2px solid ${ink.line}`, pt: 1 }}>
      <Button onClick={() => setOpen(!open)} aria-expanded={open} sx={{ px: 0 }}>
        {open ? "Put the brief away" : "The brief again"}
      </Button>
      {open && <Brief page={page} />}
    </Box>
  );
}

function Clock({ page, at }: { page: TeamPage; at: number }) {
  const running = useCountdown(page.clock.running ? page.clock.left_s : null, at);
  const left = running ?? page.clock.left_s;
  if (!page.clock.started) return null;
  const over = left <= 0;
  return (
    <Box sx={{ display: "flex", alignItems: "baseline", gap: 1.5, mt: 1 }}>
      <Typography
        role="timer"
        sx={{
          fontFamily: condensed,
          fontWeight: 700,
          fontSize: "4.5rem",
          lineHeight: 1,
          color: over ? ink.oxide : ink.ink,
        }}
      >
        {clockText(left)}
      </Typography>
      <Typography sx={{ fontSize: "1.2rem" }}>
        {over ? "Time is up. Hands off." : page.clock.running ? "left to build" : "the clock is paused"}
      </Typography>
    </Box>
  );
}

/** Under which is kept what belongs to the team, whichever version it is at. */
const teamPlace = (page: TeamPage): string => `${page.run} ${page.team?.id ?? 0}`;

function Ideas({ page }: { page: TeamPage }) {
  if (page.ideas.length === 0) return null;
  return (
    <Box sx={{ mt: 3 }}>
      <Typography variant="h2">Others have tried</Typography>
      <Box component="ul" sx={{ pl: 2.5, my: 0.5, fontSize: "1.15rem" }}>
        {page.ideas.map((idea) => (
          <li key={idea}>{idea}</li>
        ))}
      </Box>
    </Box>
  );
}

function ToTheTable({ page }: { page: TeamPage }) {
  if (!page.can_draft) return null;
  return (
    <Button component={RouterLink} to="/team/draft" variant="outlined" sx={{ mt: 2 }}>
      To our drafting table
    </Button>
  );
}

function Building({ page, at, place }: Props) {
  return (
    <Box>
      <Typography variant="h1" sx={{ mt: 2 }}>
        {page.version > 1 ? `Build version ${page.version}` : "Build"}
      </Typography>
      {page.changed && (
        <Typography sx={{ fontSize: "1.2rem" }}>
          What changes: <b>{page.changed}</b>
        </Typography>
      )}
      <Clock page={page} at={at} />
      <Beside page={page}>
        <WhatWeTry page={page} place={place} />
        <WhatItWillHold page={page} place={place} />
        <ToTheTable page={page} />
        <Pieces page={page} />
      </Beside>
      <Box sx={{ display: "grid", gridTemplateColumns: { md: "1.4fr 1fr" }, columnGap: 5 }}>
        <OwnReadings page={page} place={place} />
        <Box>
          <OwnPhotos page={page} place={place} />
          <Ideas page={page} />
        </Box>
      </Box>
      <WhoIsHere page={page} place={teamPlace(page)} />
      <BriefAgain page={page} />
    </Box>
  );
}

/** The way to the team's own station: to begin a test there, or to go on with the one that is on. */
function ToTheStation({ page }: { page: TeamPage }) {
  const { may_begin, trial, stopped } = page.own_test;
  if (!may_begin && !trial) return null;
  const words = may_begin
    ? page.trials.length > 0
      ? "Test it again yourselves"
      : "Test it yourselves"
    : page.live
      ? "Go on with our test"
      : "Look at our test again";
  return (
    <Box sx={{ my: 2 }}>
      {stopped && (
        <Typography role="alert" sx={{ fontSize: "1.2rem", fontWeight: 700, color: ink.oxide }}>
          Stopped by your teacher. Hands off.
        </Typography>
      )}
      <Button
        component={RouterLink}
        to="/team/test"
        variant={may_begin || page.live ? "contained" : "outlined"}
        sx={{ fontSize: "1.15rem" }}
      >
        {words}
      </Button>
    </Box>
  );
}

function Ready({ page, place }: Props) {
  return (
    <Box>
      <Typography variant="h1" sx={{ mt: 2 }}>
        You are checked in. Your test is to come.
      </Typography>
      <ToTheStation page={page} />
      <Beside page={page}>
        <WhatItWillHold page={page} place={place} />
        <WhoDoesWhat page={page} />
        <WhoIsHere page={page} place={teamPlace(page)} />
        <WhatWeTry page={page} place={place} />
      </Beside>
      <CautionList cautions={page.cautions} stage="bench" columns={{ sm: "1fr 1fr" }} />
    </Box>
  );
}

function Testing({ page, at, place }: Props) {
  const units = useUnits();
  const left = useCountdown(page.live?.hold_left_s ?? null, at);
  if (!page.live) return null;
  const { result, caution } = page.live.state;
  const { lead, figure } = watched(page.live.state, page, units);
  return (
    <Box>
      <Typography variant="h1" sx={{ mt: 2 }}>
        {lead}
      </Typography>
      <ToTheStation page={page} />
      <Typography
        component="p"
        sx={{ fontFamily: condensed, fontWeight: 700, color: ink.held, lineHeight: 1, my: 1 }}
      >
        <Box component="span" sx={{ fontSize: "min(34vw, 11rem)" }}>
          {figure.value}
        </Box>{" "}
        <Box component="span" sx={{ fontSize: "2.4rem" }}>
          {figure.unit}
        </Box>
      </Typography>
      {left !== null && (
        <Typography
          role="timer"
          sx={{ fontFamily: condensed, fontWeight: 700, fontSize: "3rem", color: ink.watch }}
        >
          {left > 0 ? `${Math.ceil(left)} s, wait and watch` : "Did it hold?"}
        </Typography>
      )}
      {result.step_waiting && !page.young && (
        <Typography sx={{ fontSize: "1.2rem", color: ink.soft }}>
          on it now {formatMass(result.load_on_kg, units)}
        </Typography>
      )}
      <WhatItWillHold page={page} place={place} />
      <WhoDoesWhat page={page} />
      {caution && (
        <Typography sx={{ mt: 2, fontSize: "1.2rem", bgcolor: ink.watchPale, p: 1.5 }}>
          ▲ {caution}
        </Typography>
      )}
    </Box>
  );
}

function Result({ page, place }: Props) {
  const counted = page.trials.filter((trial) => trial.headline !== "");
  return (
    <Box>
      <Typography variant="h1" sx={{ mt: 2 }}>
        {counted.at(-1)?.headline ?? "Measured. Your result stands."}
      </Typography>
      <ToTheStation page={page} />
      <WhatItWillHold page={page} place={place} />
      <Box component="ul" sx={{ pl: 2.5, fontSize: "1.15rem" }}>
        {page.trials.map((trial) => (
          <li key={trial.number}>
            Trial {trial.number}: {trial.line}
          </li>
        ))}
      </Box>
      <Box sx={{ display: "grid", gridTemplateColumns: { md: "1.4fr 1fr" }, columnGap: 5 }}>
        <Box>
          <WhatWeTry page={page} place={place} after />
          <Questions page={page} place={teamPlace(page)} />
          <OwnReadings page={page} place={place} />
        </Box>
        <OwnPhotos page={page} place={place} wreck />
      </Box>
      <NextVersion page={page} place={place} />
      <BriefAgain page={page} />
    </Box>
  );
}

export function Stage(props: Props) {
  switch (props.page.stage) {
    case "brief":
      return (
        <>
          <Brief page={props.page} />
          <Ideas page={props.page} />
          <WhatWeTry page={props.page} place={props.place} />
          <ToTheTable page={props.page} />
          <OwnPhotos page={props.page} place={props.place} />
          <WhoIsHere page={props.page} place={teamPlace(props.page)} />
        </>
      );
    case "ready":
      return <Ready {...props} />;
    case "testing":
      return <Testing {...props} />;
    case "result":
      return <Result {...props} />;
    case "away":
      return (
        <Typography variant="h1" sx={{ mt: 2 }}>
          Your teacher has noted that your team is not tested today. If that is wrong, say so.
        </Typography>
      );
    default:
      return <Building {...props} />;
  }
}
