/** Write or change a recipe: what is built, over which gap, what loads it, and what wins. */
import { Box, Button, Link, MenuItem, TextField, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link as RouterLink, useNavigate, useParams } from "react-router";
import { ApiError, answered, api } from "../../api/client";
import { keys, useFamilies, useRecipes } from "../../api/queries";
import type { Family, KitItem, Recipe } from "../../api/types";
import { Empty, Failed, Loading, Notice, sentenceOf } from "../../app/states";
import { ink } from "../../app/theme";
import { useUnits } from "../../app/units";
import { emptyItem, emptyRecipe, recipeToEntry, type KitEntry, type RecipeEntry } from "./recipeForm";
import { BREACH_POLICIES, SCHOOLS, TRIAL_RULES } from "./words";

const SHAPE_WORDS: Record<KitItem["shape"], string> = {
  platform: "Platform, cup or tray",
  nut: "Nut",
  disc: "Coin or disc",
  tile: "Tile or block",
  bag: "Bag or roll",
};

type Fields = Readonly<Record<string, string>>;

function Choice<K extends string>(props: {
  label: string;
  value: K;
  words: Record<K, { label: string; why: string }>;
  onChange: (value: K) => void;
}) {
  const { label, value, words, onChange } = props;
  return (
    <TextField
      select
      label={label}
      value={value}
      helperText={words[value].why}
      onChange={(e) => onChange(e.target.value as K)}
    >
      {(Object.keys(words) as K[]).map((key) => (
        <MenuItem key={key} value={key}>
          {words[key].label}
        </MenuItem>
      ))}
    </TextField>
  );
}

function ItemFields(props: {
  item: KitEntry;
  path: string;
  fields: Fields;
  onChange: (item: KitEntry) => void;
  onRemove: () => void;
}) {
  const { item, path, fields, onChange, onRemove } = props;
  const typed = (
    name: "name" | "batch_mass" | "scale_resolution" | "diameter" | "thickness",
    label: string,
    width: number,
    hint = "",
  ) => (
    <TextField
      label={label}
      value={item[name]}
      placeholder={hint}
      error={`${path}.${name}` in fields}
      helperText={fields[`${path}.${name}`]}
      onChange={(e) => onChange({ ...item, [name]: e.target.value })}
      sx={{ width }}
    />
  );
  const counted = (name: "count" | "roll_of" | "batch_count", label: string) => (
    <TextField
      label={label}
      type="number"
      value={item[name]}
      error={`${path}.${name}` in fields}
      helperText={fields[`${path}.${name}`]}
      onChange={(e) => onChange({ ...item, [name]: Number(e.target.value) })}
      sx={{ width: 94 }}
    />
  );
  return (
    <Box
      component="fieldset"
      sx={{ border: 0, borderTop: `1px solid ${ink.line}`, m: 0, p: 0, pt: 2, pb: 2 }}
    >
      <Typography component="legend" variant="h3" sx={{ pr: 2 }}>
        {SHAPE_WORDS[item.shape]}
      </Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, alignItems: "start" }}>
        {typed("name", "Name", 190)}
        {item.shape !== "platform" && (
          <TextField
            select
            label="Drawn as"
            value={item.shape}
            onChange={(e) => onChange({ ...item, shape: e.target.value as KitItem["shape"] })}
            sx={{ width: 130 }}
          >
            {(["nut", "disc", "tile", "bag"] as const).map((shape) => (
              <MenuItem key={shape} value={shape}>
                {SHAPE_WORDS[shape]}
              </MenuItem>
            ))}
          </TextField>
        )}
        {item.shape !== "platform" && counted("count", "In the kit")}
        {item.shape === "bag" && counted("roll_of", "In one")}
        {counted("batch_count", "Weighed")}
        {typed("batch_mass", "Scale showed", 116, "342 g")}
        {typed("scale_resolution", "Scale's step", 92, "1 g")}
        {typed("diameter", "Width", 92, "20 mm")}
        {typed("thickness", "Height", 92, "10 mm")}
        <Button onClick={onRemove}>Remove</Button>
      </Box>
    </Box>
  );
}

