/**
 * The order of teams as a strip under the deck: who held what, who is on the bench, who is next. Dragged to change, with
 * the mouse at once, with a finger after holding it a moment, so that the strip can still be pushed along.
 */
import {
  closestCenter,
  DndContext,
  MouseSensor,
  TouchSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from "@dnd-kit/core";
import { horizontalListSortingStrategy, SortableContext, useSortable } from "@dnd-kit/sortable";
import { Box, Typography } from "@mui/material";
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

/** Where a design stands, in a word or two. */
function word(design: Design, isNext: boolean): string {
  switch (design.state) {
    case "on_bench":
      return design.trials.some((trial) => trial.by_team && trial.result.outcome === "running")
        ? "at its station"
        : "on the bench";
    case "broke":
    case "ran_out":
    case "done": {
      const latest = design.trials.findLast((trial) => trial.counts);
      return latest ? `${latest.came_to}${latest.unconfirmed ? ", to confirm" : ""}` : "";
    }
    case "measured":
      return "told by its readings";
    case "void":
      return "void, again";
    case "absent":
      return "absent";
    case "withdrawn":
      return "withdrawn";
    case "checked_in":
      return isNext ? "next" : "ready";
    default:
      return "not in yet";
  }
}

const ONE_LINE = {
  display: "block",
  lineHeight: 1.15,
  whiteSpace: "nowrap",
  overflow: "hidden",
  textOverflow: "ellipsis",
} as const;

interface PlaceProps {
  design: Design;
  chosen: boolean;
  isNext: boolean;
  onPick: () => void;
  onMove: (by: number) => void;
}

function QueuePlace({ design, chosen, isNext, onPick, onMove }: PlaceProps) {
  const { setNodeRef, listeners, transform, isDragging } = useSortable({ id: design.id });
  return (
    <Box
      ref={setNodeRef}
      component="button"
      type="button"
      aria-current={chosen}
      aria-keyshortcuts="Alt+ArrowLeft Alt+ArrowRight"
      title="Drag, or Alt and an arrow key, to change the order"
      {...listeners}
      onKeyDown={(event) => {
        const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
        if (!event.altKey || by === undefined) return;
        event.preventDefault();
        onMove(by);
      }}
      onClick={onPick}
      style={transform ? { transform: `translateX(${transform.x}px)` } : {}}
      sx={{
        ...bareButton,
        flex: "1 0 136px",
        display: "flex",
        gap: 1,
        alignItems: "center",
        borderBottom: `5px solid ${chosen ? ink.oxide : ink.line}`,
        bgcolor: chosen ? ink.sheet : "transparent",
        opacity: isDragging ? 0.5 : 1,
        px: 1,
        py: 0.6,
        minWidth: 0,
        userSelect: "none",
      }}
    >
      <TeamMark team={design.team} size={24} />
      <Box sx={{ minWidth: 0 }}>
        <Typography component="span" sx={{ ...ONE_LINE, fontWeight: 600 }}>
          {design.team.name}
          {design.version > 1 && ` v${design.version}`}
        </Typography>
        <Typography
          component="span"
          sx={{
            ...ONE_LINE,
            fontSize: "0.92rem",
            color: design.tested && design.state !== "on_bench" ? ink.held : ink.soft,
          }}
        >
          {word(design, isNext)}
        </Typography>
      </Box>
    </Box>
  );
}

export function QueueStrip({ designs, current, onPick, onOrder }: Props) {
  const sensors = useSensors(
    useSensor(MouseSensor, { activationConstraint: { distance: 8 } }),
    useSensor(TouchSensor, { activationConstraint: { delay: 250, tolerance: 8 } }),
  );
  const next = designs.find((design) => design.state === "checked_in" && design.id !== current);
  const ids = designs.map((design) => design.id);
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (over && over.id !== active.id) onOrder(moved(ids, Number(active.id), ids.indexOf(Number(over.id))));
  };
  return (
    <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
      <SortableContext items={ids} strategy={horizontalListSortingStrategy}>
        <Box component="nav" aria-label="Order of teams" sx={{ display: "flex", overflowX: "auto" }}>
          {designs.map((design) => (
            <QueuePlace
              key={design.id}
              design={design}
              chosen={design.id === current}
              isNext={design === next}
              onPick={() => onPick(design.id)}
              onMove={(by) => onOrder(moved(ids, design.id, ids.indexOf(design.id) + by))}
            />
          ))}
        </Box>
      </SortableContext>
    </DndContext>
  );
}
