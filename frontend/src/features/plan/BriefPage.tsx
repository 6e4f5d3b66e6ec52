/** The brief: the one question, the bench to scale, the rules, what is varied, and what can hurt. For the projector. */
import { Box, Typography } from "@mui/material";
import { useRunPlan } from "../../api/queries";
import { Failed, Loading } from "../../shared/states";
import { ink } from "../../shared/theme";
import { CautionList } from "../../drawing/CautionList";
import { TeamMark } from "../../drawing/TeamMark";
import { TimelineStrip } from "../../drawing/TimelineStrip";
import { useRunState } from "../run";
import { LessonCode } from "../team";
import { BriefDrawing } from "./BriefDrawing";
import { PrintLinks } from "./PrintLinks";

export default function BriefPage() {
  const { state, family } = useRunState();
  const { run, designs } = state;
  const plan = useRunPlan(run.id);
  if (plan.isPending) return <Loading what="the brief" />;
  if (!plan.data) return <Failed error={plan.error} retry={() => void plan.refetch()} />;
  const { data } = plan;
  const young = run.age_band === "5-7" || run.age_band === "8-10";
  return (
    <Box sx={{ pt: 3 }}>
      <Typography variant="h1" sx={{ fontSize: "3rem", maxWidth: 1120 }}>
        {run.question || family.question}
      </Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: { md: "1fr 500px" }, gap: 5, mt: 2 }}>
        <BriefDrawing run={run.id} drawing={state.drawing} />
        <Box
          component="dl"
          sx={{ m: 0, display: "grid", gridTemplateColumns: "96px 1fr", rowGap: 1, alignContent: "start" }}
        >
          {data.brief.map(({ term, text }) => (
            <Box key={term} sx={{ display: "contents" }}>
              <Typography component="dt" sx={{ color: ink.soft, fontSize: "1.25rem" }}>
                {term}
              </Typography>
              <Typography
                component="dd"
                sx={{ m: 0, fontWeight: 600, fontSize: "1.25rem", lineHeight: 1.25 }}
              >
                {text}
              </Typography>
            </Box>
          ))}
        </Box>
      </Box>
      {run.factor && (
        <Box sx={{ display: "flex", flexWrap: "wrap", columnGap: 3, rowGap: 1, alignItems: "center", mt: 2 }}>
          <Typography sx={{ fontSize: "1.25rem" }}>
            A fair test. What differs from team to team: <b>{run.factor.name}</b>. The rest stays the same.
          </Typography>
          {run.factor.levels.map((level) => (
            <Box key={level} sx={{ display: "flex", gap: 0.75, alignItems: "center" }}>
              <Typography sx={{ fontSize: "1.25rem", fontWeight: 700 }}>{level}</Typography>
              {designs
                .filter((design) => design.version === 1 && design.level === level)
                .map((design) => (
                  <TeamMark key={design.id} team={design.team} size={24} />
                ))}
            </Box>
          ))}
        </Box>
      )}
      <LessonCode run={run.id} />
      <CautionList cautions={data.cautions} stage="brief" columns={{ sm: "1fr 1fr", md: "repeat(3, 1fr)" }} />
      <Box sx={{ mt: 4, "@media print": { display: "none" } }}>
        <Typography variant="h2" sx={{ borderTop: `2px solid ${ink.ink}`, pt: 1 }}>
          For the teacher
        </Typography>
        {data.timeline && <TimelineStrip timeline={data.timeline} />}
        {data.notes.map((note) => (
          <Typography key={note}>
            <b style={{ color: ink.watch }}>Note.</b> {note}
          </Typography>
        ))}
        <Box sx={{ display: "grid", gridTemplateColumns: { md: "1fr 1fr 1fr" }, gap: 4, mt: 2 }}>
          <Box>
            <Typography variant="h3">What to explain</Typography>
            <Typography sx={{ mb: 1 }}>{young ? data.saying.young : data.saying.older}</Typography>
            {family.vocabulary.map(({ word, meaning }) => (
              <Typography key={word} variant="body2">
                <b>{word}:</b> {meaning}
              </Typography>
            ))}
          </Box>
          <Box>
            <Typography variant="h3">Ideas to try, if asked</Typography>
            {data.saying.ideas.map((idea) => (
              <Typography key={idea}>{idea}</Typography>
            ))}
            <Typography variant="h3" sx={{ mt: 2 }}>
              Kept the same
            </Typography>
            <Typography>{run.controls.join("; ") || "nothing is named"}</Typography>
          </Box>
          <Box>
            <Typography variant="h3">Performance expectations</Typography>
            {data.standards.map(({ code, text }) => (
              <Typography key={code} variant="body2">
                <b>{code}</b> {text}
              </Typography>
            ))}
            <Typography variant="body2" sx={{ color: ink.soft }}>
              From memory and shortened: check the wording before you quote it.
            </Typography>
            <PrintLinks base={`/api/runs/${run.id}`} loaded={run.kit.length > 0} />
          </Box>
        </Box>
      </Box>
    </Box>
  );
}
