/** How teams' tablets come in, for all to see; nothing while their door is shut. */
import { Box, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";
import { answered, api } from "../../api/client";
import { QrCode } from "../../drawing/QrCode";
import { condensed } from "../../shared/theme";
import { board } from "./boardTheme";

export function BoardJoin({ code, sizePx }: { code: string; sizePx: number }) {
  const token = useParams()["token"] ?? "";
  const way = useQuery({
    queryKey: ["board-way-in", token, code] as const,
    queryFn: () => answered(api.GET("/api/boards/{token}/way-in", { params: { path: { token } } })),
    enabled: code !== "",
    staleTime: Infinity,
  }).data;
  if (code === "" || !way?.code) return null;
  return (
    <Box sx={{ display: "flex", gap: 3, alignItems: "center" }}>
      <QrCode rows={way.picture} label="Code of the address to join at" sizePx={sizePx} />
      <Box>
        <Typography sx={{ fontSize: "1.6rem", color: board.soft }}>
          With your team’s tablet, come in with
        </Typography>
        <Typography sx={{ fontFamily: condensed, fontWeight: 700, fontSize: "4rem", lineHeight: 1 }}>
          {way.code}
        </Typography>
        <Typography sx={{ fontSize: "1.3rem", color: board.soft, wordBreak: "break-all" }}>
          {way.address}
        </Typography>
      </Box>
    </Box>
  );
}
