/** Start a run: which recipe, which class, which day. */
import {
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  MenuItem,
  TextField,
} from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { answered, api } from "../../api/client";
import { keys, today } from "../../api/queries";
import type { Recipe, SchoolClass } from "../../api/types";
import { Notice, sentenceOf } from "../../shared/states";

interface Props {
  classes: readonly SchoolClass[];
  recipes: readonly Recipe[];
  onClose: () => void;
}

export function NewRunDialog({ classes, recipes, onClose }: Props) {
  const [recipe, setRecipe] = useState(recipes[0]?.id ?? 0);
  const [schoolClass, setSchoolClass] = useState(
    classes.find((schoolClass) => schoolClass.teams.length > 0)?.id ?? 0,
  );
  const [date, setDate] = useState(today);
  const client = useQueryClient();
  const go = useNavigate();
  const open = useMutation({
    mutationFn: () => answered(api.POST("/api/runs", { body: { recipe, school_class: schoolClass, date } })),
    onSuccess: async (state) => {
      client.setQueryData(keys.run(state.run.id), state);
      await client.invalidateQueries({ queryKey: keys.runs });
      await go(`/runs/${state.run.id}/brief`);
    },
  });
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          open.mutate();
        }}
      >
        <DialogTitle>Start a run</DialogTitle>
        <DialogContent sx={{ display: "grid", gap: 2, pt: "8px !important" }}>
          <TextField select label="Recipe" value={recipe} onChange={(e) => setRecipe(Number(e.target.value))}>
            {recipes.map((recipe) => (
              <MenuItem key={recipe.id} value={recipe.id}>
                {recipe.name}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            select
            label="Class"
            value={schoolClass}
            onChange={(e) => setSchoolClass(Number(e.target.value))}
          >
            {classes.map((schoolClass) => (
              <MenuItem key={schoolClass.id} value={schoolClass.id} disabled={schoolClass.teams.length === 0}>
                {schoolClass.name}
                {schoolClass.teams.length === 0 ? " (no teams yet)" : `, ${schoolClass.teams.length} teams`}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            label="Day"
            type="date"
            required
            value={date}
            onChange={(e) => setDate(e.target.value)}
          />
          {open.isError && <Notice kind="problem">{sentenceOf(open.error)}</Notice>}
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Not now</Button>
          <Button type="submit" variant="contained" disabled={open.isPending}>
            Start
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
