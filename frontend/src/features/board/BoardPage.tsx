/** The projector board: read-only, live, readable from the back of the room. */
import { SoundButton } from "../../shared/SoundButton";
import { Box, Typography } from "@mui/material";
import { useEffect } from "react";
import { useParams } from "react-router";
import type { BoardState } from "../../api/types";
import { condensed } from "../../shared/theme";
import { GirderMark } from "../../drawing/GirderMark";
import { UnitsContext } from "../../shared/units";
import { UnseenHeading } from "../../shared/UnseenHeading";
import { BoardBench } from "./BoardBench";
import { BoardPhotos } from "./BoardPhotos";
import { BoardRanking } from "./BoardRanking";
import { BoardBrief, BoardCautions, BoardClock, BoardMotion } from "./BoardTexts";
import { board } from "./boardTheme";
import { useBoardStream, type BoardStream } from "./useStream";

function Screen({ state, at }: { state: BoardState; at: number }) {
  switch (state.screen) {
    case "ranking":
      return <BoardRanking state={state} large />;
    case "brief":
      return <BoardBrief state={state} />;
    case "clock":
      return <BoardClock state={state} at={at} />;
    case "cautions":
      return <BoardCautions state={state} />;
    case "motion":
      return <BoardMotion state={state} />;
    case "photos":
      return <BoardPhotos state={state} />;
    default:
      return <BoardBench state={state} at={at} />;
  }
}

/** What stands where the board would be. */
const WITHOUT_STATE: Record<BoardStream["status"], string> = {
  gone: "This board is closed. Ask for its new link.",
  connecting: "The board is coming …",
  full: "More screens look on than there is room for. This one tries again by itself.",
  waiting: "",
  live: "",
};

/** How the stream stands, at the edge. */
const STANDING: Record<BoardStream["status"], string> = {
  live: "● live",
  waiting: "◐ waiting for the network",
  full: "◐ too many screens; it tries again",
  gone: "",
  connecting: "",
};

export default function BoardPage() {
  const { shown, status } = useBoardStream(useParams()["token"] ?? "");
  // All sizes on the board follow the screen: what is read at a desk on a small one is read from the back on a large.
  useEffect(() => {
    const root = document.documentElement.style;
    const before = root.fontSize;
    root.fontSize = "max(13px, min(1.25vw, 2.2vh))";
    return () => {
      root.fontSize = before;
    };
  }, []);
  const words = WITHOUT_STATE[status];
  return (
    <UnitsContext value={shown?.state.units ?? "metric"}>
      <Box
        sx={{
          bgcolor: board.ground,
          color: board.text,
          height: "100vh",
          display: "flex",
          flexDirection: "column",
          px: 4,
          py: 2,
          overflow: "hidden",
        }}
      >
        <Box component="header" sx={{ display: "flex", gap: 2, alignItems: "baseline" }}>
          <UnseenHeading>{shown ? `Board: ${shown.state.name}` : "Board"}</UnseenHeading>
          <GirderMark size={24} />
          <Typography sx={{ fontSize: "1.5rem", fontWeight: 700 }}>
            {shown?.state.name ?? "Even Girder"}
          </Typography>
          <Typography sx={{ fontSize: "1.3rem", color: board.soft, flex: 1 }}>
            {shown?.state.class_name}
          </Typography>
          <SoundButton sx={{ color: board.soft }} />
          <Typography role="status" data-live={status} sx={{ color: board.soft }}>
            {STANDING[status]}
          </Typography>
        </Box>
        <Box component="main" sx={{ flex: 1, minHeight: 0, pt: 1 }}>
          {shown ? (
            <Screen state={shown.state} at={shown.at} />
          ) : (
            <Typography sx={{ fontFamily: condensed, fontSize: "4rem", pt: 6 }}>{words}</Typography>
          )}
        </Box>
      </Box>
    </UnitsContext>
  );
}
