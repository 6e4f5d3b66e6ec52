/** What the pages of one run have in common: its deck, its state, its board. */
import { Box, Typography } from "@mui/material";
import { useMemo } from "react";
import { createPortal } from "react-dom";
import { Outlet, useLocation, useParams } from "react-router";
import { useFamilies, usePart, useRun } from "../api/queries";
import type { ClassPart } from "../api/types";
import { Empty, Failed, fetchAgain, Loading } from "../shared/states";
import { GirderDeck } from "../drawing/GirderDeck";
import { KeptAhead, StationsLink } from "../features/bench";
import { useSendKept } from "../features/checkin";
import { BoardControl, useRunStream } from "../features/board";
import { DoorControl } from "../features/team";
import { FirstLesson, RunContext } from "../features/run";
import { ink } from "../shared/theme";
import { useTitle } from "../shared/title";

/** Said on every page of a run in a colleague's class. */
const LESSER: Partial<Record<ClassPart, string>> = {
  helper: "You help here: check-in and bench are yours too, all else is to look at.",
  observer: "You look on here: all is to look at, and nothing to change.",
};

export default function RunPages() {
  const id = Number(useParams()["runId"]);
  const run = useRun(id);
  const stage = useLocation().pathname.split("/")[3] ?? "";
  const families = useFamilies();
  useRunStream(id, run.data !== undefined);
  useSendKept();
  const family = families.data?.find((listed) => listed.key === run.data?.run.family);
  const value = useMemo(
    () => (run.data && family ? { state: run.data, family, atStation: false } : null),
    [run.data, family],
  );
  const part = usePart(run.data?.run.class_id ?? 0);
  const bay = run.data?.deck.find((listed) => listed.key === stage);
  useTitle(run.data ? [bay?.label ?? "", run.data.run.name, run.data.run.class_name] : []);
  if (run.isPending || families.isPending) return <Loading what="the run" />;
  const failed = [run, families].find((query) => query.isError && !query.data);
  if (failed) return <Failed error={failed.error} retry={fetchAgain(run, families)} />;
  if (!value) return <Empty title="This run is of a kind that this version does not know." />;
  const where = document.getElementById("where");
  return (
    <RunContext value={value}>
      {where &&
        createPortal(
          <>
            {value.state.run.name} <span style={{ paddingLeft: 12 }}>{value.state.run.class_name}</span>
            <BoardControl run={id} />
            {(part === "owner" || part === "lead") && <DoorControl run={id} />}
            <StationsLink state={value.state} head />
          </>,
          where,
        )}
      <Box sx={{ mx: -3 }}>
        <GirderDeck bays={value.state.deck} base={`/runs/${id}`} />
      </Box>
      <FirstLesson run={id} />
      {LESSER[part] && (
        <Typography sx={{ mt: 1, borderLeft: `5px solid ${ink.watch}`, pl: 1.5 }}>{LESSER[part]}</Typography>
      )}
      {stage === "check-in" && <KeptAhead />}
      <Outlet />
    </RunContext>
  );
}
