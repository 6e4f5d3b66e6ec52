/** Check-in: readings, rules, and whether the design may go to the bench. */
import { Box, Button, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link as RouterLink, useNavigate, useParams } from "react-router";
import { answered, api } from "../../api/client";
import { keys } from "../../api/queries";
import type { Design, ReadingSpec, Run } from "../../api/types";
import { formatPercent, plural } from "../../shared/format";
import { Empty, Notice, sentenceOf } from "../../shared/states";
import { bareButton, ink } from "../../shared/theme";
import { HowTo } from "../../drawing/HowTo";
import { SetupDrawing } from "../../drawing/SetupDrawing";
import { TeamMark } from "../../drawing/TeamMark";
import { AwayControl, DesignSpan, useDesignWrite, useRunState } from "../run";
import { MaterialsForm } from "./MaterialsForm";
import { useKeys } from "../../shared/keyboard";
import { useRemembered } from "../../shared/remembered";
import { WorkedOutLine } from "../../shared/WorkedOut";
import { Photos } from "./Photos";
import { ReadingRow } from "./ReadingRow";
import { StandTimer } from "./StandTimer";
import { YoungControl } from "./YoungControl";

function statusWord(design: Design): string {
  if (design.constraints.some((constraint) => constraint.status === "breached"))
    return design.checked_in ? "in, breach" : "breach";
  if (design.away && !design.tested) return design.away;
  return design.checked_in ? "in" : design.readings.length > 0 ? "begun" : "to do";
}

function TeamList({
  designs,
  current,
  onPick,
}: {
  designs: readonly Design[];
  current: number;
  onPick: (id: number) => void;
}) {
  return (
    <Box component="nav" aria-label="Teams">
      {designs.map((design) => {
        const chosen = design.id === current;
        return (
          <Box
            key={design.id}
            component="button"
            type="button"
            aria-current={chosen}
            onClick={() => onPick(design.id)}
            sx={{
              ...bareButton,
              display: "grid",
              gridTemplateColumns: "34px 1fr auto",
              gap: 1,
              alignItems: "center",
              width: "100%",
              borderLeft: `6px solid ${chosen ? ink.oxide : "transparent"}`,
              bgcolor: chosen ? ink.sheet : "transparent",
              px: 1,
              py: 0.9,
            }}
          >
            <TeamMark team={design.team} size={26} />
            <Typography
              component="span"
              sx={{ fontWeight: 600, fontSize: "1.1rem", overflow: "hidden", textOverflow: "ellipsis" }}
            >
              {design.team.name}
              {design.version > 1 && ` v${design.version}`}
            </Typography>
            <Typography
              component="span"
              sx={{
                color: statusWord(design).includes("breach")
                  ? ink.watch
                  : design.checked_in
                    ? ink.held
                    : ink.soft,
              }}
            >
              {statusWord(design)}
            </Typography>
          </Box>
        );
      })}
    </Box>
  );
}

const STATUS = {
  kept: { word: "kept", colour: ink.held, sign: "✓" },
  doubtful: { word: "too close", colour: ink.watch, sign: "≈" },
  breached: { word: "broken", colour: ink.oxide, sign: "✕" },
  missing: { word: "to do", colour: ink.soft, sign: "·" },
} as const;

function Constraints({ design }: { design: Design }) {
  const { state, family } = useRunState();
  const asked = new Set(family.questions.map((question) => question.key));
  const measured = design.constraints.filter((constraint) => !asked.has(constraint.key));
  const breached = design.constraints.some((constraint) => constraint.status === "breached");
  const { breach_policy, penalty } = state.run;
  const consequence = {
    refuse: "This recipe tests no design that breaks a rule. Mend it and measure again.",
    penalty: `This recipe takes ${formatPercent(penalty)} off the score for a broken rule.`,
    note: "This recipe ranks it anyway, with a note.",
  }[breach_policy];
  return (
    <Box>
      {measured.map((rule) => {
        const { word, colour, sign } = STATUS[rule.status];
        return (
          <Box key={rule.key} sx={{ display: "grid", gridTemplateColumns: "92px 1fr", py: 0.4 }}>
            <Typography sx={{ fontWeight: 700, color: colour }}>
              <span aria-hidden="true">{sign}</span> {word}
            </Typography>
            <Typography>
              <b>{rule.label}.</b> {rule.sentence}
            </Typography>
          </Box>
        );
      })}
      {breached && <Notice kind="caution">{consequence}</Notice>}
    </Box>
  );
}

