/** A team's own station: it tests its structure by itself, at the same bench as its teacher's. */
import { Box, Button, Checkbox, FormControlLabel, Typography } from "@mui/material";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link as RouterLink, Navigate, useNavigate, useParams } from "react-router";
import { answered, api } from "../../api/client";
import { keys } from "../../api/queries";
import type { TeamPage } from "../../api/types";
import { CautionList } from "../../drawing/CautionList";
import { newId } from "../../shared/newId";
import { Failed, Loading, Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { benchId, TrialBench, Ways } from "../bench";
import { RunContext, useRunState } from "../run";
import { placeOf } from "./page";
import { TeamFrame } from "./TeamFrame";
import { WhoDoesWhat } from "./Together";

function Begin({ page }: { page: TeamPage }) {
  const { state, family } = useRunState();
  const client = useQueryClient();
  const go = useNavigate();
  const [read, setRead] = useState(false);
  const [way, setWay] = useState(state.usual_arrangement);
  // Pressed again after an answer that was lost, it is the same test that begins.
  const id = useRef(newId());
  const start = useMutation({
    mutationFn: () =>
      answered(
        api.POST("/api/team/trials", {
          body: { id: id.current, bench: benchId(), arrangement: way },
        }),
      ),
    onSuccess: async (trial) => {
      client.setQueryData(keys.trial(trial.id), trial);
      await client.invalidateQueries({ queryKey: keys.team });
      await go(`/team/test/${trial.id}`, { replace: true });
    },
  });
  const ways = family.bench.arrangements;
  return (
    <Box>
      <Typography variant="h1" sx={{ mt: 2 }}>
        Test it yourselves
      </Typography>
      <Typography sx={{ fontSize: "1.2rem", maxWidth: 640 }}>
        Your teacher watches all stations, can stop a test, and confirms what you find.
      </Typography>
      <WhoDoesWhat page={page} />
      <CautionList cautions={page.cautions} stage="bench" columns={{ sm: "1fr 1fr" }} />
      {ways.length > 0 && <Ways ways={ways} way={way} onWay={setWay} />}
      <FormControlLabel
        sx={{ mt: 2 }}
        control={<Checkbox checked={read} onChange={(event) => setRead(event.target.checked)} />}
        label="We have read this, and our station is as our teacher set it up"
      />
      <Box sx={{ display: "flex", gap: 2, mt: 1, flexWrap: "wrap" }}>
        <Button
          variant="contained"
          disabled={!read || start.isPending}
          onClick={() => start.mutate()}
          sx={{ fontSize: "1.2rem", px: 3 }}
        >
          Start the test
        </Button>
        <Button component={RouterLink} to="/team">
          Back to our page
        </Button>
      </Box>
      {start.isError && <Notice kind="problem">{sentenceOf(start.error)}</Notice>}
    </Box>
  );
}

/** Asks for the trial anew when the page says that the teacher stopped it, or let it go on. */
function useStops(trial: string | undefined, stopped: boolean) {
  const client = useQueryClient();
  const known = useRef(stopped);
  useEffect(() => {
    if (known.current === stopped || !trial) return;
    known.current = stopped;
    void client.invalidateQueries({ queryKey: keys.trial(trial) });
  }, [client, stopped, trial]);
}

function Station({ page }: { page: TeamPage }) {
  const { trialId } = useParams();
  const go = useNavigate();
  const own = page.own_test;
  const terms = useQuery({
    queryKey: keys.teamBench(placeOf(page)),
    queryFn: () => answered(api.GET("/api/team/bench")),
    staleTime: Infinity,
  });
  useStops(trialId, own.stopped);
  if (trialId === undefined && own.trial) return <Navigate to={`/team/test/${own.trial}`} replace />;
  // Confirmed, or another tablet's: the team's page says what came of it.
  if (trialId !== undefined ? own.trial !== trialId : !own.may_begin) return <Navigate to="/team" replace />;
  if (terms.isPending) return <Loading what="your bench" />;
  if (!terms.data) return <Failed error={terms.error} retry={() => void terms.refetch()} />;
  const { state, family } = terms.data;
  const design = state.designs[0];
  if (!design) return null;
  return (
    <RunContext value={{ state, family, atStation: true }}>
      {trialId === undefined ? (
        <Begin page={page} />
      ) : (
        <>
          <TrialBench
            key={trialId}
            design={design}
            trialId={trialId}
            onLeave={null}
            onEnded={() => void go("/team")}
          />
          {page.live && (
            <Box sx={{ mt: 2, borderTop: `1px solid ${ink.line}` }}>
              <WhoDoesWhat page={page} />
            </Box>
          )}
        </>
      )}
    </RunContext>
  );
}

export default function TeamTestPage() {
  return <TeamFrame>{({ page }) => <Station page={page} />}</TeamFrame>;
}
