/** The lessons as strips against the clock: each stage as long as it takes, warnings as flags. */
import { Box, Typography } from "@mui/material";
import type { Timeline } from "../api/types";
import { condensed, ink } from "../shared/theme";

const LOOK: Record<string, { bg: string; stripes?: boolean }> = {
  brief: { bg: ink.paper },
  build: { bg: ink.stone },
  store: { bg: ink.paper, stripes: true },
  "check-in": { bg: ink.sheet },
  tests: { bg: ink.card },
  compare: { bg: "#d6e7e1" },
};

export function TimelineStrip({ timeline }: { timeline: Timeline }) {
  const longest = Math.max(timeline.minutes, ...timeline.lessons.flat().map((block) => block.end_min));
  const share = (minutes: number) => `${(100 * minutes) / longest}%`;
  return (
    <Box role="img" aria-label={spoken(timeline)}>
      {timeline.lessons.map((lesson, i) => (
        <Box key={i} sx={{ mb: 1 }}>
          {timeline.lessons.length > 1 && (
            <Typography variant="body2" sx={{ fontWeight: 600 }}>
              Lesson {i + 1}
              {i === 1 && timeline.next_lesson_hours !== null && `, ${timeline.next_lesson_hours} h later`}
            </Typography>
          )}
          <Box
            sx={{
              position: "relative",
              height: 74,
              borderBottom: `3px solid ${ink.ink}`,
              borderTop: `1px solid ${ink.ink}`,
              bgcolor: ink.sheet,
            }}
          >
            {lesson.map((segment) => {
              const look = LOOK[segment.key] ?? { bg: ink.paper };
              const part = (segment.end_min - segment.start_min) / longest;
              return (
                <Box
                  key={segment.key}
                  title={`${segment.label}: ${segment.start_min.toFixed(0)} to ${segment.end_min.toFixed(0)} min. ${segment.note}`}
                  sx={{
                    position: "absolute",
                    top: 0,
                    bottom: 0,
                    left: share(segment.start_min),
                    width: share(segment.end_min - segment.start_min),
                    bgcolor: look.bg,
                    ...(look.stripes && {
                      backgroundImage: `repeating-linear-gradient(45deg, ${ink.line} 0 2px, transparent 2px 8px)`,
                    }),
                    borderLeft: `2px solid ${ink.ink}`,
                    px: part < 1 / 14 ? 0.3 : 0.6,
                    pt: 0.4,
                    overflow: "hidden",
                    lineHeight: 1.15,
                  }}
                >
                  <Box
                    sx={{
                      fontFamily: condensed,
                      fontWeight: 700,
                      fontSize: part < 1 / 14 ? "0.8rem" : part < 1 / 11 ? "0.92rem" : "1.1rem",
                      whiteSpace: "nowrap",
                    }}
                  >
                    {segment.label}
                  </Box>
                  <Box sx={{ fontSize: "0.92rem", whiteSpace: "nowrap" }}>
                    {Math.round(segment.end_min - segment.start_min)} min
                  </Box>
                  <Box sx={{ fontSize: "0.8rem" }}>{segment.note}</Box>
                </Box>
              );
            })}
            {i === 0 &&
              timeline.warnings_min.map((minute) => (
                <Box
                  key={minute}
                  title={`Warning at ${minute} min`}
                  sx={{
                    position: "absolute",
                    left: share(minute),
                    bottom: 0,
                    height: 26,
                    borderLeft: `3px solid ${ink.watch}`,
                  }}
                />
              ))}
            {longest > timeline.minutes && (
              <Box
                sx={{
                  position: "absolute",
                  left: share(timeline.minutes),
                  top: -4,
                  bottom: -8,
                  borderLeft: `4px solid ${ink.oxide}`,
                }}
              />
            )}
          </Box>
          <Box sx={{ position: "relative", height: 20, fontSize: "0.85rem", color: ink.soft }}>
            {ticksOf(longest).map((minute) => (
              <Box
                key={minute}
                component="span"
                sx={{ position: "absolute", left: share(minute), transform: "translateX(-50%)" }}
              >
                {minute === 0 ? "" : minute}
              </Box>
            ))}
          </Box>
        </Box>
      ))}
    </Box>
  );
}

function ticksOf(minutes: number): number[] {
  const step = minutes > 100 ? 20 : 10;
  return Array.from({ length: Math.floor(minutes / step) + 1 }, (_, i) => i * step);
}

function spoken(timeline: Timeline): string {
  return timeline.lessons
    .map((lesson) =>
      lesson.map((s) => `${s.label} ${Math.round(s.end_min - s.start_min)} minutes`).join(", "),
    )
    .join("; next lesson: ");
}