/** The controls of the fair test: kept the same, or noted where not. */
function Controls({ design }: { design: Design }) {
  const { state } = useRunState();
  const broken = new Set(design.controls_broken);
  const write = useDesignWrite((names: string[]) =>
    answered(
      api.PUT("/api/designs/{id}/controls", { params: { path: { id: design.id } }, body: { broken: names } }),
    ),
  );
  if (state.run.controls.length === 0) return null;
  return (
    <Box sx={{ mt: 1.5 }}>
      <Typography sx={{ fontWeight: 600 }}>
        Kept the same for every team{" "}
        <Typography component="span" variant="body2" sx={{ color: ink.soft }}>
          Press what was not.
        </Typography>
      </Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.75, mt: 0.5 }}>
        {state.run.controls.map((name) => (
          <Button
            key={name}
            size="small"
            variant={broken.has(name) ? "contained" : "outlined"}
            aria-pressed={broken.has(name)}
            sx={{ py: 0, fontSize: "0.95rem", fontWeight: 400 }}
            onClick={() =>
              write.mutate(broken.has(name) ? [...broken].filter((key) => key !== name) : [...broken, name])
            }
          >
            {broken.has(name) ? `not kept: ${name}` : `✓ ${name}`}
          </Button>
        ))}
      </Box>
      {write.isError && <Notice kind="problem">{sentenceOf(write.error)}</Notice>}
    </Box>
  );
}

function Questions({ design }: { design: Design }) {
  const { state, family } = useRunState();
  const write = useDesignWrite((answers: Record<string, boolean>) =>
    answered(
      api.PUT("/api/designs/{id}/answers", { params: { path: { id: design.id } }, body: { answers } }),
    ),
  );
  const open = family.questions.filter((question) => design.answers[question.key] === undefined);
  return (
    <Box sx={{ mt: 1 }}>
      {open.length > 1 && (
        <Button
          variant="outlined"
          size="small"
          onClick={() =>
            write.mutate(Object.fromEntries(open.map((question) => [question.key, question.good])))
          }
        >
          All {open.length} as it should be
        </Button>
      )}
      {family.questions.map((question) => {
        const answer = design.answers[question.key];
        const bad = answer !== undefined && answer !== question.good;
        return (
          <Box key={question.key} sx={{ display: "flex", alignItems: "center", gap: 2, py: 0.5 }}>
            <ToggleButtonGroup
              exclusive
              size="small"
              aria-label={question.text}
              value={answer === undefined ? null : answer ? "yes" : "no"}
              onChange={(_, value: "yes" | "no" | null) => {
                if (value) write.mutate({ [question.key]: value === "yes" });
              }}
              sx={{ "& .MuiToggleButton-root": { px: 2, py: 0.3, textTransform: "none", fontSize: "1rem" } }}
            >
              <ToggleButton value="yes">Yes</ToggleButton>
              <ToggleButton value="no">No</ToggleButton>
            </ToggleButtonGroup>
            <Typography sx={{ fontSize: "1.1rem" }}>
              {question.text} {bad && <b style={{ color: ink.oxide }}>{question.breach}</b>}
            </Typography>
            {question.blocks && answer === undefined && (
              <StandTimer
                seconds={state.stand_s}
                onStood={() => write.mutate({ [question.key]: question.good })}
              />
            )}
          </Box>
        );
      })}
      {write.isError && <Notice kind="problem">{sentenceOf(write.error)}</Notice>}
    </Box>
  );
}

/** Which level of the fair test this design is built to. */
function LevelChoice({ design, factor }: { design: Design; factor: NonNullable<Run["factor"]> }) {
  const write = useDesignWrite((level: string) =>
    answered(api.PUT("/api/designs/{id}/level", { params: { path: { id: design.id } }, body: { level } })),
  );
  return (
    <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, alignItems: "center", py: 1 }}>
      <Typography sx={{ fontSize: "1.1rem" }}>
        Varied on purpose, <b>{factor.name}</b>:
      </Typography>
      <ToggleButtonGroup
        exclusive
        size="small"
        aria-label={factor.name}
        value={design.level}
        disabled={design.trials.length > 0}
        onChange={(_, value: string | null) => value && write.mutate(value)}
        sx={{ "& .MuiToggleButton-root": { px: 2, py: 0.3, textTransform: "none", fontSize: "1rem" } }}
      >
        {factor.levels.map((level) => (
          <ToggleButton key={level} value={level}>
            {level}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      {write.isError && <Notice kind="problem">{sentenceOf(write.error)}</Notice>}
    </Box>
  );
}

/** What a reading of a kind is taken with: an area with the ruler. */
const instrumentOf = (kind: ReadingSpec["kind"]) => (kind === "area" || kind === "volume" ? "length" : kind);

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
  const [steps, setSteps] = useRemembered(`girder.steps.${state.run.class_id}`, {
    length: state.run.counted_unit ? `1 ${state.run.counted_unit.name}` : "1 mm",
    mass: "0.1 g",
    time: "1 s",
    count: "1",
    frequency: "0.1 Hz",
  });
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
  const upNext = now.find((spec) => value(spec.key) === undefined)?.key;
  const enter = useDesignWrite(
    () => answered(api.POST("/api/designs/{id}/check-in", { params: { path: { id: design.id } } })),
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
        {!design.checked_in && design.still_to_do.length > 0 && (
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
    onSuccess: (fresh) => client.setQueryData(keys.run(state.run.id), fresh),
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
