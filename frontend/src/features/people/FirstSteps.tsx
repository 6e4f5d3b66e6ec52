/** An account without a run: the three steps to the first one, what is done ticked, and a lesson to try first. */
import { Box, Button, Link, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link as RouterLink, useNavigate } from "react-router";
import { answered, api } from "../../api/client";
import { useFamilies } from "../../api/queries";
import type { Recipe, SchoolClass } from "../../api/types";
import { Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { FamilyPicker } from "../plan";
import { useFirstLesson } from "../run";
import { NewClassForm } from "./NewClassForm";

function Step({
  done,
  number,
  title,
  children,
}: {
  done: boolean;
  number: number;
  title: string;
  children: ReactNode;
}) {
  return (
    <Box component="li" sx={{ display: "flex", gap: 2, py: 1.5, borderBottom: `1px solid ${ink.line}` }}>
      <Box
        aria-hidden
        sx={{
          width: 40,
          height: 40,
          flexShrink: 0,
          display: "grid",
          placeItems: "center",
          border: `2px solid ${done ? ink.held : ink.ink}`,
          bgcolor: done ? ink.held : "transparent",
          color: done ? "#ffffff" : ink.ink,
          fontWeight: 700,
          fontSize: "1.3rem",
        }}
      >
        {done ? "✓" : number}
      </Box>
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <Typography variant="h2" component="p">
          {title}
          {done && (
            <Box component="span" sx={{ position: "absolute", left: -9999 }}>
              {" "}
              (done)
            </Box>
          )}
        </Typography>
        {children}
      </Box>
    </Box>
  );
}

interface Props {
  classes: readonly SchoolClass[];
  recipes: readonly Recipe[];
  onStart: () => void;
}

export function FirstSteps({ classes, recipes, onStart }: Props) {
  const families = useFamilies();
  const client = useQueryClient();
  const go = useNavigate();
  const [, begin] = useFirstLesson();
  const lesson = useMutation({
    mutationFn: () => answered(api.POST("/api/first-lesson")),
    onSuccess: async (made) => {
      begin(made.run.id, 0);
      await client.invalidateQueries();
      await go(`/runs/${made.run.id}/brief`);
    },
  });
  const withTeams = classes.find((schoolClass) => schoolClass.teams.length > 0);
  const empty = classes.find((schoolClass) => schoolClass.teams.length === 0);
  return (
    <>
      <Typography variant="h1">Three steps to the first test.</Typography>
      <Box component="ol" sx={{ listStyle: "none", p: 0, m: 0, maxWidth: 900 }}>
        <Step number={1} title="A class, and its teams" done={withTeams !== undefined}>
          {withTeams ? (
            <Typography>
              {withTeams.name}: {withTeams.teams.map((team) => team.name).join(", ")}.
            </Typography>
          ) : empty ? (
            <Button component={RouterLink} to={`/classes/${empty.id}`} variant="contained" sx={{ mt: 1 }}>
              Teams for {empty.name}
            </Button>
          ) : (
            <NewClassForm />
          )}
        </Step>
        <Step number={2} title="A challenge" done={recipes.length > 0}>
          {recipes.length > 0 ? (
            <Typography>{recipes.map((recipe) => recipe.name).join(", ")}.</Typography>
          ) : (
            <Typography>
              Choose below what is built, or take a{" "}
              <Link component={RouterLink} to="/library">
                ready recipe
              </Link>
              .
            </Typography>
          )}
        </Step>
        <Step number={3} title="A run: the challenge given to the class" done={false}>
          <Button
            variant="contained"
            sx={{ mt: 1 }}
            disabled={!withTeams || recipes.length === 0}
            onClick={onStart}
          >
            Start a run
          </Button>
        </Step>
      </Box>
      <Box sx={{ display: "flex", gap: 2, alignItems: "center", flexWrap: "wrap", my: 2 }}>
        <Button variant="outlined" disabled={lesson.isPending} onClick={() => lesson.mutate()}>
          {lesson.isPending ? "It is being laid out …" : "Or try a lesson first, in five steps"}
        </Button>
        <Typography sx={{ color: ink.soft }}>
          A made-up class, a made-up bridge to load. It counts nowhere, and is deleted in one touch.
        </Typography>
      </Box>
      {lesson.isError && <Notice kind="problem">{sentenceOf(lesson.error)}</Notice>}
      {recipes.length === 0 && families.data && (
        <>
          <Typography variant="h2" sx={{ mt: 2, mb: 1 }}>
            What shall they build?
          </Typography>
          <FamilyPicker families={families.data} onPick={(key) => void go(`/recipes/new?kind=${key}`)} />
        </>
      )}
    </>
  );
}
