/** The rubric: levels from results and by hand, points, and the criteria themselves. */
import { Box, Button, Link, MenuItem, TextField, Typography } from "@mui/material";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "../../api/client";
import { keys, showAnswer } from "../../api/queries";
import type { Criterion, Rubric } from "../../api/types";
import { Empty, Failed, Loading, Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { TeamMark } from "../../drawing/TeamMark";
import { useRunState } from "../run";

type Sources = Rubric["sources"];

const wordsOf = (sources: Sources, key: Criterion["source"]): string =>
  sources.find((choice) => choice.source === key)?.words ?? key;

type Line = Omit<Criterion, "key"> & { key: string };

function Editor({
  start,
  sources,
  onSave,
  onCancel,
  busy,
  problem,
}: {
  start: readonly Line[];
  sources: Sources;
  onSave: (lines: Line[]) => void;
  onCancel: () => void;
  busy: boolean;
  problem: string;
}) {
  const [lines, setLines] = useState<Line[]>([...start]);
  const change = (i: number, part: Partial<Line>) =>
    setLines(lines.map((line, k) => (k === i ? { ...line, ...part } : line)));
  return (
    <Box
      component="form"
      aria-label="Rubric"
      onSubmit={(event) => {
        event.preventDefault();
        onSave(lines);
      }}
    >
      {lines.map((line, i) => (
        <Box
          key={i}
          sx={{
            display: "grid",
            gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "310px 250px 80px 1fr auto" },
            gap: 1,
            py: 1,
            alignItems: "start",
            borderBottom: `1px solid ${ink.line}`,
          }}
        >
          <TextField
            label="Criterion"
            value={line.name}
            onChange={(e) => change(i, { name: e.target.value })}
          />
          <TextField
            select
            label="Level comes from"
            value={line.source}
            onChange={(e) => change(i, { source: e.target.value as Line["source"] })}
          >
            {sources.map(({ source, words }) => (
              <MenuItem key={source} value={source}>
                {words}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            label="Weight"
            type="number"
            value={line.weight}
            slotProps={{ htmlInput: { min: 0, max: 100, step: 0.5 } }}
            onChange={(e) => change(i, { weight: Number(e.target.value) })}
          />
          <TextField
            label="Levels from the lowest up, one on each line"
            multiline
            value={line.levels.join("\n")}
            onChange={(e) => change(i, { levels: e.target.value.split("\n") })}
          />
          <Button onClick={() => setLines(lines.filter((_, k) => k !== i))}>Remove</Button>
        </Box>
      ))}
      {problem && <Notice kind="problem">{problem}</Notice>}
      <Box sx={{ display: "flex", gap: 2, mt: 1.5 }}>
        <Button type="submit" variant="contained" disabled={busy}>
          Keep the rubric
        </Button>
        <Button
          variant="outlined"
          onClick={() =>
            setLines([
              ...lines,
              { key: "", name: "", source: "hand", levels: ["not yet", "partly", "fully"], weight: 1 },
            ])
          }
        >
          Add a criterion
        </Button>
        <Button onClick={onCancel}>Leave it</Button>
      </Box>
    </Box>
  );
}

function Marks({
  rubric,
  onMark,
}: {
  rubric: Rubric;
  onMark: (design: number, criterion: string, level: number | null) => void;
}) {
  return (
    <Box sx={{ overflowX: "auto" }}>
      <Box
        component="table"
        sx={{
          borderCollapse: "collapse",
          mt: 1,
          width: "100%",
          "& th, & td": {
            textAlign: "left",
            pr: 1.5,
            py: 0.5,
            borderBottom: `1px solid ${ink.line}`,
            verticalAlign: "top",
          },
        }}
      >
        <thead>
          <tr>
            <th>Team</th>
            {rubric.criteria.map((criterion) => (
              <th key={criterion.key}>
                {criterion.name}
                <Typography variant="body2" sx={{ color: ink.soft }}>
                  × {criterion.weight}, {wordsOf(rubric.sources, criterion.source)}
                </Typography>
              </th>
            ))}
            <th>Of 100</th>
          </tr>
        </thead>
        <tbody>
          {rubric.teams.map((row) => (
            <tr key={row.design}>
              <td>
                <Box sx={{ display: "flex", gap: 1, alignItems: "center", fontWeight: 600 }}>
                  <TeamMark team={row.team} size={20} /> {row.team.name}
                </Box>
              </td>
              {rubric.criteria.map((criterion) => {
                const judged = row.levels[criterion.key];
                const current = judged?.level ?? null;
                return (
                  <td key={criterion.key}>
                    <TextField
                      select
                      slotProps={{
                        select: { displayEmpty: true },
                        htmlInput: { "aria-label": `${criterion.name} of ${row.team.name}` },
                      }}
                      value={judged?.by_hand ? String(current) : ""}
                      onChange={(event) =>
                        onMark(
                          row.design,
                          criterion.key,
                          event.target.value === "" ? null : Number(event.target.value),
                        )
                      }
                      sx={{
                        minWidth: 120,
                        width: "100%",
                        // The words of a level are shown whole, in as many lines as they need.
                        "& .MuiSelect-select": {
                          fontWeight: judged?.by_hand ? 700 : 400,
                          whiteSpace: "normal",
                          lineHeight: 1.2,
                        },
                      }}
                    >
                      <MenuItem value="">{current === null ? "–" : criterion.levels[current]}</MenuItem>
                      {criterion.levels.map((level, i) => (
                        <MenuItem key={level} value={String(i)}>
                          {level}
                        </MenuItem>
                      ))}
                    </TextField>
                  </td>
                );
              })}
              <td>
                <b>{row.points === null ? "–" : Math.round(row.points)}</b>
              </td>
            </tr>
          ))}
        </tbody>
      </Box>
    </Box>
  );
}

export function RubricView() {
  const { state } = useRunState();
  const id = state.run.id;
  const client = useQueryClient();
  const [editing, setEditing] = useState<readonly Line[] | null>(null);
  const rubric = useQuery({
    queryKey: keys.rubric(id),
    queryFn: () => answered(api.GET("/api/runs/{id}/rubric", { params: { path: { id } } })),
    staleTime: 0,
  });
  const took = (answer: Rubric) => showAnswer(client, keys.rubric(id), answer);
  const save = useMutation({
    mutationFn: (criteria: Line[]) =>
      answered(api.PUT("/api/runs/{id}/rubric", { params: { path: { id } }, body: { criteria } })),
    onSuccess: (answer) => {
      took(answer);
      setEditing(null);
    },
  });
  const mark = useMutation({
    mutationFn: (entry: { design: number; criterion: string; level: number | null }) =>
      answered(
        api.PUT("/api/designs/{id}/rubric", {
          params: { path: { id: entry.design } },
          body: { criterion: entry.criterion, level: entry.level },
        }),
      ),
    onSuccess: took,
  });
  if (rubric.isPending) return <Loading what="the rubric" />;
  if (!rubric.data) return <Failed error={rubric.error} retry={() => void rubric.refetch()} />;
  const { data } = rubric;
  if (editing)
    return (
      <Box sx={{ mt: 2 }}>
        <Editor
          start={editing}
          sources={data.sources}
          busy={save.isPending}
          problem={save.isError ? sentenceOf(save.error) : ""}
          onSave={(lines) => save.mutate(lines)}
          onCancel={() => setEditing(null)}
        />
      </Box>
    );
  if (data.criteria.length === 0)
    return (
      <Empty title="This run has no rubric.">
        <Typography sx={{ mb: 1 }}>
          A rubric has criteria with levels and weights. Some levels follow from results, the others are given
          by hand.
        </Typography>
        <Button variant="contained" onClick={() => setEditing(data.proposed)}>
          Begin with a proposed one
        </Button>
        {data.last.length > 0 && (
          <Button variant="outlined" sx={{ ml: 1.5 }} onClick={() => setEditing(data.last)}>
            Begin with that of {data.last_from}
          </Button>
        )}
      </Empty>
    );
  return (
    <Box sx={{ mt: 2 }}>
      <Marks rubric={data} onMark={(design, criterion, level) => mark.mutate({ design, criterion, level })} />
      {mark.isError && <Notice kind="problem">{sentenceOf(mark.error)}</Notice>}
      <Typography variant="body2" sx={{ color: ink.soft, mt: 1 }}>
        Plain: from results. Bold: given by hand, and goes before what results say; the first choice of a list
        leaves it to the results. Points are the weighted mean over what is judged.
      </Typography>
      <Box sx={{ display: "flex", gap: 3, mt: 1, alignItems: "baseline" }}>
        <Button onClick={() => setEditing(data.criteria)}>Change the rubric</Button>
        <Button disabled={save.isPending} onClick={() => save.mutate([])}>
          Take it away
        </Button>
        <Link href={`/api/runs/${id}/rubric.csv`} download>
          Rubric as CSV
        </Link>
      </Box>
    </Box>
  );
}
