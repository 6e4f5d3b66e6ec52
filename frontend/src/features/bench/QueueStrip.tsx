/** The order of teams as a strip under the deck: who held what, who is on the bench, who is next. */
import { Box, Typography } from "@mui/material";
import type { Design } from "../../api/types";
import { formatMass } from "../../app/format";
import { bareButton, ink } from "../../app/theme";
import { useUnits } from "../../app/units";
import { TeamMark } from "../../drawing/TeamMark";

interface Props {
  designs: readonly Design[];
  current: number;
  onPick: (id: number) => void;
}

export function QueueStrip({ designs, current, onPick }: Props) {
  const units = useUnits();
  const nextUp = designs.find((design) => design.state === "checked_in" && design.id !== current);
  const word = (design: Design): string => {
    const last = design.trials[design.trials.length - 1]?.result;
    switch (design.state) {
      case "on_bench":
        return "on the bench";
      case "broke":
      case "ran_out": {
        const counted = [...design.trials].reverse().find((t) => t.result.outcome === design.state)?.result;
        return counted
          ? `${design.state === "ran_out" ? "at least " : ""}${formatMass(counted.held_kg, units)}`
          : "";
      }
      case "void":
        return last ? "void, again" : "";
      case "checked_in":
        return design === nextUp ? "next" : "ready";
      default:
        return "not in yet";
    }
  };
  return (
    <Box component="nav" aria-label="Order of teams" sx={{ display: "flex", overflowX: "auto" }}>
      {designs.map((design) => {
        const chosen = design.id === current;
        const counted = design.state === "broke" || design.state === "ran_out";
        return (
          <Box
            key={design.id}
            component="button"
            type="button"
            aria-current={chosen}
            onClick={() => onPick(design.id)}
            sx={{
              ...bareButton,
              flex: "1 0 136px",
              display: "flex",
              gap: 1,
              alignItems: "center",
              borderBottom: `5px solid ${chosen ? ink.oxide : ink.line}`,
              bgcolor: chosen ? ink.sheet : "transparent",
              px: 1,
              py: 0.6,
              minWidth: 0,
            }}
          >
            <TeamMark team={design.team} size={24} />
            <Box sx={{ minWidth: 0 }}>
              <Typography
                component="span"
                sx={{
                  display: "block",
                  fontWeight: 600,
                  lineHeight: 1.15,
                  whiteSpace: "nowrap",
                  overflow: "hidden",
                  textOverflow: "ellipsis",
                }}
              >
                {design.team.name}
                {design.version > 1 && ` v${design.version}`}
              </Typography>
              <Typography
                component="span"
                sx={{
                  display: "block",
                  fontSize: "0.92rem",
                  lineHeight: 1.15,
                  whiteSpace: "nowrap",
                  overflow: "hidden",
                  textOverflow: "ellipsis",
                  color: counted ? ink.held : ink.soft,
                }}
              >
                {word(design)}
              </Typography>
            </Box>
          </Box>
        );
      })}
    </Box>
  );
}
