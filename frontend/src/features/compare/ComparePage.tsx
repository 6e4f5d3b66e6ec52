/** Compare: who really won, how sure that is, why, and what was not like with like. */
import { Box, Button, Link, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link as RouterLink, useParams } from "react-router";
import { answered, api } from "../../api/client";
import { keys, useGoalWords } from "../../api/queries";
import type { Comparison, Recipe } from "../../api/types";
import { formatMass, formatMassWithDoubt, formatPercent, formatRatio } from "../../shared/format";
import { Empty, Failed, Loading } from "../../shared/states";
import { ink } from "../../shared/theme";
import { useUnits } from "../../shared/units";
import { TeamMark } from "../../drawing/TeamMark";
import { trialAddress } from "../bench";
import { GoalChanges, GoalDialog } from "../plan";
import { useRunState } from "../run";
import { RankBars } from "./RankBars";
import { FairView } from "./FairView";
import { RayChart } from "./RayChart";
import { RecordView } from "./RecordView";
import { RubricView } from "./RubricView";
import { SaveDrawing } from "./SaveDrawing";
import { WhyView } from "./WhyView";

type School = Recipe["school"];
type Rule = Recipe["trial_rule"];

function Figures({ comparison, loaded }: { comparison: Comparison; loaded: boolean }) {
  const units = useUnits();
  return (
    <Box component="details" sx={{ mt: 2 }}>
      <Typography component="summary" sx={{ fontWeight: 600, cursor: "pointer" }}>
        The figures as a table
      </Typography>
      <Box
        component="table"
        sx={{
          borderCollapse: "collapse",
          mt: 1,
          "& th, & td": { textAlign: "left", pr: 3, py: 0.4, borderBottom: `1px solid ${ink.line}` },
        }}
      >
        <thead>
          <tr>
            <th>Places</th>
            <th>Team</th>
            <th>Result</th>
            <th>Held</th>
            <th>Broke at</th>
            <th>Own weight</th>
            <th>Times its own weight</th>
            <th>How it ended</th>
            <th>Against the next</th>
          </tr>
        </thead>
        <tbody>
          {comparison.ranked.map((row) => (
            <tr key={row.design}>
              <td>
                {row.ranks.best === row.ranks.worst ? row.ranks.best : `${row.ranks.best}–${row.ranks.worst}`}
              </td>
              <td>{row.team.name}</td>
              <td>
                {row.score.at_least && "at least "}
                {row.words}
              </td>
              <td>{loaded ? formatMass(row.score.held_kg, units) : "–"}</td>
              <td>
                {!loaded
                  ? "–"
                  : row.score.held_interval.high === null
                    ? "did not break"
                    : formatMass(row.score.held_interval.high ?? 0, units)}
              </td>
              <td>
                {row.score.self_mass
                  ? formatMassWithDoubt(
                      row.score.self_mass.value,
                      row.score.self_mass.standard_uncertainty,
                      units,
                    )
                  : "not taken"}
              </td>
              <td>
                {loaded && row.score.self_mass
                  ? formatRatio(row.score.held_kg / row.score.self_mass.value)
                  : "–"}
              </td>
              <td>{row.mode}</td>
              <td>{row.against_next?.reason}</td>
            </tr>
          ))}
        </tbody>
      </Box>
    </Box>
  );
}

/** Every trial of the run, each the way to what it still allows. */
function TrialLinks() {
  const { state } = useRunState();
  const tested = state.designs.filter((design) => design.trials.length > 0);
  if (tested.length === 0) return null;
  return (
    <Box
      component="nav"
      aria-label="Trials"
      sx={{ display: "flex", flexWrap: "wrap", columnGap: 2.5, pt: 0.5, "@media print": { display: "none" } }}
    >
      <Typography sx={{ color: ink.soft }}>Trials, to look at or put right:</Typography>
      {tested.map((design) => (
        <Typography key={design.id}>
          {design.team.name}
          {design.version > 1 && ` v${design.version}`}{" "}
          {design.trials.map((trial) => (
            <Link
              key={trial.id}
              component={RouterLink}
              to={trialAddress(state.run.id, design.id, trial.id)}
              aria-label={`Trial ${trial.number} of ${design.team.name}, version ${design.version}`}
              sx={{ color: ink.oxide, fontWeight: 600, px: 0.4 }}
            >
              {trial.number}
            </Link>
          ))}
        </Typography>
      ))}
    </Box>
  );
}

const VIEWS = [
  ["", "Ranking"],
  ["why", "Why"],
  ["fair", "Like with like"],
  ["rubric", "Rubric"],
  ["record", "Record"],
] as const;

