/** Home: the runs under way, the classes, the recipes. Lists on paper, no tiles. */
import { Box, Button, Link, Typography } from "@mui/material";
import { useState } from "react";
import { Link as RouterLink } from "react-router";
import { useClasses, useRecipes, useRuns } from "../../api/queries";
import type { RunListed } from "../../api/types";
import { formatDate, plural } from "../../shared/format";
import { Empty, Failed, fetchAgain, Loading } from "../../shared/states";
import { ink } from "../../shared/theme";
import { TeamMark } from "../../drawing/TeamMark";
import { NewRunDialog } from "../plan";
import { BringBack } from "../removal";
import { BringIn } from "./BringIn";
import { NewClassForm } from "./NewClassForm";

function RunLine({ run }: { run: RunListed }) {
  const done = run.designs > 0 && run.tested === run.designs;
  return (
    <Link
      component={RouterLink}
      to={`/runs/${run.id}/${done ? "compare" : run.tested > 0 ? "bench" : "brief"}`}
      underline="none"
      color="inherit"
      sx={{
        display: "grid",
        gridTemplateColumns: "minmax(180px, 1fr) 120px 170px 220px",
        gap: 2,
        alignItems: "center",
        py: 1.25,
        borderBottom: `1px solid ${ink.line}`,
        "&:hover": { bgcolor: ink.sheet },
      }}
    >
      <Typography sx={{ fontWeight: 700, fontSize: "1.25rem" }}>
        {run.name}
        {run.tryout && (
          <Typography component="span" sx={{ color: ink.soft, fontWeight: 400 }}>
            {" "}
            (tried out)
          </Typography>
        )}
      </Typography>
      <Typography>{run.class_name}</Typography>
      <Typography sx={{ color: ink.soft }}>{formatDate(run.date)}</Typography>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1 }}>
        <Box aria-hidden sx={{ width: 96, height: 10, border: `2px solid ${ink.ink}` }}>
          <Box
            sx={{
              height: "100%",
              width: `${(100 * run.tested) / Math.max(1, run.designs)}%`,
              bgcolor: ink.held,
            }}
          />
        </Box>
        <Typography variant="body2">
          {run.tested} of {run.designs} tested
        </Typography>
      </Box>
    </Link>
  );
}

export function HomePage() {
  const runs = useRuns();
  const classes = useClasses();
  const recipes = useRecipes();
  const [starting, setStarting] = useState(false);
  if (runs.isPending || classes.isPending || recipes.isPending) return <Loading what="your runs" />;
  const failed = runs.error ?? classes.error ?? recipes.error;
  if (failed || !runs.data || !classes.data || !recipes.data)
    return <Failed error={failed} retry={fetchAgain(runs, classes, recipes)} />;
  const kept = recipes.data.filter((recipe) => !recipe.retired);
  const ready = kept.length > 0 && classes.data.some((schoolClass) => schoolClass.teams.length > 0);
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: { lg: "1fr 330px" }, gap: 6, pt: 2 }}>
      <section>
        <Box sx={{ display: "flex", alignItems: "baseline", gap: 3, mb: 1 }}>
          <Typography variant="h1">Runs</Typography>
          <Button component={RouterLink} to="/recipes/new" variant={ready ? "outlined" : "contained"}>
            Plan a challenge
          </Button>
          <Button component={RouterLink} to="/drafting" variant="outlined">
            Drafting table
          </Button>
          {ready && (
            <Button variant="contained" onClick={() => setStarting(true)}>
              Start a run
            </Button>
          )}
        </Box>
        {runs.data.map((run) => (
          <RunLine key={run.id} run={run} />
        ))}
        {runs.data.length === 0 && (
          <Empty title="No run yet.">
            <Typography>
              {classes.data.length === 0
                ? "Add a class and its teams, plan a challenge, then start a run."
                : kept.length === 0
                  ? "Plan a challenge: pick what is built, and the rest is proposed. Or take a ready recipe."
                  : ready
                    ? "Start a run: a recipe given to a class."
                    : "Add teams to a class; then a run can start."}
            </Typography>
          </Empty>
        )}
        <BringIn />
        <BringBack />
      </section>
      <aside>
        <Typography variant="h2" sx={{ mt: 1 }}>
          Classes
        </Typography>
        {classes.data.map((schoolClass) => (
          <Box key={schoolClass.id} sx={{ py: 1, borderBottom: `1px solid ${ink.line}` }}>
            <Link
              component={RouterLink}
              to={`/classes/${schoolClass.id}`}
              color="inherit"
              sx={{ fontWeight: 600 }}
            >
              {schoolClass.name}
            </Link>
            <Box sx={{ display: "flex", gap: 0.75, mt: 0.5, flexWrap: "wrap" }}>
              {schoolClass.teams.map((team) => (
                <TeamMark key={team.id} team={team} size={18} />
              ))}
              {schoolClass.teams.length === 0 && <Typography variant="body2">no teams yet</Typography>}
            </Box>
          </Box>
        ))}
        <NewClassForm />
        <Typography variant="h2" sx={{ mt: 4 }}>
          Recipes
        </Typography>
        {recipes.data.map((recipe) => (
          <Box key={recipe.id} sx={{ py: 1, borderBottom: `1px solid ${ink.line}` }}>
            <Link
              component={RouterLink}
              to={`/recipes/${recipe.id}`}
              color="inherit"
              sx={{ fontWeight: 600 }}
            >
              {recipe.name}
            </Link>
            <Typography variant="body2" sx={{ color: ink.soft }}>
              {recipe.retired ? "retired" : `run ${recipe.run_count} ${plural("time", recipe.run_count)}`}
            </Typography>
          </Box>
        ))}
        <Button component={RouterLink} to="/library" sx={{ mt: 1, px: 0 }}>
          All recipes, and ready ones
        </Button>
      </aside>
      {starting && <NewRunDialog classes={classes.data} recipes={kept} onClose={() => setStarting(false)} />}
    </Box>
  );
}
