/** Who won today, as far as the measuring tells, and whether they would win again. */
import { Box, Typography } from "@mui/material";
import type { BoardState } from "../../api/types";
import { condensed } from "../../shared/theme";
import { MarkShape } from "../../drawing/TeamMark";
import { board } from "./boardTheme";

export function BoardRanking({ state, large = false }: { state: BoardState; large?: boolean }) {
  if (!state.ranking) return null;
  const { ranked, headline, again, explanation } = state.ranking;
  const rows = ranked.slice(0, large ? 10 : 7);
  return (
    <Box>
      <Typography
        sx={{ fontFamily: condensed, fontWeight: 700, fontSize: large ? "3.6rem" : "2rem", lineHeight: 1.1 }}
      >
        {ranked.length === 0 ? "No result yet." : headline}
      </Typography>
      {again !== "" && (
        <Typography sx={{ fontSize: large ? "1.9rem" : "1.3rem", fontWeight: 600, lineHeight: 1.2 }}>
          {again}
        </Typography>
      )}
      {large && <Typography sx={{ fontSize: "1.6rem", color: board.soft, mb: 1 }}>{explanation}</Typography>}
      <Box component="ol" sx={{ listStyle: "none", p: 0, m: 0, mt: 1 }}>
        {rows.map((row) => {
          const open = row.against_next?.open === true;
          return (
            <Box
              component="li"
              key={row.design}
              sx={{
                display: "grid",
                gridTemplateColumns: large ? "5.6rem 3.5rem 1fr auto" : "3.6rem 2.4rem 1fr",
                gap: 1.5,
                alignItems: "center",
                py: large ? 0.6 : 0.4,
                borderBottom: `2px ${open ? "dashed" : "solid"} ${board.line}`,
              }}
            >
              <Box sx={{ fontFamily: condensed, fontWeight: 700, fontSize: large ? "2.8rem" : "1.8rem" }}>
                {row.places}
              </Box>
              <svg
                style={{ width: large ? "2.8rem" : "2rem", height: large ? "2.8rem" : "2rem" }}
                viewBox="-15 -15 30 30"
                aria-hidden="true"
              >
                <rect x={-14} y={-14} width={28} height={28} fill={board.text} />
                <MarkShape team={row.team} size={22} />
              </svg>
              <Box>
                <Typography
                  component="span"
                  sx={{ fontWeight: 700, fontSize: large ? "2.4rem" : "1.6rem", lineHeight: 1.1 }}
                >
                  {row.team.name}
                </Typography>
                <Typography
                  component="span"
                  sx={{
                    fontSize: large ? "1.9rem" : "1.3rem",
                    color: board.soft,
                    display: "block",
                    lineHeight: 1.15,
                  }}
                >
                  {row.words}
                  {row.counts_as && `; ${row.counts_as}`}
                </Typography>
              </Box>
              {large && (
                <Typography sx={{ fontSize: "1.7rem", color: open ? board.watch : board.soft }}>
                  {row.against_next?.told ?? ""}
                </Typography>
              )}
            </Box>
          );
        })}
      </Box>
      {!large && rows.some((row) => row.against_next?.kind === "too_close") && (
        <Typography sx={{ fontSize: "1.15rem", color: board.watch, mt: 1 }}>
          A dashed line: it could go either way.
        </Typography>
      )}
    </Box>
  );
}
