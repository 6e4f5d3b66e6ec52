/** Check-in: readings, rules, and whether the design may go to the bench. */
import { Box, Button, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link as RouterLink, useNavigate, useParams } from "react-router";
import { answered, api } from "../../api/client";
import { keys, showAnswer } from "../../api/queries";
import type { Design, ReadingSpec } from "../../api/types";
import { plural } from "../../shared/format";
import { Empty, Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { HowTo } from "../../drawing/HowTo";
import { SetupDrawing } from "../../drawing/SetupDrawing";
import { DesignSpan, useRunState } from "../run";
import { AwayControl } from "./AwayControl";
import { Constraints } from "./Constraints";
import { Controls, LevelChoice } from "./FairTest";
import { KeptHere } from "./KeptHere";
import { MaterialsForm } from "./MaterialsForm";
import { instrumentOf, usualSteps } from "../../shared/instruments";
import { useKeys } from "../../shared/keyboard";
import { useRemembered } from "../../shared/remembered";
import { WorkedOutLine } from "../../shared/WorkedOut";
import { Photos } from "./Photos";
import { Questions } from "./Questions";
import { ReadingRow } from "./ReadingRow";
import { TeamList } from "./TeamList";
import { TakeAllOver } from "./TeamMeasured";
import { useCheckInWrite, useKept } from "./useCheckInWrite";
import { YoungControl } from "./YoungControl";

interface ReadingsProps {
  design: Design;
  /** What check-in waits for, and which of it comes next. */
  now: readonly ReadingSpec[];
  upNext: string | undefined;
  onLook: (key: string) => void;
}

/** The readings of a design: what is asked for, what else can be measured, and what follows from both. */
function Readings({ design, now, upNext, onLook }: ReadingsProps) {
  const { state, family } = useRunState();
  // An instrument's last digit stays what it was for this class; what is seldom needed is a touch away.
  const [details, setDetails] = useRemembered("girder.check-in.details", false);
  const [steps, setSteps] = useRemembered(
    `girder.steps.${state.run.class_id}`,
    usualSteps(state.run.counted_unit?.name),
  );
  const [more, setMore] = useState(false);
  const taken = new Set(design.readings.map((reading) => reading.key));
  const aside = family.readings.filter((spec) => spec.aside && !taken.has(spec.key));
  const shown = family.readings.filter((spec) => more || !aside.includes(spec));
  const done = now.filter((spec) => taken.has(spec.key)).length;
  return (
    <>
      <Box sx={{ display: "flex", flexWrap: "wrap", columnGap: 3, alignItems: "baseline", mb: 0.5 }}>
        <Typography sx={{ color: ink.soft }}>
          {done} of {now.length} measured
        </Typography>
        <AwayControl design={design} />
        <Button size="small" aria-pressed={details} sx={{ ml: "auto" }} onClick={() => setDetails(!details)}>
          {details ? "Only the readings" : "Tape’s start, tare, steps, repeats"}
        </Button>
      </Box>
      <TakeAllOver design={design} />
      {shown.map((spec) => (
        <ReadingRow
          key={spec.key}
          design={design}
          spec={spec}
          explain={spec.key === upNext}
          onFocus={() => onLook(spec.key)}
          details={details}
          step={steps[instrumentOf(spec.kind)]}
          onStep={(step) => setSteps({ ...steps, [instrumentOf(spec.kind)]: step })}
        />
      ))}
      <WorkedOutLine figures={design.worked_out} />
      {aside.length > 0 && (
        <Button size="small" sx={{ px: 0, mr: 3 }} aria-expanded={more} onClick={() => setMore(!more)}>
          {more
            ? "Only what is asked for"
            : `More to measure: ${aside.map((spec) => spec.label.toLowerCase()).join(", ")}`}
        </Button>
      )}
    </>
  );
}

function DesignCheckIn({ design, next }: { design: Design; next: Design | undefined }) {
  const { state, family } = useRunState();
  const go = useNavigate();
  const [adding, setAdding] = useState(false);
  const [looking, setLooking] = useState<string | null>(null);
  const value = (key: string) => design.readings.find((reading) => reading.key === key)?.value_si;
  const weighed = family.readings.some((spec) => spec.key === "self_mass");
  // What is taken after the test is not waited for here; own weight is better taken before it.
  const now = family.readings.filter((spec) => spec.needed && (!spec.may_follow || spec.kind === "mass"));
  const kept = useKept(design.id)?.readings.map((one) => one.key) ?? [];
  const upNext = now.find((spec) => value(spec.key) === undefined && !kept.includes(spec.key))?.key;
  const enter = useCheckInWrite<undefined>(
    design,
    {
      send: (_, signal) =>
        answered(api.POST("/api/designs/{id}/check-in", { params: { path: { id: design.id } }, signal })),
      keep: () => ({ checkIn: true }),
      shown: (own) => ({ ...own, checked_in: true, state: "checked_in", away: "" }),
    },
    () => {
      if (next) void go(`/runs/${state.run.id}/check-in/${next.id}`);
    },
  );
  const asked = family.readings.find((spec) => spec.key === (looking ?? upNext));
  useKeys({
    n: next ? () => void go(`/runs/${state.run.id}/check-in/${next.id}`) : null,
    c: design.checked_in || enter.isPending ? null : () => enter.mutate(undefined),
  });
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "minmax(0, 1fr)", lg: "minmax(600px, 1fr) 340px" },
        gap: 4,
      }}
    >
      <Box>
        <Typography variant="h1" sx={{ overflowWrap: "anywhere" }}>
          {design.team.name}
          {design.version > 1 && `, version ${design.version}`}
        </Typography>
        <KeptHere design={design} />
        <Readings design={design} now={now} upNext={upNext} onLook={setLooking} />
        {state.run.factor && <LevelChoice design={design} factor={state.run.factor} />}
        {!weighed ? null : adding ? (
          <MaterialsForm design={design} onDone={() => setAdding(false)} />
        ) : (
          <Button onClick={() => setAdding(true)} sx={{ px: 0 }}>
            No scale? Add the own weight up from materials
          </Button>
        )}
        <Questions design={design} />
        <Controls design={design} />
        {enter.isError && <Notice kind="problem">{sentenceOf(enter.error)}</Notice>}
        <Box sx={{ display: "flex", gap: 2, alignItems: "center", mt: 2 }}>
          {design.checked_in ? (
            <>
              <Typography sx={{ fontWeight: 700, color: ink.held, fontSize: "1.2rem" }}>
                ✓ Checked in
              </Typography>
              <Button variant="outlined" onClick={() => void go(`/runs/${state.run.id}/bench`)}>
                To the bench
              </Button>
            </>
          ) : (
            <Button
              variant="contained"
              size="large"
              aria-keyshortcuts="C"
              onClick={() => enter.mutate(undefined)}
              disabled={enter.isPending}
            >
              Check in {design.team.name} (C)
            </Button>
          )}
          {next && (
            <Button
              aria-keyshortcuts="N"
              onClick={() => void go(`/runs/${state.run.id}/check-in/${next.id}`)}
            >
              Next: {next.team.name} (N)
            </Button>
          )}
        </Box>
        {!design.checked_in && kept.length === 0 && design.still_to_do.length > 0 && (
          <Typography variant="body2" sx={{ color: ink.soft, mt: 1 }}>
            Still to do: {design.still_to_do.join("; ")}
          </Typography>
        )}
        {weighed && !value("self_mass") && (
          <Typography variant="body2" sx={{ color: ink.soft, mt: 1 }}>
            Own weight can still be taken after the test, if all the pieces are weighed; it is marked then.
          </Typography>
        )}
      </Box>
      <Box>
        {asked && (
          <Box sx={{ border: `2px solid ${ink.line}`, bgcolor: ink.sheet, p: 1, mb: 2 }}>
            <Typography sx={{ fontWeight: 700 }}>{asked.label}</Typography>
            <Box sx={{ height: 142 }}>
              <HowTo way={asked.way} />
            </Box>
            <Typography variant="body2">{asked.how}</Typography>
          </Box>
        )}
        <Box sx={{ height: 200, mb: 2 }}>
          {family.bench.picture === "span" ? (
            <DesignSpan design={design} stack={[]} />
          ) : (
            <SetupDrawing drawing={state.drawing} width={340} height={200} />
          )}
        </Box>
        <Constraints design={design} />
        <Photos design={design} />
        {family.drafted && (
          <Button
            component={RouterLink}
            to={`/runs/${state.run.id}/drafting/${design.id}`}
            sx={{ px: 0, mt: 1, textAlign: "left" }}
          >
            {design.draft === null
              ? "Draft it: what will go first?"
              : design.veiled || !design.model_goes_first
                ? "Its draft is kept; the model waits for the team"
                : `Its draft: ${design.model_goes_first.toLowerCase()} first`}
          </Button>
        )}
      </Box>
    </Box>
  );
}

