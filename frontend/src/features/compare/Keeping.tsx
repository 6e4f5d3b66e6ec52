/** What becomes of this run: whether it counts over the years, and the way to delete it or one of its designs. */
import { Box, Button, MenuItem, TextField, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { answered, api } from "../../api/client";
import { keys } from "../../api/queries";
import { Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { RemoveButton } from "../removal";
import { useRunState } from "../run";

export function Keeping() {
  const { state } = useRunState();
  const { run } = state;
  const client = useQueryClient();
  const go = useNavigate();
  const [chosen, setChosen] = useState("");
  const tryout = useMutation({
    mutationFn: (tryout: boolean) =>
      answered(api.PUT("/api/runs/{id}/tryout", { params: { path: { id: run.id } }, body: { tryout } })),
    onSuccess: (fresh) => {
      client.setQueryData(keys.run(run.id), fresh);
      void client.invalidateQueries();
    },
  });
  const file = { href: `/api/runs/${run.id}/run.json`, label: "The whole run (JSON)" };
  const design = state.designs.find((design) => String(design.id) === chosen);
  return (
    <Box component="section" aria-labelledby="keeping" sx={{ mt: 3 }}>
      <Typography variant="h2" id="keeping">
        This run
      </Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 2, alignItems: "center", py: 0.7 }}>
        <Typography>
          {run.tryout
            ? "Only tried out: it says nothing over the years, and teaches the model nothing."
            : "It counts over the years, and in what the class has taught the model."}
        </Typography>
        <Button
          size="small"
          variant="outlined"
          disabled={tryout.isPending}
          onClick={() => tryout.mutate(!run.tryout)}
        >
          {run.tryout ? "It counts after all" : "It was only tried out"}
        </Button>
      </Box>
      {tryout.isError && <Notice kind="problem">{sentenceOf(tryout.error)}</Notice>}
      <Box
        sx={{
          display: "flex",
          flexWrap: "wrap",
          gap: 2,
          alignItems: "center",
          borderTop: `1px solid ${ink.line}`,
          py: 1,
        }}
      >
        <RemoveButton
          what="run"
          id={run.id}
          name={run.name}
          label="Delete this run"
          says="All its designs, trials and photographs go with it."
          exports={[file]}
          onDone={() => void go("/")}
          look={{ variant: "outlined", size: "small" }}
        />
        <TextField
          select
          label="or one design of it"
          value={design ? chosen : ""}
          onChange={(event) => setChosen(event.target.value)}
          sx={{ width: 220 }}
        >
          {state.designs.map((design) => (
            <MenuItem key={design.id} value={String(design.id)}>
              {design.team.name}
              {design.version > 1 && `, version ${design.version}`}
            </MenuItem>
          ))}
        </TextField>
        {design && (
          <RemoveButton
            what="design"
            id={design.id}
            name={`${design.team.name}, version ${design.version}`}
            label="Delete this design"
            says="Its readings, trials and photographs go with it."
            exports={[file]}
            onDone={() => setChosen("")}
            look={{ variant: "outlined", size: "small" }}
          />
        )}
      </Box>
    </Box>
  );
}
