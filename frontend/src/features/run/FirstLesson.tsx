/** The strip of the lesson to try first: which of its five steps it is, the way to the next, and out of it. */
import { Box, Button, Typography } from "@mui/material";
import { useNavigate } from "react-router";
import { ink } from "../../shared/theme";
import { LESSON_STEPS, useFirstLesson } from "./firstLesson";

export function FirstLesson({ run }: { run: number }) {
  const [at, go] = useFirstLesson();
  const navigate = useNavigate();
  const step = at?.run === run ? LESSON_STEPS[at.step] : undefined;
  if (!at || !step) return null;
  const to = (next: number) => {
    const page = LESSON_STEPS[next]?.page;
    if (page === undefined) return go(null, 0);
    go(run, next);
    void navigate(`/runs/${run}/${page}`);
  };
  return (
    <Box
      component="aside"
      aria-label="The lesson to try first"
      sx={{
        display: "flex",
        flexWrap: "wrap",
        alignItems: "center",
        columnGap: 2,
        rowGap: 0.5,
        mx: -3,
        px: 3,
        py: 1,
        bgcolor: ink.watchPale,
        "@media print": { display: "none" },
      }}
    >
      <Typography sx={{ fontWeight: 700 }}>
        {at.step + 1} of {LESSON_STEPS.length}: {step.title}
      </Typography>
      <Typography sx={{ flex: "1 1 320px" }}>{step.says}</Typography>
      <Button size="small" variant="contained" onClick={() => to(at.step + 1)}>
        {at.step + 1 < LESSON_STEPS.length
          ? `Next: ${LESSON_STEPS[at.step + 1]?.title ?? ""}`
          : "That was it"}
      </Button>
      <Button size="small" onClick={() => go(null, 0)}>
        Leave the lesson
      </Button>
    </Box>
  );
}
