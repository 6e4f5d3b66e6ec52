/** The order of teams as a strip under the deck: who held what, who is on the bench, who is next. Dragged to change. */
import { Box, Typography } from "@mui/material";
import { useState } from "react";
import type { Design } from "../../api/types";
import { bareButton, ink } from "../../shared/theme";
import { TeamMark } from "../../drawing/TeamMark";
import { moved } from "./queueOrder";

interface Props {
  designs: readonly Design[];
  current: number;
  onPick: (id: number) => void;
  onOrder: (order: number[]) => void;
}

export function QueueStrip({ designs, current, onPick, onOrder }: Props) {
  const [dragged, setDragged] = useState<number | null>(null);
  const nextUp = designs.find((design) => design.state === "checked_in" && design.id !== current);
  const word = (design: Design): string => {
    switch (design.state) {
      case "on_bench":
        return "on the bench";
      case "broke":
      case "ran_out":
      case "done":
        return design.trials.findLast((trial) => trial.counts)?.came_to ?? "";
      case "measured":
        return "told by its readings";
      case "void":
        return "void, again";
      case "checked_in":
        return design === nextUp ? "next" : "ready";
      default:
        return "not in yet";
    }
  };
  const ids = designs.map((one) => one.id);
  return (
    <Box component="nav" aria-label="Order of teams" sx={{ display: "flex", overflowX: "auto" }}>
      {designs.map((design) => {
        const chosen = design.id === current;
        const counted = design.tested && design.state !== "on_bench";
        return (
          <Box
            key={design.id}
            component="button"
            type="button"
            aria-current={chosen}
            aria-keyshortcuts="Alt+ArrowLeft Alt+ArrowRight"
            title="Drag, or Alt and an arrow key, to change the order"
            draggable
            onDragStart={() => setDragged(design.id)}
            onDragOver={(event) => event.preventDefault()}
            onDrop={() => {
              if (dragged !== null && dragged !== design.id)
                onOrder(moved(ids, dragged, ids.indexOf(design.id)));
              setDragged(null);
            }}
            onKeyDown={(event) => {
              const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
              if (!event.altKey || by === undefined) return;
              event.preventDefault();
              onOrder(moved(ids, design.id, ids.indexOf(design.id) + by));
            }}
            onClick={() => onPick(design.id)}
            sx={{
              ...bareButton,
              flex: "1 0 136px",
              display: "flex",
              gap: 1,
              alignItems: "center",
              borderBottom: `5px solid ${chosen ? ink.oxide : ink.line}`,
              bgcolor: chosen ? ink.sheet : "transparent",
              opacity: dragged === design.id ? 0.5 : 1,
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
