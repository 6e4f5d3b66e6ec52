/** The planner: four answers, and a sheet that fills itself; every line has its reason and can be typed over. */
import { Box, Button, Link, TextField, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link as RouterLink, useNavigate, useParams } from "react-router";
import { ApiError, answered, api } from "../../api/client";
import { keys, useClasses, useFamilies, usePlan, useRecipes } from "../../api/queries";
import type { Family, FamilyKey, PlanSheet, Recipe } from "../../api/types";
import { NumberField } from "../../shared/NumberField";
import { Empty, Failed, fetchAgain, Loading, Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { useSettled } from "../../shared/useSettled";
import { SetupDrawing } from "../../drawing/SetupDrawing";
import { TimelineStrip } from "../../drawing/TimelineStrip";
import { AnswerRow } from "./AnswerRow";
import { CautionList } from "./CautionList";
import { FamilyPicker } from "./FamilyPicker";
import { FairTestEditor } from "./FairTestEditor";
import { GoalEditor } from "./GoalEditor";
import { KitEditor } from "./KitEditor";
import { MaterialsEditor } from "./MaterialsEditor";
import { answersFor, forFamily, merged, takeApart, without, type Answers, type Own } from "./planState";
import { RecipeActions } from "./RecipeActions";

interface LineProps {
  name: string;
  label: string;
  sheet: PlanSheet;
  own: Own;
  onBack: (name: string) => void;
}

/** What stands beside a field: why this value, what is wrong with it, and the way back to the proposal. */
function Beside({ name, sheet, own, onBack }: Omit<LineProps, "label">) {
  const problem = sheet.problems[name];
  const moved = sheet.moved[name];
  const isOwn = name.startsWith("setup.") ? name.slice(6) in (own.setup ?? {}) : name in own;
  return (
    <Box sx={{ minWidth: 0 }}>
      {problem && (
        <Typography role="alert" sx={{ color: ink.oxide, fontWeight: 600 }}>
          {problem}
        </Typography>
      )}
      <Typography variant="body2" sx={{ color: ink.soft }}>
        {isOwn ? (
          <>
            <b style={{ color: ink.ink }}>Your own.</b>{" "}
            <Button size="small" sx={{ p: 0, minWidth: 0 }} onClick={() => onBack(name)}>
              back to the proposal
            </Button>{" "}
            {sheet.reasons[name]}
          </>
        ) : (
          <>
            {moved !== undefined && (
              <b style={{ color: ink.watch }}>{moved > 0 ? "▲ harder. " : "▼ easier. "}</b>
            )}
            {sheet.reasons[name]}
          </>
        )}
      </Typography>
    </Box>
  );
}

function Section({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <Box component="section" sx={{ borderTop: `2px solid ${ink.ink}`, pt: 1, mt: 3 }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        {title}
      </Typography>
      {children}
    </Box>
  );
}

function Planner({ recipe, families }: { recipe: Recipe | null; families: readonly Family[] }) {
  const client = useQueryClient();
  const go = useNavigate();
  const classes = useClasses().data ?? [];
  const [state, setState] = useState<{ answers: Answers; own: Own } | null>(() =>
    recipe ? takeApart(recipe) : null,
  );
  const [picking, setPicking] = useState(recipe === null);
  const [touched, setTouched] = useState(false);
  const settled = useSettled(state, 250);
  const plan = usePlan(settled ? { ...settled.answers, own: settled.own } : null);
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
        answers: answersFor(key, classes.find((one) => one.teams.length > 0)?.teams.length ?? 8),
        own: {},
      });
  };
  const family = families.find((one) => one.key === state?.answers.family);
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
        <Box sx={{ display: "grid", gridTemplateColumns: { lg: "minmax(0, 1fr) 400px" }, gap: 5 }}>
          <Box>
            <Box sx={{ display: "grid", gridTemplateColumns: { sm: "1fr 2fr" }, gap: 2 }}>
              <TextField
                label="Name"
                value={entry.name}
                error={"name" in saveFields}
                helperText={saveFields["name"]}
                onChange={(e) => setOwn({ name: e.target.value })}
              />
              <TextField
                label="The one question"
                value={entry.question}
                onChange={(e) => setOwn({ question: e.target.value })}
              />
            </Box>
            <Section title="Set-up">
              {family.setup.map((spec) => (
                <Box
                  key={spec.key}
                  sx={{
                    display: "grid",
                    gridTemplateColumns: { xs: "1fr", sm: "210px 128px 1fr" },
                    gap: 1.5,
                    alignItems: "center",
                    py: 0.6,
                    borderBottom: `1px solid ${ink.line}`,
                  }}
                >
                  <Typography sx={{ fontWeight: 600 }}>{spec.label}</Typography>
                  <TextField
                    value={entry.setup[spec.key] ?? ""}
                    placeholder={spec.optional ? "no limit" : ""}
                    error={`setup.${spec.key}` in problems}
                    slotProps={{ htmlInput: { "aria-label": spec.label } }}
                    onChange={(e) => setOwn({ setup: { ...own.setup, [spec.key]: e.target.value } })}
                  />
                  <Beside name={`setup.${spec.key}`} sheet={sheet} own={own} onBack={back} />
                </Box>
              ))}
            </Section>
            <Section title="Against the clock">
              {sheet.timeline && <TimelineStrip timeline={sheet.timeline} />}
              <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, mt: 1, alignItems: "start" }}>
                {(
                  [
                    ["build_minutes", "Minutes to build", 130],
                    ["benches", "Benches", 90],
                    ["drying_minutes", "Minutes to dry", 130],
                    ["next_lesson_hours", "Hours to the next lesson", 170],
                  ] as const
                ).map(([key, label, width]) => (
                  <NumberField
                    key={key}
                    label={label}
                    value={entry[key]}
                    error={key in problems}
                    helperText={problems[key]}
                    onNumber={(value) => setOwn({ [key]: value ?? 0 })}
                    sx={{ width: key in problems ? 300 : width }}
                  />
                ))}
                <Button
                  variant="outlined"
                  aria-pressed={entry.two_lessons}
                  onClick={() => setOwn({ two_lessons: !entry.two_lessons })}
                >
                  {entry.two_lessons ? "All in one lesson" : "Test in the next lesson"}
                </Button>
              </Box>
              <Beside name="day" sheet={sheet} own={own} onBack={back} />
            </Section>
            {(family.loaded || family.procedure.top_load || (entry.kit ?? []).length > 0) && (
              <Section title="Load at each bench">
                <KitEditor
                  items={entry.kit ?? []}
                  container={entry.container ?? null}
                  sheet={sheet}
                  problems={problems}
                  onItems={(kit) => setOwn({ kit })}
                  onContainer={(container) => setOwn({ container })}
                />
                <Beside
                  name="kit"
                  sheet={{ ...sheet, reasons: { kit: sheet.reasons["load"] ?? "" } }}
                  own={own}
                  onBack={back}
                />
              </Section>
            )}
            <Section title="Kit list">
              <MaterialsEditor
                materials={entry.materials ?? []}
                lines={sheet.kit_list}
                problems={problems}
                onChange={(materials) => setOwn({ materials })}
              />
              <Beside name="materials" sheet={sheet} own={own} onBack={back} />
            </Section>
            <Section title="What wins">
              <GoalEditor goal={entry} family={family} problems={problems} onChange={setOwn} />
            </Section>
            <Section title="A fair test">
              <FairTestEditor
                factor={entry.factor ?? null}
                controls={entry.controls ?? []}
                family={family}
                levels={sheet.levels}
                problems={problems}
                onFactor={(factor) => setOwn({ factor })}
                onControls={(controls) => setOwn({ controls })}
              />
            </Section>
          </Box>
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
              {sheet.notes.map((note) => (
                <Typography key={note} sx={{ mb: 0.5 }}>
                  <b style={{ color: ink.watch }}>Note.</b> {note}
                </Typography>
              ))}
              {save.isError && Object.keys(saveFields).length === 0 && (
                <Notice kind="problem">{sentenceOf(save.error)}</Notice>
              )}
              <Box sx={{ display: "flex", gap: 1.5, alignItems: "center", my: 1 }}>
                <Button
                  variant="contained"
                  size="large"
                  disabled={save.isPending || (recipe !== null && !touched)}
                  onClick={() => save.mutate()}
                >
                  {recipe ? (touched ? "Save the changes" : "Saved") : "Save the recipe"}
                </Button>
                {recipe && touched && (
                  <Button
                    onClick={() => {
                      setState(takeApart(recipe));
                      setTouched(false);
                      save.reset();
                    }}
                  >
                    Leave it as it was
                  </Button>
                )}
              </Box>
              {recipe && recipe.run_count > 0 && (
                <Typography variant="body2" sx={{ color: ink.soft, mb: 1 }}>
                  Runs that have started keep the terms they started with.
                </Typography>
              )}
              {recipe && <RecipeActions recipe={recipe} changed={touched} />}
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
  const recipe = id === "new" ? null : recipes.data.find((one) => one.id === Number(id));
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
