/** Compare: who really won, how sure that is, why, and what was not like with like. */
import { Box, Button, Link, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useState } from "react";
import { Link as RouterLink, useParams } from "react-router";
import { useComparison, useGoalWords } from "../../api/queries";
import type { DrawnComparison, GoalWords, Recipe } from "../../api/types";
import { Failed, Loading } from "../../shared/states";
import { ink } from "../../shared/theme";
import { GoalChanges, GoalDialog } from "../plan";
import { useRunState } from "../run";
import { FairView } from "./FairView";
import { Ranking } from "./Ranking";
import { RecordView } from "./RecordView";
import { RubricView } from "./RubricView";
import { WhyView } from "./WhyView";

type School = Recipe["school"];
type Rule = Recipe["trial_rule"];

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

const TOGGLE = {
  flexWrap: "wrap",
  "& .MuiToggleButton-root": { px: 1.5, py: 0.4, textTransform: "none", fontSize: "1rem", color: ink.ink },
} as const;

interface AskedProps {
  comparison: DrawnComparison;
  words: GoalWords | undefined;
  onSchool: (school: School) => void;
  onRule: (rule: Rule) => void;
}

/** By what it is compared, and which trials count where that matters. */
function Asked({ comparison, words, onSchool, onRule }: AskedProps) {
  const { state, family } = useRunState();
  return (
    <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap", "@media print": { display: "none" } }}>
      <ToggleButtonGroup
        exclusive
        size="small"
        aria-label="What wins"
        value={comparison.school}
        sx={TOGGLE}
        onChange={(_, value: School | null) => value && onSchool(value)}
      >
        {family.schools
          .filter((choice) => state.schools.includes(choice.school))
          .map((choice) => (
            <ToggleButton key={choice.school} value={choice.school} title={choice.why}>
              {words?.schools.find((w) => w.key === choice.school)?.label ?? choice.school}
            </ToggleButton>
          ))}
      </ToggleButtonGroup>
      {comparison.rule_matters && (
        <ToggleButtonGroup
          exclusive
          size="small"
          aria-label="Which trials count"
          value={comparison.trial_rule}
          sx={TOGGLE}
          onChange={(_, value: Rule | null) => value && onRule(value)}
        >
          {words?.trial_rules.map((rule) => (
            <ToggleButton key={rule.key} value={rule.key} title={rule.label}>
              {rule.key}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
      )}
    </Box>
  );
}

export default function ComparePage() {
  const { state } = useRunState();
  const { run } = state;
  const words = useGoalWords().data;
  const [changing, setChanging] = useState(false);
  const view = useParams()["view"] ?? "";
  // What it is looked at by, for discussion; without it by the run's own goal, also when that changes.
  const [looked, setLooked] = useState<{ school?: School; rule?: Rule }>({});
  const school = looked.school ?? run.school;
  const rule = looked.rule ?? run.trial_rule;
  const comparison = useComparison(run.id, { school, trial_rule: rule });
  if (comparison.isPending) return <Loading what="the comparison" />;
  if (!comparison.data) return <Failed error={comparison.error} retry={() => void comparison.refetch()} />;
  const { data } = comparison;
  return (
    <Box sx={{ pt: 2 }}>
      <GoalChanges changes={state.goal_changes} />
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
          {data.again !== "" && (
            <Typography sx={{ fontSize: "1.25rem", fontWeight: 600, mt: 0.25 }}>{data.again}</Typography>
          )}
          <Typography sx={{ color: ink.soft, mt: 0.25 }}>{data.explanation}</Typography>
        </Box>
        {view !== "rubric" && view !== "record" && (
          <Asked
            comparison={data}
            words={words}
            onSchool={(school) => setLooked({ ...looked, school })}
            onRule={(rule) => setLooked({ ...looked, rule })}
          />
        )}
      </Box>
      {!data.official && (
        <Typography sx={{ color: ink.watch, fontWeight: 600 }}>
          For discussion. The official ranking of this run:{" "}
          {words?.schools.find((word) => word.key === run.school)?.label.toLowerCase()},{" "}
          {words?.trial_rules.find((rule) => rule.key === run.trial_rule)?.label.toLowerCase()}.
        </Typography>
      )}
      <Views
        id={run.id}
        view={view}
        waiting={data.differences.filter((difference) => difference.decides).length}
      />
      {view === "" && <Ranking comparison={data} />}
      {view === "why" && <WhyView school={school} rule={rule} />}
      {view === "fair" && <FairView comparison={data} />}
      {view === "rubric" && <RubricView />}
      {view === "record" && <RecordView />}
      {changing && (
        <GoalDialog
          onClose={() => {
            setChanging(false);
            setLooked({});
          }}
        />
      )}
      <Box
        sx={{ display: "flex", gap: 3, mt: 2, alignItems: "baseline", "@media print": { display: "none" } }}
      >
        <Button onClick={() => setChanging(true)}>
          {state.goal_locked ? "Change the goal, with a reason" : "Change the goal"}
        </Button>
        <Button component={RouterLink} to={`/runs/${run.id}/trials`}>
          All trials, to put one right
        </Button>
      </Box>
    </Box>
  );
}