export default function CheckInPage() {
  const { state } = useRunState();
  const asked = Number(useParams()["designId"]);
  const go = useNavigate();
  const client = useQueryClient();
  const add = useMutation({
    mutationFn: () => answered(api.POST("/api/runs/{id}/teams", { params: { path: { id: state.run.id } } })),
    onSuccess: (fresh) => showAnswer(client, keys.run(state.run.id), fresh),
  });
  const { designs } = state;
  const index = Math.max(
    0,
    asked
      ? designs.findIndex((design) => design.id === asked)
      : designs.findIndex((design) => !design.checked_in && !design.away),
  );
  const design = designs[index];
  if (!design) return <Empty title="No team in this run." />;
  const next = [...designs.slice(index + 1), ...designs.slice(0, index)].find(
    (other) => !other.checked_in && !other.away,
  );
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "230px minmax(0, 1fr)" },
        gap: 4,
        pt: 2,
      }}
    >
      <Box>
        <TeamList
          designs={designs}
          current={design.id}
          onPick={(id) => void go(`/runs/${state.run.id}/check-in/${id}`)}
        />
        <YoungControl />
        {state.missing_teams > 0 && (
          <Button onClick={() => add.mutate()}>
            Add {state.missing_teams} {plural("team", state.missing_teams)} that came later
          </Button>
        )}
      </Box>
      <DesignCheckIn key={design.id} design={design} next={next} />
    </Box>
  );
}
