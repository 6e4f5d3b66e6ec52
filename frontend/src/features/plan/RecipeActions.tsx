/** What can be done with a kept recipe: give it to a class, print, copy, export, retire. */
import { Box, Button, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { answered, api } from "../../api/client";
import { keys, useClasses } from "../../api/queries";
import type { Recipe } from "../../api/types";
import { Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { RemoveButton } from "../removal";
import { NewRunDialog } from "./NewRunDialog";
import { PrintLinks } from "./PrintLinks";
import { ShareRecipe } from "./ShareRecipe";

export function RecipeActions({ recipe, changed }: { recipe: Recipe; changed: boolean }) {
  const classes = useClasses().data ?? [];
  const client = useQueryClient();
  const go = useNavigate();
  const [starting, setStarting] = useState(false);
  const copy = useMutation({
    mutationFn: () => answered(api.POST("/api/recipes/{id}/copy", { params: { path: { id: recipe.id } } })),
    onSuccess: async (made) => {
      await client.invalidateQueries({ queryKey: keys.recipes });
      await go(`/recipes/${made.id}`);
    },
  });
  const retire = useMutation({
    mutationFn: () =>
      answered(
        api.PATCH("/api/recipes/{id}", {
          params: { path: { id: recipe.id } },
          body: { retired: !recipe.retired },
        }),
      ),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.recipes }),
  });
  const failed = copy.error ?? retire.error;
  return (
    <Box>
      {changed && (
        <Typography variant="body2" sx={{ color: ink.watch }}>
          Prints, copies and runs are of what is saved.
        </Typography>
      )}
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, mt: 0.5 }}>
        <Button
          variant="outlined"
          disabled={recipe.retired || !classes.some((schoolClass) => schoolClass.teams.length > 0)}
          onClick={() => setStarting(true)}
        >
          Give it to a class
        </Button>
        <Button onClick={() => copy.mutate()}>Copy</Button>
        <Button component="a" href={`/api/recipes/${recipe.id}/file`} download>
          Export
        </Button>
        <Button onClick={() => retire.mutate()}>
          {recipe.retired ? "Put it back on the list" : "Retire"}
        </Button>
        <RemoveButton
          what="recipe"
          id={recipe.id}
          name={recipe.name}
          says="Runs that were made from it stay."
          exports={[{ href: `/api/recipes/${recipe.id}/file`, label: "The recipe’s file" }]}
          onDone={() => void go("/library")}
        />
      </Box>
      {failed && <Notice kind="problem">{sentenceOf(failed)}</Notice>}
      <ShareRecipe recipe={recipe} changed={changed} />
      <PrintLinks base={`/api/recipes/${recipe.id}`} loaded={recipe.kit.length > 0} />
      {starting && <NewRunDialog classes={classes} recipes={[recipe]} onClose={() => setStarting(false)} />}
    </Box>
  );
}