/** The sides of a comparison, a line of links. */
function Views({ id, view, waiting }: { id: number; view: string; waiting: number }) {
  return (
    <Box
      component="nav"
      aria-label="Sides of the comparison"
      sx={{
        display: "flex",
        gap: 3,
        mt: 1,
        borderBottom: `1px solid ${ink.line}`,
        "@media print": { display: "none" },
      }}
    >
      {VIEWS.map(([key, label]) => (
        <Link
          key={key}
          component={RouterLink}
          to={`/runs/${id}/compare${key && `/${key}`}`}
          underline="none"
          aria-current={view === key ? "page" : undefined}
          sx={{
            color: ink.ink,
            fontWeight: view === key ? 700 : 500,
            fontSize: "1.1rem",
            py: 0.5,
            borderBottom: `4px solid ${view === key ? ink.oxide : "transparent"}`,
          }}
        >
          {label}
          {key === "fair" && waiting > 0 && <span style={{ color: ink.watch }}> ({waiting})</span>}
        </Link>
      ))}
    </Box>
  );
}

export default function ComparePage() {
  const { state, family } = useRunState();
  const { run } = state;
  const words = useGoalWords().data;
  const [changing, setChanging] = useState(false);
  const view = useParams()["view"] ?? "";
  const [school, setSchool] = useState<School>(run.school);
  const [rule, setRule] = useState<Rule>(run.trial_rule);
  const comparison = useQuery({
    queryKey: keys.comparison(run.id, school, rule),
    queryFn: () =>
      answered(
        api.GET("/api/runs/{id}/comparison", {
          params: { path: { id: run.id }, query: { school, trial_rule: rule } },
        }),
      ),
    placeholderData: keepPreviousData,
    staleTime: 0,
  });
  const units = useUnits();
  if (comparison.isPending) return <Loading what="the comparison" />;
  if (comparison.isError) return <Failed error={comparison.error} retry={() => void comparison.refetch()} />;
  const { data } = comparison;
  const survivedKind = family.readings.find((one) => one.key === family.result_readings[0])?.kind ?? "";
  const rows = data.ranked.length;
  const measured = ["tallest", "survived", "left_standing"].includes(school);
  const rowHeight = Math.min(84, Math.max(56, 470 / Math.max(1, rows)));
  const toggle = {
    "& .MuiToggleButton-root": { px: 1.5, py: 0.4, textTransform: "none", fontSize: "1rem", color: ink.ink },
  } as const;
  return (
    <Box sx={{ pt: 2 }}>
      <Box
        sx={{
          display: "flex",
          justifyContent: "space-between",
          gap: 3,
          alignItems: "start",
          flexWrap: "wrap",
        }}
      >
        <Box sx={{ flex: "1 1 560px" }}>
          <Typography variant="h1">{data.headline}</Typography>
          <Typography sx={{ color: ink.soft, mt: 0.25 }}>{data.explanation}</Typography>
        </Box>
        <Box
          sx={{
            display: view === "rubric" || view === "record" ? "none" : "flex",
            gap: 1.5,
            flexWrap: "wrap",
            "@media print": { display: "none" },
          }}
        >
          <ToggleButtonGroup
            exclusive
            size="small"
            aria-label="What wins"
            value={school}
            sx={toggle}
            onChange={(_, value: School | null) => value && setSchool(value)}
          >
            {family.schools
              .filter((one) => one.school !== "mix" || Object.keys(run.weights ?? {}).length > 0)
              .filter((one) => one.school !== "threshold" || run.setup["target_kg"])
              .map((one) => (
                <ToggleButton key={one.school} value={one.school} title={one.why}>
                  {words?.schools.find((w) => w.key === one.school)?.label ?? one.school}
                </ToggleButton>
              ))}
          </ToggleButtonGroup>
          {!measured && (
            <ToggleButtonGroup
              exclusive
              size="small"
              aria-label="Which trials count"
              value={rule}
              sx={toggle}
              onChange={(_, value: Rule | null) => value && setRule(value)}
            >
              {words?.trial_rules.map((one) => (
                <ToggleButton key={one.key} value={one.key} title={one.label}>
                  {one.key}
                </ToggleButton>
              ))}
            </ToggleButtonGroup>
          )}
        </Box>
      </Box>
      {!data.official && (
        <Typography sx={{ color: ink.watch, fontWeight: 600 }}>
          For discussion. The official ranking of this run:{" "}
          {words?.schools.find((one) => one.key === run.school)?.label.toLowerCase()},{" "}
          {words?.trial_rules.find((one) => one.key === run.trial_rule)?.label.toLowerCase()}.
        </Typography>
      )}
      <Views id={run.id} view={view} waiting={data.differences.filter((one) => one.decides).length} />
      {view === "why" && <WhyView school={school} rule={rule} survivedKind={survivedKind} />}
      {view === "fair" && <FairView comparison={data} />}
      {view === "rubric" && <RubricView />}
      {view === "record" && <RecordView />}
      {view === "" && rows === 0 && (
        <Empty
          title={family.loaded ? "Nothing has been tested to an end yet." : "No result is written down yet."}
        >
          <Button component={RouterLink} to={`/runs/${run.id}/bench`} variant="contained" sx={{ mt: 1 }}>
            To the bench
          </Button>
        </Empty>
      )}
      {view === "" && rows > 0 && (
        <Box
          sx={{
            display: "grid",
            gridTemplateColumns: { md: family.loaded ? "1.35fr 1fr" : "1fr" },
            gap: 3,
            mt: 1,
          }}
        >
          <Box data-chart>
            <RankBars
              comparison={data}
              survivedKind={survivedKind}
              aims={Object.fromEntries(
                (words?.schools ?? []).map((one) => [one.key, one.label.toLowerCase()]),
              )}
              rowHeight={family.loaded ? rowHeight : 52}
              width={family.loaded ? 730 : 1230}
            />
            <Typography variant="body2" sx={{ color: ink.soft }}>
              {measured
                ? "Solid: measured. Hatched: as far as the measuring can be off. ↕ how sure the order is. "
                : "Solid: held. Hatched: what is not known, up to what broke it, and as far as the masses can be off. ↕ how sure the order is. "}
              {data.scatter
                ? `Trials of one design scatter by ${formatPercent(data.scatter.cv)} here (${data.scatter.designs} ${data.scatter.designs === 1 ? "design" : "designs"} tested more than once).`
                : `Nobody was ${measured ? "measured" : "tested"} twice, so the order can be likely, but not clear.`}
            </Typography>
            <SaveDrawing file="ranking" />
          </Box>
          {family.loaded && (
            <Box data-chart>
              <RayChart comparison={data} />
              <SaveDrawing file="load-against-own-weight" />
            </Box>
          )}
        </Box>
      )}
      {view === "" && (
        <>
          <Box sx={{ borderTop: `1px solid ${ink.line}`, mt: 1.5, pt: 1 }}>
            {data.differences.some((one) => one.decides) && (
              <Typography>
                <b style={{ color: ink.watch }}>Not like with like:</b>{" "}
                {data.differences
                  .filter((one) => one.decides)
                  .map((one) => one.says)
                  .join(" ")}
              </Typography>
            )}
            {data.voids.map((one) => (
              <Box
                key={`${one.team.id} ${one.version} ${one.number}`}
                sx={{ display: "flex", gap: 1, alignItems: "center" }}
              >
                <TeamMark team={one.team} size={16} />
                <Typography>
                  <b>{one.team.name}</b>,{" "}
                  <Link
                    component={RouterLink}
                    to={trialAddress(run.id, one.design, one.trial)}
                    sx={{ color: "inherit" }}
                  >
                    trial {one.number}
                  </Link>
                  : void, not scored ({one.reason.toLowerCase()} at {formatMass(one.load_on_kg, units)}).
                </Typography>
              </Box>
            ))}
            {data.unranked.map((one) => (
              <Box key={one.design} sx={{ display: "flex", gap: 1, alignItems: "center" }}>
                <TeamMark team={one.team} size={16} />
                <Typography>
                  <Link
                    component={RouterLink}
                    to={`/runs/${run.id}/bench/${one.design}`}
                    sx={{ color: "inherit", fontWeight: 700 }}
                  >
                    {one.team.name}
                  </Link>
                  : {one.sentence}
                </Typography>
              </Box>
            ))}
          </Box>
          <TrialLinks />
          {rows > 0 && <Figures comparison={data} loaded={family.loaded} />}
        </>
      )}
      <GoalChanges changes={state.goal_changes} />
      {changing && <GoalDialog onClose={() => setChanging(false)} />}
      <Box
        sx={{ display: "flex", gap: 3, mt: 2, alignItems: "baseline", "@media print": { display: "none" } }}
      >
        <Button onClick={() => setChanging(true)}>
          {state.goal_locked ? "Change the goal, with a reason" : "Change the goal"}
        </Button>
      </Box>
    </Box>
  );
}
