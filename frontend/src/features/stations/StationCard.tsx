/** One station: how its team's own test goes, and the teacher's hold on it. */
import { Box, Button, Link, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Link as RouterLink } from "react-router";
import { answered, api } from "../../api/client";
import { keys } from "../../api/queries";
import type { AtStation } from "../../api/types";
import { TeamMark } from "../../drawing/TeamMark";
import { formatMass } from "../../shared/format";
import { Notice, sentenceOf } from "../../shared/states";
import { condensed, ink } from "../../shared/theme";
import { useUnits } from "../../shared/units";
import { useCountdown } from "../../shared/useCountdown";
import { ConfirmTest, trialAddress, watched } from "../bench";
import { useRunState } from "../run";

const WORDS: Record<AtStation["state"], string> = {
  building: "not checked in yet",
  ready: "ready to test",
  at_bench: "on your bench",
  testing: "testing",
  stopped: "stopped",
  to_confirm: "waits for you to confirm",
  done: "tested",
};
const COLOURS: Partial<Record<AtStation["state"], string>> = {
  testing: ink.held,
  stopped: ink.oxide,
  to_confirm: ink.watch,
};
/** A tablet that asked for nothing for so long is asleep, and a test in which nothing was entered is quiet [s]. */
const ASLEEP_S = 60;
const QUIET_S = 90;

interface Props {
  station: AtStation;
  /** When this was told, by this page's clock [ms]. */
  at: number;
  looksOn: boolean;
}

function Live({ station, at }: { station: AtStation; at: number }) {
  const { state: run, family } = useRunState();
  const units = useUnits();
  const { live } = station;
  const left = useCountdown(live?.hold_left_s ?? null, at);
  if (!live) return null;
  const show = { kit: run.run.kit, counts_pieces: family.bench.counts_pieces, young: run.run.young };
  const { lead, figure } = watched(live.state, show, units);
  const { result, caution } = live.state;
  return (
    <>
      <Typography>
        {lead}{" "}
        <Box
          component="span"
          sx={{ fontFamily: condensed, fontWeight: 700, fontSize: "2.6rem", color: ink.held }}
        >
          {figure.value} {figure.unit}
        </Box>{" "}
        {result.step_waiting && !run.run.young && (
          <Box component="span" sx={{ color: ink.soft }}>
            on it now {formatMass(result.load_on_kg, units)}
          </Box>
        )}
      </Typography>
      <Typography sx={{ minHeight: "1.5em", color: ink.watch, fontWeight: 600 }}>
        {left !== null && (left > 0 ? `◷ ${Math.ceil(left)} s to wait` : "◷ Did it hold?")}
        {(station.quiet_s ?? 0) > QUIET_S &&
          ` ○ nothing entered for ${Math.floor((station.quiet_s ?? 0) / 60)} min`}
      </Typography>
      {caution && <Typography sx={{ bgcolor: ink.watchPale, px: 1 }}>▲ {caution}</Typography>}
    </>
  );
}

/** Which tablets are in for a team. */
function tabletWords({ tablets, seen_s }: AtStation): string {
  if (tablets === 0) return "no tablet is in";
  const asleep = (seen_s ?? 0) > ASLEEP_S ? ", asleep" : "";
  return `${tablets === 1 ? "1 tablet" : `${tablets} tablets`}${asleep}`;
}

function Tablets({ station }: { station: AtStation }) {
  // Those of a test that is over are not those of the next one.
  const does = station.live === null ? [] : station.tasks.map((task) => `${task.name} ${task.words}`);
  return <Typography sx={{ color: ink.soft }}>{[tabletWords(station), ...does].join(", ")}.</Typography>;
}

