/** All stations at which teams test by themselves, on one screen: who is at what, who is to be stopped, what to confirm. */
import { Box, Button, Checkbox, FormControlLabel, Typography } from "@mui/material";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, api } from "../../api/client";
import { keys, showAnswer, usePart } from "../../api/queries";
import type { AtStation, Stations } from "../../api/types";
import { Failed, Loading, Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { useTitle } from "../../shared/title";
import { useRunState } from "../run";
import { StationCard, StationLine } from "./StationCard";

const LOOK_MS = 3000;
/** What wants the teacher's eye comes first. */
const FIRST: readonly AtStation["state"][] = [
  "stopped",
  "testing",
  "to_confirm",
  "at_bench",
  "ready",
  "building",
  "done",
];
/** Those that want a look now; of the others a line is enough. */
const isAtWork = ({ state }: AtStation): boolean =>
  state === "testing" || state === "stopped" || state === "to_confirm";
const WORDS: Partial<Record<AtStation["state"], string>> = {
  testing: "testing",
  stopped: "stopped",
  to_confirm: "to confirm",
  ready: "ready",
  building: "not checked in",
};

function useStations(run: number) {
  return useQuery({
    queryKey: keys.stations(run),
    queryFn: async () => ({
      shown: await answered(api.GET("/api/runs/{id}/stations", { params: { path: { id: run } } })),
      at: performance.now(),
    }),
    refetchInterval: LOOK_MS,
  });
}

/** Whether teams may test by themselves at all, and what that asks of the teacher. */
function Opened({ stations, run }: { stations: Stations; run: number }) {
  const client = useQueryClient();
  const change = useMutation({
    mutationFn: (test: boolean) =>
      answered(api.PUT("/api/runs/{id}/door", { params: { path: { id: run } }, body: { may: { test } } })),
    onSuccess: (fresh) => {
      showAnswer(client, keys.door(run), fresh);
      void client.invalidateQueries({ queryKey: keys.stations(run) });
    },
  });
  return (
    <Box sx={{ maxWidth: 760, mt: 1 }}>
      <FormControlLabel
        control={
          <Checkbox
            checked={stations.opened}
            disabled={change.isPending}
            onChange={(event) => change.mutate(event.target.checked)}
          />
        }
        label="Teams that are checked in may test by themselves, at their tablets"
      />
      <Typography variant="body2" sx={{ color: ink.soft }}>
        Only as far as your school’s rules let groups load something themselves while you are in the room. Set
        up and look at each station first: a guard under the load, feet clear, glasses where things can snap.
        What a team finds is marked as not confirmed, everywhere, till you have looked at it.
      </Typography>
      {!stations.door_open && stations.opened && (
        <Notice kind="caution">
          Their tablets are not let in yet. “Teams in”, at the top, shows the code.
        </Notice>
      )}
      {change.isError && <Notice kind="problem">{sentenceOf(change.error)}</Notice>}
    </Box>
  );
}

export default function StationsPage() {
  const { state } = useRunState();
  const run = state.run.id;
  const client = useQueryClient();
  const part = usePart(state.run.class_id);
  const stations = useStations(run);
  useTitle(["Stations", state.run.name]);
  const stop = useMutation({
    mutationFn: () =>
      answered(api.PUT("/api/runs/{id}/stations", { params: { path: { id: run } }, body: { stop: true } })),
    onSettled: () => client.invalidateQueries({ queryKey: keys.stations(run) }),
  });
  if (stations.isPending) return <Loading what="the stations" />;
  if (!stations.data) return <Failed error={stations.error} retry={() => void stations.refetch()} />;
  const { shown, at } = stations.data;
  const sorted = [...shown.stations].sort((a, b) => FIRST.indexOf(a.state) - FIRST.indexOf(b.state));
  const counts = FIRST.flatMap((key) => {
    const count = shown.stations.filter((station) => station.state === key).length;
    return count > 0 && WORDS[key] ? [`${count} ${WORDS[key]}`] : [];
  });
  const testing = shown.stations.some((station) => station.state === "testing");
  return (
    <Box sx={{ pt: 2 }}>
      <Box sx={{ display: "flex", gap: 2, alignItems: "center", flexWrap: "wrap" }}>
        <Box sx={{ flex: "1 1 320px" }}>
          <Typography variant="h1">Stations</Typography>
          <Typography role="status" sx={{ fontSize: "1.2rem" }}>
            {counts.join(", ")}
          </Typography>
        </Box>
        {part !== "observer" && (
          <Button
            variant="contained"
            disabled={!testing || stop.isPending}
            onClick={() => stop.mutate()}
            sx={{ fontSize: "1.3rem", px: 3, py: 1 }}
          >
            Stop all
          </Button>
        )}
      </Box>
      {stop.isError && <Notice kind="problem">{sentenceOf(stop.error)}</Notice>}
      {(part === "owner" || part === "lead") && <Opened stations={shown} run={run} />}
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: "repeat(auto-fill, minmax(min(100%, 360px), 1fr))",
          gap: 2,
          mt: 2,
        }}
      >
        {sorted.filter(isAtWork).map((station) => (
          <StationCard key={station.design} station={station} at={at} looksOn={part === "observer"} />
        ))}
      </Box>
      <Box
        component="ul"
        aria-label="The other teams"
        sx={{
          listStyle: "none",
          m: 0,
          p: 0,
          mt: 2,
          display: "grid",
          gridTemplateColumns: "repeat(auto-fill, minmax(min(100%, 360px), 1fr))",
          columnGap: 2,
        }}
      >
        {sorted
          .filter((station) => !isAtWork(station))
          .map((station) => (
            <StationLine key={station.design} station={station} />
          ))}
      </Box>
    </Box>
  );
}
