/** Bring a run in from its file: a class of its own, all designs and trials, or nothing at all. */
import { Button } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { answered, api } from "../../api/client";
import { Notice, sentenceOf } from "../../app/states";

export function BringIn() {
  const client = useQueryClient();
  const navigate = useNavigate();
  const bring = useMutation({
    mutationFn: async (file: File) =>
      answered(api.POST("/api/runs/import", { body: { text: await file.text() } })),
    onSuccess: async (made) => {
      await client.invalidateQueries();
      await navigate(`/runs/${made.run}/compare`);
    },
  });
  return (
    <>
      <Button component="label" sx={{ px: 0, mt: 2 }} disabled={bring.isPending}>
        {bring.isPending ? "Bringing it in …" : "Bring in a run from its file"}
        <input
          type="file"
          accept=".json,application/json"
          hidden
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) bring.mutate(file);
            event.target.value = "";
          }}
        />
      </Button>
      {bring.isError && <Notice kind="problem">{sentenceOf(bring.error)}</Notice>}
    </>
  );
}
