/** The recipes: one's own and those that ship, to take, copy, import and retire. */
import { Box, Button, Link, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Link as RouterLink, useNavigate } from "react-router";
import { ApiError, answered, api } from "../../api/client";
import { keys, useFamilies, useLibrary, useRecipes } from "../../api/queries";
import type { Family, Recipe } from "../../api/types";
import { FileButton } from "../../shared/FileButton";
import { Empty, Failed, fetchAgain, Loading, Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { SetupDrawing } from "../../drawing/SetupDrawing";
import { AGES } from "./planState";
import { SharedRecipes } from "./SharedRecipes";
import { plural } from "../../shared/format";

const LARGEST_BYTES = 256 * 1024;

function Import() {
  const client = useQueryClient();
  const go = useNavigate();
  const take = useMutation({
    mutationFn: async (file: File) => {
      if (file.size > LARGEST_BYTES)
        throw new ApiError(400, {
          sentence: `“${file.name}” is larger than 256 kB, so it is no recipe. Nothing was changed.`,
        });
      return answered(api.POST("/api/recipes/import", { body: { text: await file.text() } }));
    },
    onSuccess: async (made) => {
      await client.invalidateQueries({ queryKey: keys.recipes });
      await go(`/recipes/${made.id}`);
    },
  });
  const fields = take.error instanceof ApiError ? Object.entries(take.error.fields) : [];
  return (
    <>
      <FileButton
        accept=".json,application/json"
        disabled={take.isPending}
        onFile={(file) => take.mutate(file)}
        look={{ variant: "outlined" }}
      >
        Import a recipe file
      </FileButton>
      {take.isError && (
        <Box sx={{ flexBasis: "100%" }}>
          <Notice kind="problem">
            {sentenceOf(take.error)}
            {fields.length > 0 && (
              <Box component="ul" sx={{ my: 0.5 }}>
                {fields.map(([path, sentence]) => (
                  <li key={path}>
                    <b>{path.replace(/^recipe\./, "")}</b>: {sentence}
                  </li>
                ))}
              </Box>
            )}
          </Notice>
        </Box>
      )}
    </>
  );
}

function OwnRow({ recipe, family }: { recipe: Recipe; family: Family | undefined }) {
  return (
    <Link
      component={RouterLink}
      to={`/recipes/${recipe.id}`}
      underline="none"
      color="inherit"
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "64px minmax(0, 1fr)", sm: "92px minmax(0, 1fr) 120px 150px" },
        gap: 2,
        alignItems: "center",
        py: 1,
        borderBottom: `1px solid ${ink.line}`,
        opacity: recipe.retired ? 0.6 : 1,
        "&:hover": { bgcolor: ink.sheet },
      }}
    >
      <Box sx={{ height: 56 }}>
        {family && <SetupDrawing drawing={family.sketch} width={92} height={56} plain />}
      </Box>
      <Box>
        <Typography sx={{ fontWeight: 700, fontSize: "1.2rem" }}>{recipe.name}</Typography>
        <Typography variant="body2" sx={{ color: ink.soft }}>
          {recipe.question}
        </Typography>
      </Box>
      <Typography variant="body2">ages {AGES[recipe.age_band]}</Typography>
      <Typography variant="body2">
        {recipe.retired ? "retired" : `run ${recipe.run_count} ${plural("time", recipe.run_count)}`}
      </Typography>
    </Link>
  );
}

export default function LibraryPage() {
  const recipes = useRecipes();
  const families = useFamilies();
  const library = useLibrary();
  const client = useQueryClient();
  const go = useNavigate();
  const take = useMutation({
    mutationFn: (slug: string) => answered(api.POST("/api/library", { body: { slug } })),
    onSuccess: async (made) => {
      await client.invalidateQueries({ queryKey: keys.recipes });
      await go(`/recipes/${made.id}`);
    },
  });
  if (recipes.isPending || families.isPending || library.isPending) return <Loading what="the recipes" />;
  const failed = recipes.error ?? families.error ?? library.error;
  if (failed || !recipes.data || !families.data || !library.data)
    return <Failed error={failed} retry={fetchAgain(recipes, families, library)} />;
  const of = (key: string) => families.data.find((family) => family.key === key);
  return (
    <Box sx={{ pt: 1.5 }}>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 2, alignItems: "center", mb: 1 }}>
        <Typography variant="h1">Recipes</Typography>
        <Button component={RouterLink} to="/recipes/new" variant="contained">
          Plan a challenge
        </Button>
        <Import />
      </Box>
      {recipes.data.length === 0 && (
        <Empty title="No recipe of your own yet.">
          <Typography>Plan a challenge, or take one of those below and make it yours.</Typography>
        </Empty>
      )}
      {recipes.data.map((recipe) => (
        <OwnRow key={recipe.id} recipe={recipe} family={of(recipe.family)} />
      ))}
      <SharedRecipes families={families.data} />
      <Typography variant="h2" sx={{ mt: 4 }}>
        Ready to take
      </Typography>
      <Typography sx={{ color: ink.soft, mb: 1 }}>
        One for every kind of challenge. Taking one makes a copy that is yours.
      </Typography>
      {take.isError && <Notice kind="problem">{sentenceOf(take.error)}</Notice>}
      <Box sx={{ display: "grid", gridTemplateColumns: { sm: "1fr 1fr", lg: "1fr 1fr 1fr" }, columnGap: 4 }}>
        {library.data.map((recipe) => {
          const family = of(recipe.family);
          return (
            <Box
              key={recipe.slug}
              sx={{
                display: "grid",
                gridTemplateColumns: "88px 1fr",
                gap: 1.5,
                py: 1.25,
                borderTop: `1px solid ${ink.line}`,
              }}
            >
              <Box sx={{ height: 66 }}>
                {family && <SetupDrawing drawing={family.sketch} width={88} height={66} plain />}
              </Box>
              <Box>
                <Typography sx={{ fontWeight: 700, fontSize: "1.1rem", lineHeight: 1.2 }}>
                  {recipe.name}
                </Typography>
                <Typography variant="body2" sx={{ color: ink.soft }}>
                  {family?.name}, ages {AGES[recipe.age_band]}, {recipe.minutes} min
                </Typography>
                <Typography variant="body2" sx={{ my: 0.5 }}>
                  {recipe.question}
                </Typography>
                <Button
                  size="small"
                  variant="outlined"
                  aria-label={`Take ${recipe.name}`}
                  disabled={take.isPending}
                  onClick={() => take.mutate(recipe.slug)}
                >
                  Take it
                </Button>
              </Box>
            </Box>
          );
        })}
      </Box>
    </Box>
  );
}
