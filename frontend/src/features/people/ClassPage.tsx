/** A class: its teams, each with its bird, colour and mark; add and rename them. */
import { Box, Button, Link, TextField, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link as RouterLink, useNavigate, useParams } from "react-router";
import { answered, api } from "../../api/client";
import { keys, useClasses, useRecipes, useRuns } from "../../api/queries";
import type { SchoolClass, Team } from "../../api/types";
import { FileButton } from "../../shared/FileButton";
import { Empty, Failed, Loading, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { TeamMark } from "../../drawing/TeamMark";
import { formatDate } from "../../shared/format";
import { NewRunDialog } from "../plan";
import { BringBack, RemoveButton } from "../removal";
import { Colleagues } from "./Colleagues";
import { Grouping } from "./Grouping";
import { leads } from "./parts";

const NOT_ON_PAPER = { "@media print": { display: "none" } } as const;

function TeamLine({ team, mayChange }: { team: Team; mayChange: boolean }) {
  const [name, setName] = useState<string | null>(null);
  const [members, setMembers] = useState("");
  const client = useQueryClient();
  const rename = useMutation({
    mutationFn: (next: string) =>
      answered(
        api.PATCH("/api/teams/{id}", { params: { path: { id: team.id } }, body: { name: next, members } }),
      ),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: keys.classes });
      setName(null);
    },
  });
  return (
    <Box
      component="li"
      sx={{ display: "flex", gap: 2, alignItems: "center", py: 1, borderBottom: `1px solid ${ink.line}` }}
    >
      <TeamMark team={team} size={34} />
      {name === null ? (
        <>
          <Typography sx={{ fontSize: "1.3rem", fontWeight: 600, flex: 1, overflowWrap: "anywhere" }}>
            {team.name}
            {team.members.length > 0 && (
              <Typography component="span" sx={{ display: "block", color: ink.soft }}>
                {team.members.join(", ")}
              </Typography>
            )}
          </Typography>
          {mayChange && (
            <>
              <Button
                aria-label={`Rename ${team.name}`}
                onClick={() => {
                  setName(team.name);
                  setMembers(team.members.join(", "));
                }}
                sx={NOT_ON_PAPER}
              >
                Rename
              </Button>
              <RemoveButton
                what="team"
                id={team.id}
                name={team.name}
                says="Its designs go with it, from all runs of this class, with their trials. A team that is only absent is marked so at check-in."
              />
            </>
          )}
        </>
      ) : (
        <Box
          component="form"
          sx={{ display: "flex", gap: 1, flex: 1 }}
          onSubmit={(event) => {
            event.preventDefault();
            rename.mutate(name);
          }}
        >
          <TextField
            label="Team name"
            value={name}
            autoFocus
            error={rename.isError}
            helperText={rename.isError ? sentenceOf(rename.error) : ""}
            onChange={(event) => setName(event.target.value)}
          />
          <TextField
            label="Who is in it"
            value={members}
            placeholder="first names, with commas"
            onChange={(event) => setMembers(event.target.value)}
            sx={{ flex: 1 }}
          />
          <Button type="submit" variant="contained">
            Save
          </Button>
          <Button onClick={() => setName(null)}>Leave it</Button>
        </Box>
      )}
    </Box>
  );
}

/** Several teams at once, from a list that was written elsewhere. */
function TeamNames({ id }: { id: number }) {
  const client = useQueryClient();
  const [text, setText] = useState("");
  const add = useMutation({
    mutationFn: () =>
      answered(api.POST("/api/classes/{id}/team-list", { params: { path: { id } }, body: { text } })),
    onSuccess: async () => {
      setText("");
      await client.invalidateQueries({ queryKey: keys.classes });
    },
  });
  return (
    <Box
      component="form"
      sx={{ display: "flex", gap: 1, mt: 3, alignItems: "start" }}
      onSubmit={(event) => {
        event.preventDefault();
        add.mutate();
      }}
    >
      <TextField
        label="Several at once"
        multiline
        minRows={3}
        value={text}
        error={add.isError}
        helperText={
          add.isError ? sentenceOf(add.error) : "Names of teams, one on each line, or a pasted table."
        }
        onChange={(event) => {
          add.reset();
          setText(event.target.value);
        }}
        sx={{ flex: 1 }}
      />
      <FileButton
        accept=".csv,.txt,text/csv"
        disabled={add.isPending}
        onFile={(file) => void file.text().then(setText)}
      >
        From a CSV file
      </FileButton>
      <Button type="submit" variant="outlined" disabled={add.isPending || text.trim() === ""}>
        Add them
      </Button>
    </Box>
  );
}

