/** Questions that are answered by looking. */
import { Box, Button, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { answered, api } from "../../api/client";
import type { Design } from "../../api/types";
import { Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { useRunState } from "../run";
import { StandTimer } from "./StandTimer";
import { useCheckInWrite } from "./useCheckInWrite";

export function Questions({ design }: { design: Design }) {
  const { state, family } = useRunState();
  const write = useCheckInWrite<Record<string, boolean>>(design, {
    send: (answers, signal) =>
      answered(
        api.PUT("/api/designs/{id}/answers", {
          params: { path: { id: design.id } },
          body: { answers },
          signal,
        }),
      ),
    keep: (answers) => ({
      answers: Object.entries(answers).map(([key, value]) => ({
        key,
        value,
        before: design.answers[key] ?? null,
      })),
    }),
    shown: (own, answers) => ({ ...own, answers: { ...own.answers, ...answers } }),
  });
  const open = family.questions.filter((question) => design.answers[question.key] === undefined);
  return (
    <Box sx={{ mt: 1 }}>
      {family.questions.length > 1 && (
        // It keeps its room when it has no more use, so that no answer jumps away below a finger.
        <Button
          variant="outlined"
          size="small"
          sx={{ visibility: open.length > 1 ? "visible" : "hidden" }}
          onClick={() =>
            write.mutate(Object.fromEntries(open.map((question) => [question.key, question.good])))
          }
        >
          All {open.length} as it should be
        </Button>
      )}
      {family.questions.map((question) => {
        const answer = design.answers[question.key];
        const bad = answer !== undefined && answer !== question.good;
        return (
          <Box key={question.key} sx={{ display: "flex", alignItems: "center", gap: 2, py: 0.5 }}>
            <ToggleButtonGroup
              exclusive
              size="small"
              aria-label={question.text}
              value={answer === undefined ? null : answer ? "yes" : "no"}
              onChange={(_, value: "yes" | "no" | null) => {
                if (value) write.mutate({ [question.key]: value === "yes" });
              }}
              sx={{ "& .MuiToggleButton-root": { px: 2, py: 0.3, textTransform: "none", fontSize: "1rem" } }}
            >
              <ToggleButton value="yes">Yes</ToggleButton>
              <ToggleButton value="no">No</ToggleButton>
            </ToggleButtonGroup>
            <Typography sx={{ fontSize: "1.1rem" }}>
              {question.text} {bad && <b style={{ color: ink.oxide }}>{question.breach}</b>}
            </Typography>
            {question.blocks && answer === undefined && (
              <StandTimer
                seconds={state.stand_s}
                onStood={() => write.mutate({ [question.key]: question.good })}
              />
            )}
          </Box>
        );
      })}
      {write.isError && <Notice kind="problem">{sentenceOf(write.error)}</Notice>}
    </Box>
  );
}
