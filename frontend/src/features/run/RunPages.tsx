/** The pages of one run, under its deck. */
import { Box } from "@mui/material";
import { lazy, Suspense, useMemo } from "react";
import { createPortal } from "react-dom";
import { Navigate, Route, Routes, useParams } from "react-router";
import { useFamilies, useRun } from "../../api/queries";
import { Empty, Failed, Loading } from "../../app/states";
import { GirderDeck } from "../../drawing/GirderDeck";
import { BoardControl, useRunStream } from "../board";
import { RunContext } from "./useRunState";

const BriefPage = lazy(() => import("../plan/BriefPage"));
const KitPage = lazy(() => import("../plan/KitPage"));
const BuildPage = lazy(() => import("../build/BuildPage"));
const DesignDraftPage = lazy(() => import("../drafting/DesignDraftPage"));
const CheckInPage = lazy(() => import("../checkin/CheckInPage"));
const BenchPage = lazy(() => import("../bench/BenchPage"));
const ComparePage = lazy(() => import("../compare/ComparePage"));
const NextVersionPage = lazy(() => import("../nextversion/NextVersionPage"));

export default function RunPages() {
  const id = Number(useParams()["runId"]);
  const run = useRun(id);
  const families = useFamilies();
  useRunStream(id);
  const family = families.data?.find((one) => one.key === run.data?.run.family);
  const value = useMemo(() => (run.data && family ? { state: run.data, family } : null), [run.data, family]);
  if (run.isPending || families.isPending) return <Loading what="the run" />;
  if (run.isError && !run.data) return <Failed error={run.error} retry={() => void run.refetch()} />;
  if (!value) return <Empty title="This run is of a kind that this version does not know." />;
  const where = document.getElementById("where");
  return (
    <RunContext value={value}>
      {where &&
        createPortal(
          <>
            {value.state.run.name} <span style={{ paddingLeft: 12 }}>{value.state.run.class_name}</span>
            <BoardControl run={id} />
          </>,
          where,
        )}
      <Box sx={{ mx: -3 }}>
        <GirderDeck bays={value.state.deck} base={`/runs/${id}`} />
      </Box>
      <Suspense fallback={<Loading what="the page" />}>
        <Routes>
          <Route path="brief" element={<BriefPage />} />
          <Route path="kit" element={<KitPage />} />
          <Route path="build" element={<BuildPage />} />
          <Route path="drafting/:designId?" element={<DesignDraftPage />} />
          <Route path="check-in/:designId?" element={<CheckInPage />} />
          <Route path="bench/:designId?" element={<BenchPage />} />
          <Route path="compare/:view?" element={<ComparePage />} />
          <Route path="next" element={<NextVersionPage />} />
          <Route path="*" element={<Navigate to="brief" replace />} />
        </Routes>
      </Suspense>
    </RunContext>
  );
}