/** What comes after the teams: a challenge for them. */
function WayOn({ schoolClass }: { schoolClass: SchoolClass }) {
  const recipes = (useRecipes().data ?? []).filter((recipe) => !recipe.retired);
  const [starting, setStarting] = useState(false);
  return (
    <Box sx={{ display: "flex", gap: 1, mt: 3, ...NOT_ON_PAPER }}>
      <Button component={RouterLink} to="/recipes/new" variant="outlined">
        Plan a challenge
      </Button>
      {recipes.length > 0 && (
        <Button variant="outlined" onClick={() => setStarting(true)}>
          Start a run with this class
        </Button>
      )}
      {starting && (
        <NewRunDialog classes={[schoolClass]} recipes={recipes} onClose={() => setStarting(false)} />
      )}
    </Box>
  );
}

/** Adding a team, by its name or as the next sea bird. */
function AddTeam({ id }: { id: number }) {
  const client = useQueryClient();
  const [name, setName] = useState("");
  const add = useMutation({
    mutationFn: () =>
      answered(
        api.POST("/api/classes/{id}/teams", { params: { path: { id } }, body: { name: name.trim() } }),
      ),
    onSuccess: async () => {
      setName("");
      await client.invalidateQueries({ queryKey: keys.classes });
    },
  });
  return (
    <Box
      component="form"
      sx={{ display: "flex", gap: 1, mt: 2, alignItems: "start", ...NOT_ON_PAPER }}
      onSubmit={(event) => {
        event.preventDefault();
        add.mutate();
      }}
    >
      <TextField
        label="Team name"
        placeholder="next sea bird"
        value={name}
        error={add.isError}
        helperText={add.isError ? sentenceOf(add.error) : "Empty: the next sea bird."}
        onChange={(event) => setName(event.target.value)}
      />
      <Button type="submit" variant="contained" disabled={add.isPending}>
        Add a team
      </Button>
    </Box>
  );
}

function Delete({ schoolClass }: { schoolClass: SchoolClass }) {
  const { id, name } = schoolClass;
  const runs = useRuns().data ?? [];
  const go = useNavigate();
  return (
    <Box sx={{ mt: 4, ...NOT_ON_PAPER }}>
      <RemoveButton
        what="class"
        id={id}
        name={name}
        label="Delete this class"
        says="Its teams and its runs go with it, with all designs, trials and photographs."
        exports={runs
          .filter((run) => run.class_id === id)
          .map((run) => ({
            href: `/api/runs/${run.id}/run.json`,
            label: `${run.name}, ${formatDate(run.date)}`,
          }))}
        onDone={() => void go("/")}
        look={{ sx: { px: 0 } }}
      />
    </Box>
  );
}

export default function ClassPage() {
  const id = Number(useParams()["classId"]);
  const classes = useClasses();
  if (classes.isPending) return <Loading what="the class" />;
  if (!classes.data) return <Failed error={classes.error} retry={() => void classes.refetch()} />;
  const schoolClass = classes.data.find((listed) => listed.id === id);
  if (!schoolClass) return <Empty title="There is no such class here." />;
  const mayChange = leads(schoolClass.part);
  return (
    <Box sx={{ maxWidth: 1240, pt: 2 }}>
      <Link component={RouterLink} to="/" color="inherit">
        All runs and classes
      </Link>
      <Typography variant="h1" sx={{ my: 1 }}>
        {schoolClass.name}
      </Typography>
      {schoolClass.teams.length === 0 && (
        <Empty title="No teams yet.">
          <Typography>Add them one by one. Leave the name empty, and the next sea bird is taken.</Typography>
        </Empty>
      )}
      <Box sx={{ display: "grid", gridTemplateColumns: { lg: "minmax(0, 1fr) minmax(0, 1fr)" }, gap: 6 }}>
        <Box>
          <Box component="ul" sx={{ listStyle: "none", p: 0, m: 0 }}>
            {schoolClass.teams.map((team) => (
              <TeamLine key={team.id} team={team} mayChange={mayChange} />
            ))}
          </Box>
          {mayChange && <AddTeam id={id} />}
          {mayChange && schoolClass.teams.length > 0 && <WayOn schoolClass={schoolClass} />}
          {schoolClass.part === "owner" && <Delete schoolClass={schoolClass} />}
          <BringBack />
        </Box>
        <Box sx={NOT_ON_PAPER}>
          {mayChange && <Grouping schoolClass={schoolClass} />}
          {mayChange && <TeamNames id={id} />}
          <Colleagues schoolClass={schoolClass} />
        </Box>
      </Box>
    </Box>
  );
}
