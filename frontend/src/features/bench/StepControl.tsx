/** How big the steps are: as planned, or the same for everybody, as the teacher chose. */
import { Button } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "../../api/client";
import { keys, showAnswer } from "../../api/queries";
import { Notice, sentenceOf } from "../../shared/states";
import { useRunState } from "../run";
import { ChoicePanel } from "./ChoicePanel";
import { itemWords } from "./kitWords";

const SINGLES = [1, 2, 5, 10];
const LETTERS = "123456789abcdefghijklmnoqrstuvwxyz";

export function StepControl({ trialId }: { trialId?: string }) {
  const { run } = useRunState().state;
  const client = useQueryClient();
  const [asking, setAsking] = useState(false);
  const pin = useMutation({
    mutationFn: (body: { item: string; count: number }) =>
      answered(api.PUT("/api/runs/{id}/step", { params: { path: { id: run.id } }, body })),
    onSuccess: async (fresh) => {
      showAnswer(client, keys.run(run.id), fresh);
      if (trialId) await client.invalidateQueries({ queryKey: keys.trial(trialId) });
    },
  });
  // Numbered objects are what they are, and go on one by one.
  const items = run.kit.filter((item) => item.shape !== "platform" && item.order === 0);
  if (items.length === 0) return null;
  const steps = items.flatMap((item) =>
    (item.roll_of > 1 ? [1] : SINGLES.filter((count) => count <= item.count)).map((count) => ({
      key: `${item.key} ${count}`,
      item: item.key,
      count,
      label: itemWords(run.kit, item.key, count),
      explanation: "",
    })),
  );
  const pinned = run.pinned_step;
  return (
    <>
      <Button size="small" sx={{ whiteSpace: "nowrap" }} onClick={() => setAsking(true)}>
        {pinned ? `Steps of ${itemWords(run.kit, pinned.item, pinned.count)}` : "Steps: as planned"}
      </Button>
      {pin.isError && <Notice kind="problem">{sentenceOf(pin.error)}</Notice>}
      {asking && (
        <ChoicePanel
          title="How big shall the steps be?"
          note="For every team of this run, so that all are tested alike."
          choices={[
            {
              key: "",
              letter: "p",
              label: "As planned",
              explanation: "Quick while far below, fine where it is expected to go.",
            },
            ...steps.map((step, i) => ({ ...step, letter: LETTERS.charAt(i) })),
          ]}
          onClose={() => setAsking(false)}
          onChoose={(key) => {
            const chosen = steps.find((step) => step.key === key);
            pin.mutate({ item: chosen?.item ?? "", count: chosen?.count ?? 0 });
            setAsking(false);
          }}
        />
      )}
    </>
  );
}
