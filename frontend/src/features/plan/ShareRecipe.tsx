/** Sharing a recipe in the school, or with its district, and taking it back. */
import { Box, Button, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { answered, api, done } from "../../api/client";
import { keys, useSession, useShared } from "../../api/queries";
import type { Recipe } from "../../api/types";
import { Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";

export function ShareRecipe({ recipe, changed }: { recipe: Recipe; changed: boolean }) {
  const school = useSession().data?.teacher?.school;
  const shared = useShared().data?.find((one) => one.recipe === recipe.id && one.mine);
  const client = useQueryClient();
  const fresh = () => client.invalidateQueries({ queryKey: keys.shared });
  const share = useMutation({
    mutationFn: (to_district: boolean) =>
      answered(api.POST("/api/shared-recipes", { body: { recipe: recipe.id, to_district } })),
    onSuccess: fresh,
  });
  const takeBack = useMutation({
    mutationFn: (id: number) => done(api.DELETE("/api/shared-recipes/{id}", { params: { path: { id } } })),
    onSuccess: fresh,
  });
  if (!school) return null;
  const failed = share.error ?? takeBack.error;
  const busy = share.isPending || takeBack.isPending || changed;
  const where = shared?.to_district ? `${school.name} and its district have it` : `${school.name} has it`;
  return (
    <Box component="section" aria-label="Sharing" sx={{ mt: 1, pt: 1, borderTop: `1px solid ${ink.line}` }}>
      <Typography variant="body2" sx={{ color: ink.soft }}>
        {shared
          ? `Shared: ${where}, ${shared.came_to ? `with ${shared.came_to.designs} designs’ results` : "without results: there are fewer than five designs"}.`
          : "Share it with what it came to: best, median and middle half of all designs, and nobody’s name."}
      </Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, mt: 0.5 }}>
        <Button disabled={busy} onClick={() => share.mutate(false)}>
          {!shared
            ? "Share in the school"
            : shared.to_district
              ? "In the school alone"
              : "Bring it up to date"}
        </Button>
        {school.district && (
          <Button disabled={busy} onClick={() => share.mutate(true)}>
            {shared?.to_district ? "Bring it up to date" : "Share with the district"}
          </Button>
        )}
        {shared && (
          <Button disabled={takeBack.isPending} onClick={() => takeBack.mutate(shared.id)}>
            Share it no more
          </Button>
        )}
      </Box>
      {failed && <Notice kind="problem">{sentenceOf(failed)}</Notice>}
    </Box>
  );
}
