/** Bring a run in from its file: a class of its own, all designs and trials, or nothing at all. */
import { useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { api } from "../../api/client";
import { followed } from "../../api/longWork";
import type { BroughtIn } from "../../api/types";
import { FileButton } from "../../shared/FileButton";
import { Progress, useLongWork } from "../../shared/LongWork";
import { Notice, sentenceOf } from "../../shared/states";

export function BringIn() {
  const client = useQueryClient();
  const navigate = useNavigate();
  const bring = useLongWork(
    async (file: File, onStep, signal) => {
      const body = { text: await file.text() };
      const asked = { params: { query: { follow: "1" as const } }, body, signal, parseAs: "stream" as const };
      return followed<BroughtIn>(api.POST("/api/runs/import", asked), onStep);
    },
    async (made) => {
      await client.invalidateQueries();
      await navigate(`/runs/${made.run}/compare`);
    },
  );
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
      <Progress work={bring} what="Bringing in a run" />
      {bring.isError && <Notice kind="problem">{sentenceOf(bring.error)}</Notice>}
    </>
  );
}
