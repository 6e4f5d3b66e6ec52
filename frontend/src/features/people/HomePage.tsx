/** Home: what is next, the runs, the classes, the recipes. Lists on paper, no tiles. */
import { Box, Button, Link, Typography } from "@mui/material";
import { useState } from "react";
import { Link as RouterLink } from "react-router";
import { useClasses, useHome, useRecipes } from "../../api/queries";
import { plural } from "../../shared/format";
import { Failed, fetchAgain, Loading } from "../../shared/states";
import { ink } from "../../shared/theme";
import { TeamMark } from "../../drawing/TeamMark";
import { NewRunDialog } from "../plan";
import { BringBack } from "../removal";
import { BringIn } from "./BringIn";
import { FirstSteps } from "./FirstSteps";
import { NewClassForm } from "./NewClassForm";
import { leads, OWN_PART } from "./parts";
import { RunLine } from "./RunLine";
import { ToBeTold } from "./ToBeTold";
import { WhatIsNext } from "./WhatIsNext";

export function HomePage() {
  const home = useHome();
  const classes = useClasses();
  const recipes = useRecipes();
  const [starting, setStarting] = useState(false);
  if (home.isPending || classes.isPending || recipes.isPending) return <Loading what="your runs" />;
  // What was fetched before stays on screen while it cannot be asked for again.
  if (!home.data || !classes.data || !recipes.data)
    return (
      <Failed
        error={home.error ?? classes.error ?? recipes.error}
        retry={fetchAgain(home, classes, recipes)}
      />
    );
  const { runs } = home.data;
  const kept = recipes.data.filter((recipe) => !recipe.retired);
  const own = classes.data.filter((schoolClass) => leads(schoolClass.part));
  const ready = kept.length > 0 && own.some((schoolClass) => schoolClass.teams.length > 0);
  return (
    <>
      <ToBeTold />
      <WhatIsNext home={home.data} />
      <Box sx={{ display: "grid", gridTemplateColumns: { lg: "1fr 330px" }, gap: 6, pt: 2 }}>
        <section>
          {runs.length === 0 && <FirstSteps classes={own} recipes={kept} onStart={() => setStarting(true)} />}
          <Box
            sx={{
              display: runs.length === 0 ? "none" : "flex",
              flexWrap: "wrap",
              alignItems: "baseline",
              columnGap: 3,
              rowGap: 1,
              mb: 1,
            }}
          >
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
          {runs.map((run) => (
            <RunLine key={run.id} run={run} />
          ))}
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
              {schoolClass.part !== "owner" && (
                <Typography component="span" variant="body2" sx={{ color: ink.soft }}>
                  {" "}
                  {schoolClass.owner_name}’s; {OWN_PART[schoolClass.part]}
                </Typography>
              )}
              <Box sx={{ display: "flex", gap: 0.75, mt: 0.5, flexWrap: "wrap" }}>
                {schoolClass.teams.map((team) => (
                  <TeamMark key={team.id} team={team} size={18} />
                ))}
                {schoolClass.teams.length === 0 && <Typography variant="body2">no teams yet</Typography>}
              </Box>
            </Box>
          ))}
          {(runs.length > 0 || classes.data.length > 0) && <NewClassForm />}
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
        {starting && <NewRunDialog classes={own} recipes={kept} onClose={() => setStarting(false)} />}
      </Box>
    </>
  );
}
