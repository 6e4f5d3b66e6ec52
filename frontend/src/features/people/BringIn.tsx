/** Bring a run in from its file: a class of its own, all designs and trials, or nothing at all. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { answered, api } from "../../api/client";
import { FileButton } from "../../shared/FileButton";
import { Notice, sentenceOf } from "../../shared/states";

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
      <FileButton
        accept=".json,application/json"
        disabled={bring.isPending}
        onFile={(file) => bring.mutate(file)}
        look={{ sx: { px: 0, mt: 2 } }}
      >
        {bring.isPending ? "Bringing it in …" : "Bring in a run from its file"}
      </FileButton>
      {bring.isError && <Notice kind="problem">{sentenceOf(bring.error)}</Notice>}
    </>
  );
}