function RecipeForm({ recipe, family }: { recipe: Recipe | null; family: Family }) {
  const units = useUnits();
  const client = useQueryClient();
  const go = useNavigate();
  const [entry, setEntry] = useState<RecipeEntry>(() =>
    recipe ? recipeToEntry(recipe) : emptyRecipe(family, units),
  );
  const save = useMutation({
    mutationFn: () =>
      recipe
        ? answered(api.PUT("/api/recipes/{id}", { params: { path: { id: recipe.id } }, body: entry }))
        : answered(api.POST("/api/recipes", { body: entry })),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: keys.recipes });
      await go("/");
    },
  });
  const retire = useMutation({
    mutationFn: (body: { retired: boolean; id: number }) =>
      answered(
        api.PATCH("/api/recipes/{id}", {
          params: { path: { id: body.id } },
          body: { retired: body.retired },
        }),
      ),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.recipes }),
  });
  const fields: Fields = save.error instanceof ApiError ? save.error.fields : {};
  const setItem = (index: number, item: KitEntry | null) =>
    setEntry({
      ...entry,
      kit: entry.kit.flatMap((one, i) => (i === index ? (item ? [item] : []) : [one])) as KitEntry[],
    });
  return (
    <Box
      component="form"
      sx={{ maxWidth: 1150 }}
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate();
      }}
    >
      <Typography variant="h1" sx={{ my: 1 }}>
        {recipe ? recipe.name : "A new bridge challenge"}
      </Typography>
      <Typography sx={{ color: ink.soft, mb: 2 }}>
        {family.built} Type lengths and masses with their unit: 360 mm, 14 1/4 in, 0.8 kg.
        {recipe && recipe.run_count > 0 && " Runs that have started keep the terms they started with."}
      </Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: { sm: "1fr 2fr" }, gap: 2 }}>
        <TextField
          label="Name"
          required
          value={entry.name}
          error={"name" in fields}
          helperText={fields["name"]}
          onChange={(e) => setEntry({ ...entry, name: e.target.value })}
        />
        <TextField
          label="The one question"
          value={entry.question}
          error={"question" in fields}
          helperText={fields["question"]}
          onChange={(e) => setEntry({ ...entry, question: e.target.value })}
        />
      </Box>
      <Typography variant="h2" sx={{ mt: 3, mb: 1.5 }}>
        Set-up
      </Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: { sm: "1fr 1fr", md: "1fr 1fr 1fr 1fr" }, gap: 2 }}>
        {family.setup.map((one) => (
          <TextField
            key={one.key}
            label={one.label + (one.optional ? " (optional)" : "")}
            value={entry.setup[one.key] ?? ""}
            error={`setup.${one.key}` in fields}
            helperText={fields[`setup.${one.key}`] ?? one.why}
            onChange={(e) => setEntry({ ...entry, setup: { ...entry.setup, [one.key]: e.target.value } })}
          />
        ))}
        <TextField
          label="Minutes to build"
          type="number"
          value={entry.build_minutes}
          onChange={(e) => setEntry({ ...entry, build_minutes: Number(e.target.value) })}
        />
      </Box>
      <Typography variant="h2" sx={{ mt: 3 }}>
        Load kit
      </Typography>
      <Typography sx={{ color: ink.soft, mb: 1 }}>
        Weigh a batch and count it: the mass of one follows, with its doubt. The platform is load too.
      </Typography>
      {"kit" in fields && <Notice kind="problem">{fields["kit"]}</Notice>}
      {entry.kit.map((item, index) => (
        <ItemFields
          key={index}
          item={item as KitEntry}
          path={`kit.${index}`}
          fields={fields}
          onChange={(changed) => setItem(index, changed)}
          onRemove={() => setItem(index, null)}
        />
      ))}
      <Button onClick={() => setEntry({ ...entry, kit: [...entry.kit, emptyItem("nut")] })}>
        Add a load item
      </Button>
      {!entry.kit.some((item) => item.shape === "platform") && (
        <Button onClick={() => setEntry({ ...entry, kit: [emptyItem("platform"), ...entry.kit] })}>
          Add a platform
        </Button>
      )}
      <Typography variant="h2" sx={{ mt: 3, mb: 1.5 }}>
        What wins
      </Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: { sm: "1fr 1fr", md: "1fr 1fr 1fr 130px" }, gap: 2 }}>
        <Choice
          label="Score"
          value={entry.school}
          words={SCHOOLS}
          onChange={(school) => setEntry({ ...entry, school })}
        />
        <Choice
          label="Trials"
          value={entry.trial_rule}
          words={TRIAL_RULES}
          onChange={(trial_rule) => setEntry({ ...entry, trial_rule })}
        />
        <Choice
          label="A broken rule"
          value={entry.breach_policy}
          words={BREACH_POLICIES}
          onChange={(breach_policy) => setEntry({ ...entry, breach_policy })}
        />
        {entry.breach_policy === "penalty" && (
          <TextField
            label="Taken off, %"
            type="number"
            value={Math.round(entry.penalty * 100)}
            error={"penalty" in fields}
            helperText={fields["penalty"]}
            onChange={(e) => setEntry({ ...entry, penalty: Number(e.target.value) / 100 })}
          />
        )}
      </Box>
      {save.isError && <Notice kind="problem">{sentenceOf(save.error)}</Notice>}
      <Box sx={{ display: "flex", gap: 2, mt: 3 }}>
        <Button type="submit" variant="contained" size="large" disabled={save.isPending}>
          Save the recipe
        </Button>
        <Button component={RouterLink} to="/">
          Leave it as it was
        </Button>
        {recipe && (
          <Button
            onClick={() => retire.mutate({ id: recipe.id, retired: !recipe.retired })}
            sx={{ ml: "auto" }}
          >
            {recipe.retired ? "Put it back on the list" : "Retire this recipe"}
          </Button>
        )}
      </Box>
    </Box>
  );
}

export default function RecipePage() {
  const id = useParams()["recipeId"];
  const recipes = useRecipes();
  const families = useFamilies();
  if (recipes.isPending || families.isPending) return <Loading what="the recipe" />;
  if (recipes.isError) return <Failed error={recipes.error} retry={() => void recipes.refetch()} />;
  if (families.isError) return <Failed error={families.error} retry={() => void families.refetch()} />;
  const recipe = id === "new" ? null : recipes.data.find((one) => one.id === Number(id));
  const family = families.data.find((one) => one.key === (recipe?.family ?? "bridge"));
  if (recipe === undefined || !family) return <Empty title="There is no such recipe here." />;
  return (
    <Box sx={{ pt: 2 }}>
      <Link component={RouterLink} to="/" color="inherit">
        All runs and recipes
      </Link>
      <RecipeForm key={recipe?.id ?? "new"} recipe={recipe} family={family} />
    </Box>
  );
}
