/** Recipes that colleagues of the school and its district share, each with what it came to, to take over. */
import { Box, Button, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { answered, api, done } from "../../api/client";
import { keys, useSession, useShared } from "../../api/queries";
import type { Family, SharedRecipe } from "../../api/types";
import { SetupDrawing } from "../../drawing/SetupDrawing";
import { plural } from "../../shared/format";
import { Failed, Loading, Notice, sentenceOf } from "../../shared/states";
import { SureButton } from "../../shared/SureButton";
import { ink } from "../../shared/theme";
import { AGES } from "./planState";

const from = (shared: SharedRecipe) =>
  shared.mine ? "you share it" : shared.by ? `from ${shared.by}` : `from ${shared.school}`;

function Row({ shared, family }: { shared: SharedRecipe; family: Family | undefined }) {
  const client = useQueryClient();
  const go = useNavigate();
  const path = { params: { path: { id: shared.id } } };
  const take = useMutation({
    mutationFn: () => answered(api.POST("/api/shared-recipes/{id}", path)),
    onSuccess: async (made) => {
      await client.invalidateQueries({ queryKey: keys.recipes });
      await go(`/recipes/${made.id}`);
    },
  });
  const takeBack = useMutation({
    mutationFn: () => done(api.DELETE("/api/shared-recipes/{id}", path)),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.shared }),
  });
  const told = shared.came_to;
  const failed = take.error ?? takeBack.error;
  return (
    <Box
      component="li"
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "1fr", sm: "92px minmax(0, 1fr) minmax(0, 1fr) 130px" },
        gap: 2,
        alignItems: "center",
        py: 1,
        borderBottom: `1px solid ${ink.line}`,
      }}
    >
      <Box sx={{ height: 56, display: { xs: "none", sm: "block" } }}>
        {family && <SetupDrawing drawing={family.sketch} width={92} height={56} plain />}
      </Box>
      <Box>
        <Typography sx={{ fontWeight: 700, fontSize: "1.1rem", lineHeight: 1.2 }}>{shared.name}</Typography>
        <Typography variant="body2" sx={{ color: ink.soft }}>
          {family?.name}, ages {AGES[shared.age_band]}, {shared.minutes} min; {from(shared)}
        </Typography>
        <Typography variant="body2">{shared.question}</Typography>
      </Box>
      <Typography variant="body2">
        {told ? (
          <>
            <b>
              {told.designs} designs in {told.runs} {plural("run", told.runs)}
            </b>
            : {told.says}
          </>
        ) : (
          "Too few designs to tell what it came to."
        )}
      </Typography>
      <Box>
        {!shared.mine && (
          <Button
            size="small"
            variant="outlined"
            aria-label={`Take over ${shared.name}`}
            disabled={take.isPending}
            onClick={() => take.mutate()}
          >
            Take it over
          </Button>
        )}
        {shared.may_take_back && (
          <SureButton says="Take it out" sure="Yes, out of the library" onSure={() => takeBack.mutate()} />
        )}
      </Box>
      {failed && <Notice kind="problem">{sentenceOf(failed)}</Notice>}
    </Box>
  );
}

export function SharedRecipes({ families }: { families: readonly Family[] }) {
  const inSchool = useSession().data?.teacher?.school;
  const shared = useShared();
  if (!inSchool) return null;
  return (
    <Box component="section" aria-labelledby="shared" sx={{ mt: 4 }}>
      <Typography variant="h2" id="shared">
        Shared by colleagues
      </Typography>
      <Typography sx={{ color: ink.soft }}>
        What colleagues tried, and what it came to. Taken over, its loads are what your first tests are
        planned by.
      </Typography>
      {shared.isPending && <Loading what="what is shared" />}
      {shared.isError && !shared.data && <Failed error={shared.error} retry={() => void shared.refetch()} />}
      {shared.data?.length === 0 && (
        <Typography sx={{ mt: 1 }}>Nothing yet. Open a recipe of yours and share it.</Typography>
      )}
      <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0 }}>
        {shared.data?.map((one) => (
          <Row key={one.id} shared={one} family={families.find((family) => family.key === one.family)} />
        ))}
      </Box>
    </Box>
  );
}
