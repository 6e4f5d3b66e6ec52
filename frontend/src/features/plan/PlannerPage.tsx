/** The planner: four answers, and a sheet that fills itself; every line has its reason and can be typed over. */
import { Box, Button, Link, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link as RouterLink, useNavigate, useParams, useSearchParams } from "react-router";
import { ApiError, answered, api } from "../../api/client";
import { keys, useClasses, useFamilies, usePlan, useRecipes, whyOfPlan } from "../../api/queries";
import type { Family, FamilyKey, Recipe } from "../../api/types";
import { UnseenHeading } from "../../shared/UnseenHeading";
import { Empty, Failed, fetchAgain, Loading, Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { useSettled } from "../../shared/useSettled";
import { SetupDrawing } from "../../drawing/SetupDrawing";
import { AnswerRow } from "./AnswerRow";
import { CautionList } from "./CautionList";
import { FamilyPicker } from "./FamilyPicker";
import { answersFor, forFamily, merged, takeApart, without, type Answers, type Own } from "./planState";
import { KnownElsewhere } from "./KnownElsewhere";
import { PlannerNotes, PlannerSheet } from "./PlannerSheet";
import { RecipeActions } from "./RecipeActions";

interface SaveProps {
  recipe: Recipe | null;
  touched: boolean;
  busy: boolean;
  onSave: () => void;
  onLeave: (kept: Recipe) => void;
}

/** Saving, leaving it as it was, and what can be done with a kept recipe. */
function SaveLine({ recipe, touched, busy, onSave, onLeave }: SaveProps) {
  return (
    <>
      <Box sx={{ display: "flex", gap: 1.5, alignItems: "center", my: 1 }}>
        <Button
          variant="contained"
          size="large"
          disabled={busy || (recipe !== null && !touched)}
          onClick={onSave}
        >
          {recipe ? (touched ? "Save the changes" : "Saved") : "Save the recipe"}
        </Button>
        {recipe && touched && <Button onClick={() => onLeave(recipe)}>Leave it as it was</Button>}
      </Box>
      {recipe && recipe.run_count > 0 && (
        <Typography variant="body2" sx={{ color: ink.soft, mb: 1 }}>
          Runs that have started keep the terms they started with.
        </Typography>
      )}
      {recipe && <RecipeActions recipe={recipe} changed={touched} />}
    </>
  );
}

function Planner({ recipe, families }: { recipe: Recipe | null; families: readonly Family[] }) {
  const client = useQueryClient();
  const go = useNavigate();
  const classes = useClasses().data ?? [];
  // Home may have asked already what is built.
  const asked = useSearchParams()[0].get("kind") as FamilyKey | null;
  const wanted = families.find((listed) => listed.key === asked)?.key as FamilyKey | undefined;
  const teams = classes.find((schoolClass) => schoolClass.teams.length > 0)?.teams.length ?? 8;
  const [state, setState] = useState<{ answers: Answers; own: Own } | null>(() =>
    recipe ? takeApart(recipe) : wanted ? { answers: answersFor(wanted, teams), own: {} } : null,
  );
  const [picking, setPicking] = useState(recipe === null && !wanted);
  const [touched, setTouched] = useState(false);
  const settled = useSettled(state, 250);
  const kept = recipe?.id ?? null;
  const plan = usePlan(settled ? { ...settled.answers, own: settled.own, recipe: kept } : null);
  const sheet = plan.data;
  const save = useMutation({
    mutationFn: () => {
      if (!sheet || !state) throw new Error("nothing to save yet");
      const body = merged(sheet.entry, state.answers, state.own);
      return recipe
        ? answered(api.PUT("/api/recipes/{id}", { params: { path: { id: recipe.id } }, body }))
        : answered(api.POST("/api/recipes", { body }));
    },
    onSuccess: async (saved) => {
      setTouched(false);
      await client.invalidateQueries({ queryKey: keys.recipes });
      if (!recipe) await go(`/recipes/${saved.id}`, { replace: true });
    },
  });
  const change = (next: { answers: Answers; own: Own }) => {
    setTouched(true);
    save.reset();
    setState(next);
  };
  const pick = (key: FamilyKey) => {
    setPicking(false);
    if (state) change({ answers: { ...state.answers, family: key }, own: forFamily(state.own) });
    else
      change({
        answers: answersFor(key, teams),
        own: {},
      });
  };
  const family = families.find((listed) => listed.key === state?.answers.family);
  if (picking || !state || !family)
    return (
      <>
        <Typography variant="h1" sx={{ mt: 1 }}>
          Plan a challenge
        </Typography>
        <Typography sx={{ color: ink.soft, mb: 2, fontSize: "1.15rem" }}>
          Pick what is built. Gap, quota, load, time and cautions are proposed; all of it can be changed.
        </Typography>
        <FamilyPicker families={families} onPick={pick} />
      </>
    );
  const { answers, own } = state;
  const setOwn = (parts: Own) => change({ answers, own: { ...own, ...parts } });
  const back = (name: string) => change({ answers, own: without(own, name) });
  const answerProblems = plan.error instanceof ApiError ? plan.error.fields : {};
  const problems = { ...(sheet?.problems ?? {}), ...answerProblems };
  const entry = sheet && merged(sheet.entry, answers, own);
  const saveFields = save.error instanceof ApiError ? save.error.fields : {};
  const count = Object.keys({ ...problems, ...saveFields }).length;
  return (
    <>
      <UnseenHeading>{recipe ? `Plan: ${recipe.name}` : "Plan a challenge"}</UnseenHeading>
      <AnswerRow
        family={family}
        answers={answers}
        problems={problems}
        onChange={(next) => change({ answers: next, own })}
        onOtherFamily={() => setPicking(true)}
      />
      {plan.isError && Object.keys(answerProblems).length === 0 && (
        <Notice kind="problem">{sentenceOf(plan.error)}</Notice>
      )}
      {!sheet || !entry || sheet.entry.family !== answers.family ? (
        plan.isError ? null : (
          <Loading what="a proposal" />
        )
      ) : (
        <Box
          sx={{
            display: "grid",
            gridTemplateColumns: { xs: "minmax(0, 1fr)", lg: "minmax(0, 1fr) 400px" },
            gap: 5,
          }}
        >
          <PlannerSheet
            family={family}
            whyOf={(figure) => whyOfPlan({ ...answers, own, recipe: kept }, figure)}
            sheet={sheet}
            entry={entry}
            own={own}
            problems={problems}
            nameProblem={saveFields["name"]}
            onOwn={setOwn}
            onBack={back}
          />
          <Box sx={{ position: { lg: "sticky" }, top: 8, alignSelf: "start" }}>
            <Box sx={{ height: 262 }}>
              <SetupDrawing drawing={sheet.drawing} width={400} height={262} />
            </Box>
            <Box sx={{ borderTop: `2px solid ${ink.ink}`, pt: 1 }}>
              {count > 0 && (
                <Notice kind="problem">
                  {count === 1 ? "One thing needs" : `${count} things need`} another look before this can be
                  saved: {Object.values({ ...problems, ...saveFields })[0]}
                </Notice>
              )}
              <PlannerNotes notes={sheet.notes} />
              {save.isError && Object.keys(saveFields).length === 0 && (
                <Notice kind="problem">{sentenceOf(save.error)}</Notice>
              )}
              {recipe?.elsewhere && <KnownElsewhere known={recipe.elsewhere} />}
              <SaveLine
                recipe={recipe}
                touched={touched}
                busy={save.isPending}
                onSave={() => save.mutate()}
                onLeave={(kept) => {
                  setState(takeApart(kept));
                  setTouched(false);
                  save.reset();
                }}
              />
              <Typography variant="h3" sx={{ mt: 2 }}>
                What can hurt someone
              </Typography>
              <CautionList
                cautions={sheet.cautions}
                declared={entry.declared ?? []}
                confirmed={entry.confirmed ?? []}
                problems={problems}
                onDeclared={(declared) => setOwn({ declared })}
                onConfirmed={(confirmed) => setOwn({ confirmed })}
              />
            </Box>
          </Box>
        </Box>
      )}
    </>
  );
}

export default function PlannerPage() {
  const id = useParams()["recipeId"];
  const recipes = useRecipes();
  const families = useFamilies();
  const classes = useClasses();
  if (recipes.isPending || families.isPending || classes.isPending) return <Loading what="the planner" />;
  const failed = recipes.error ?? families.error ?? classes.error;
  if (failed || !recipes.data || !families.data)
    return <Failed error={failed} retry={fetchAgain(recipes, families, classes)} />;
  const recipe = id === "new" ? null : recipes.data.find((listed) => listed.id === Number(id));
  if (recipe === undefined) return <Empty title="There is no such recipe here." />;
  return (
    <Box sx={{ pt: 1.5 }}>
      <Link component={RouterLink} to="/library" color="inherit">
        All recipes
      </Link>
      <Planner key={recipe?.id ?? "new"} recipe={recipe} families={families.data} />
    </Box>
  );
}