/** A team that tests nothing by itself just now. */
export function StationLine({ station }: { station: AtStation }) {
  const { state } = useRunState();
  const waits = station.state === "ready" || station.state === "building";
  const came = station.state === "at_bench" ? "" : station.line;
  const told = waits ? `${WORDS[station.state]}, ${tabletWords(station)}` : came || WORDS[station.state];
  return (
    <Box
      component="li"
      sx={{
        display: "flex",
        gap: 1.25,
        alignItems: "center",
        borderBottom: `1px solid ${ink.line}`,
        py: 0.75,
        minHeight: 48,
      }}
    >
      <TeamMark team={station.team} size={24} />
      <Typography sx={{ flex: 1 }}>
        <b>
          {station.team.name}
          {station.version > 1 && ` v${station.version}`}
        </b>
        : {told}
        {station.confirmed_by && (
          <Box component="span" sx={{ color: ink.soft }}>
            {" "}
            · confirmed by {station.confirmed_by}
          </Box>
        )}
      </Typography>
      {station.trial && (
        <Link
          component={RouterLink}
          to={`/runs/${state.run.id}/trials/${station.trial}`}
          sx={{ color: ink.oxide }}
          aria-label={`What ${station.team.name} wrote`}
        >
          Ledger
        </Link>
      )}
    </Box>
  );
}

export function StationCard({ station, at, looksOn }: Props) {
  const { state } = useRunState();
  const client = useQueryClient();
  const run = state.run.id;
  const trial = station.trial ?? "";
  const change = useMutation({
    mutationFn: (action: "stop" | "go_on") =>
      answered(
        api.PUT("/api/trials/{id}/station", { params: { path: { id: trial } }, body: { action, seen: 0 } }),
      ),
    onSettled: () => client.invalidateQueries({ queryKey: keys.stations(run) }),
  });
  const on = station.state === "testing" || station.state === "stopped";
  const colour = COLOURS[station.state] ?? ink.line;
  return (
    <Box
      component="section"
      aria-label={station.team.name}
      sx={{ bgcolor: ink.sheet, borderTop: `6px solid ${colour}`, px: 2, py: 1.25, minHeight: 170 }}
    >
      <Box sx={{ display: "flex", gap: 1.25, alignItems: "center" }}>
        <TeamMark team={station.team} size={30} />
        <Typography variant="h2" sx={{ flex: 1 }}>
          {station.team.name}
          {station.version > 1 && ` v${station.version}`}
        </Typography>
        <Typography sx={{ fontWeight: 700, color: COLOURS[station.state] ?? ink.soft }}>
          {WORDS[station.state]}
        </Typography>
      </Box>
      <Live station={station} at={at} />
      {!on && station.line !== "" && (
        <Typography sx={{ fontSize: "1.2rem", fontWeight: 600, mt: 0.5 }}>
          Trial {station.number}: {station.line}
        </Typography>
      )}
      {station.signs.length > 0 && <Typography>Seen: {station.signs.join(", ").toLowerCase()}.</Typography>}
      {station.notes.map((note) => (
        <Typography key={note}>“{note}”</Typography>
      ))}
      <Tablets station={station} />
      <Box sx={{ display: "flex", gap: 1, mt: 1, flexWrap: "wrap", alignItems: "center" }}>
        {!looksOn && station.state === "testing" && (
          <Button
            variant="contained"
            disabled={change.isPending}
            onClick={() => change.mutate("stop")}
            aria-label={`Stop ${station.team.name}`}
          >
            Stop
          </Button>
        )}
        {!looksOn && station.state === "stopped" && (
          <Button variant="outlined" disabled={change.isPending} onClick={() => change.mutate("go_on")}>
            Let them go on
          </Button>
        )}
        {!looksOn && station.state === "to_confirm" && <ConfirmTest trial={trial} seen={station.seen} />}
        {trial && !on && (
          <Link component={RouterLink} to={`/runs/${run}/trials/${trial}`} sx={{ color: ink.oxide }}>
            What was written
          </Link>
        )}
        {trial && on && !looksOn && (
          <Link
            component={RouterLink}
            to={trialAddress(run, station.design, trial)}
            sx={{ color: ink.oxide }}
          >
            To its bench
          </Link>
        )}
      </Box>
      {change.isError && <Notice kind="problem">{sentenceOf(change.error)}</Notice>}
    </Box>
  );
}
