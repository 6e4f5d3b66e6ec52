/** The teams of the run at check-in, and how far each is. */
import { Box, Typography } from "@mui/material";
import type { Design } from "../../api/types";
import { bareButton, ink } from "../../shared/theme";
import { TeamMark } from "../../drawing/TeamMark";
import { waitingFor } from "./TeamMeasured";

function statusWord(design: Design): string {
  if (design.constraints.some((constraint) => constraint.status === "breached"))
    return design.checked_in ? "in, breach" : "breach";
  if (design.away && !design.tested) return design.away;
  return design.checked_in ? "in" : design.readings.length > 0 ? "begun" : "to do";
}

export function TeamList({
  designs,
  current,
  onPick,
}: {
  designs: readonly Design[];
  current: number;
  onPick: (id: number) => void;
}) {
  return (
    <Box component="nav" aria-label="Teams">
      {designs.map((design) => {
        const chosen = design.id === current;
        return (
          <Box
            key={design.id}
            component="button"
            type="button"
            aria-current={chosen}
            onClick={() => onPick(design.id)}
            sx={{
              ...bareButton,
              display: "grid",
              gridTemplateColumns: "34px 1fr auto",
              gap: 1,
              alignItems: "center",
              width: "100%",
              borderLeft: `6px solid ${chosen ? ink.oxide : "transparent"}`,
              bgcolor: chosen ? ink.sheet : "transparent",
              px: 1,
              py: 0.9,
            }}
          >
            <TeamMark team={design.team} size={26} />
            <Typography
              component="span"
              sx={{ fontWeight: 600, fontSize: "1.1rem", overflow: "hidden", textOverflow: "ellipsis" }}
            >
              {design.team.name}
              {design.version > 1 && ` v${design.version}`}
            </Typography>
            <Typography
              component="span"
              sx={{
                color: statusWord(design).includes("breach")
                  ? ink.watch
                  : design.checked_in
                    ? ink.held
                    : ink.soft,
              }}
            >
              {statusWord(design)}
              {waitingFor(design) > 0 && (
                <span title="Sent by the team; look at it"> ◐ {waitingFor(design)}</span>
              )}
            </Typography>
          </Box>
        );
      })}
    </Box>
  );
}
