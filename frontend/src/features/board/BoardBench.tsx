/** What the class watches: who is on, the big figure, the wait, the load against its marks, and the ranking so far. */
import { Box, Typography } from "@mui/material";
import type { BenchShown, BoardState } from "../../api/types";
import { formatMass, formatRatio } from "../../shared/format";
import { clockText } from "../../shared/clockText";
import { useTicks } from "../../shared/sound";
import { condensed } from "../../shared/theme";
import { useUnits } from "../../shared/units";
import { MarkShape } from "../../drawing/TeamMark";
import { RoundRule } from "../../drawing/RoundRule";
import { sizeWords, watched } from "../bench";
import { BoardLoad } from "./BoardLoad";
import { FitFigure } from "./FitFigure";
import { BoardStack } from "./BoardStack";
import { BoardRanking } from "./BoardRanking";
import { board } from "./boardTheme";
import { useCountdown } from "../../shared/useCountdown";

function Countdown({ bench, at }: { bench: BenchShown; at: number }) {
  const left = useCountdown(bench.hold_left_s, at);
  useTicks(left);
  if (left === null || bench.hold_s === 0) return null;
  return (
    <Box role="timer" sx={{ display: "flex", alignItems: "baseline", gap: 2 }}>
      <Box
        sx={{ fontFamily: condensed, fontWeight: 700, fontSize: "5.4rem", lineHeight: 1, color: board.watch }}
      >
        {left > 0 ? Math.ceil(left) : "?"}
      </Box>
      <Typography sx={{ fontSize: "1.8rem" }}>{left > 0 ? "s, wait and watch" : "Did it hold?"}</Typography>
    </Box>
  );
}

function LessonLeft({ state, at }: { state: BoardState; at: number }) {
  const left = useCountdown(state.bench_left_s, at);
  if (left === null) return null;
  return (
    <Typography sx={{ fontSize: "1.6rem", color: board.soft, mt: 2 }}>
      {clockText(left)} left for tests
    </Typography>
  );
}

function OneBench({
  state,
  bench,
  at,
  wide,
}: {
  state: BoardState;
  bench: BenchShown;
  at: number;
  wide: boolean;
}) {
  const units = useUnits();
  const { result, caution } = bench.state;
  const { lead, figure, rounds } = watched(bench.state, state, units);
  const how = state.words[result.mode ?? result.reason ?? ""];
  const ended = {
    running: "",
    broke: "It went. ",
    ran_out: "Still standing. At least: ",
    void: "Void. ",
    done: "Done. ",
  }[result.outcome];
  const ratio = bench.state.ratio?.value ?? null;
  return (
    <Box sx={{ display: "flex", flexDirection: "column", minHeight: 0, height: "100%" }}>
      <Box sx={{ display: "flex", gap: 2, alignItems: "center" }}>
        <svg style={{ width: "3.5rem", height: "3.5rem" }} viewBox="-30 -30 60 60" aria-hidden="true">
          <rect x={-28} y={-28} width={56} height={56} fill={board.text} />
          <MarkShape team={bench.team} size={44} />
        </svg>
        <Typography sx={{ fontFamily: condensed, fontWeight: 700, fontSize: "3.6rem", lineHeight: 1 }}>
          {bench.team.name}
          {bench.version > 1 && ` v${bench.version}`}
        </Typography>
        {bench.is_rehearsal && (
          <Typography sx={{ fontSize: "1.6rem", border: `3px dashed ${board.watch}`, px: 1.5 }}>
            rehearsal, no result
          </Typography>
        )}
        {bench.state.mark && (
          <Typography sx={{ fontSize: "1.6rem", border: `3px dashed ${board.watch}`, px: 1.5 }}>
            {bench.state.mark}
          </Typography>
        )}
      </Box>
      <Typography sx={{ fontSize: "1.9rem", mt: 0.5 }}>
        {ended}
        {lead}
        {how && result.outcome !== "running" && <b>. {how}</b>}
      </Typography>
      <Box sx={{ flex: 1, minHeight: 90, display: "flex", gap: 2 }}>
        <FitFigure
          figure={figure}
          colour={result.outcome === "broke" || result.outcome === "void" ? board.text : board.held}
        />
        {wide && !rounds && <BoardStack state={state} result={result} />}
      </Box>
      <Box sx={{ display: "flex", gap: 4, alignItems: "center", minHeight: 88, flexWrap: "wrap" }}>
        <Countdown bench={bench} at={at} />
        {ratio !== null && !state.young && (
          <Typography sx={{ fontSize: "2rem" }}>
            <Box component="span" sx={{ fontFamily: condensed, fontWeight: 700, fontSize: "3.4rem" }}>
              {formatRatio(ratio)} ×
            </Box>{" "}
            its own weight
          </Typography>
        )}
        {result.step_waiting && !state.young && (
          <Typography sx={{ fontSize: "1.6rem", color: board.soft }}>
            on it now {formatMass(result.load_on_kg, units)}
          </Typography>
        )}
      </Box>
      {caution && (
        <Typography
          role="alert"
          sx={{
            fontSize: "1.8rem",
            fontWeight: 700,
            color: board.ground,
            bgcolor: board.watch,
            px: 2,
            py: 0.5,
            mb: 1,
          }}
        >
          ▲ {caution}
        </Typography>
      )}
      {rounds ? (
        <RoundRule
          plan={rounds}
          shown={result}
          width={wide ? 780 : 560}
          dark
          label={(size) => sizeWords(rounds.procedure.size_kind, size, units)}
        />
      ) : (
        <BoardLoad state={state} bench={bench} width={wide ? 780 : 560} />
      )}
    </Box>
  );
}

export function BoardBench({ state, at }: { state: BoardState; at: number }) {
  const { benches } = state;
  if (benches.length === 0)
    return (
      <Box sx={{ pt: 4 }}>
        <Typography sx={{ fontFamily: condensed, fontWeight: 700, fontSize: "5rem", lineHeight: 1.05 }}>
          {state.next_teams[0] ? `${state.next_teams[0]} is first.` : "The bench is free."}
        </Typography>
        <Typography sx={{ fontSize: "2rem", mt: 2 }}>{state.question}</Typography>
      </Box>
    );
  const two = benches.length > 1;
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: two ? "1fr 1fr" : "minmax(0, 1.9fr) minmax(0, 1fr)",
        gap: 4,
        height: "100%",
      }}
    >
      {benches.map((bench) => (
        <OneBench key={bench.state.id} state={state} bench={bench} at={at} wide={!two} />
      ))}
      {!two && (
        <Box sx={{ minHeight: 0, overflow: "hidden", borderLeft: `2px solid ${board.line}`, pl: 3 }}>
          <BoardRanking state={state} />
          <LessonLeft state={state} at={at} />
          {state.next_teams.length > 0 && (
            <Typography sx={{ fontSize: "1.6rem", color: board.soft, mt: 2 }}>
              Next: {state.next_teams.join(", ")}
            </Typography>
          )}
        </Box>
      )}
    </Box>
  );
}
