/** The deck: the stages of a run as bays of a riveted plate girder. The lower flange fills as a stage gets done. */
import { Box, Typography } from "@mui/material";
import { useState } from "react";
import { NavLink, useLocation } from "react-router";
import type { Bay } from "../api/types";
import { bareButton, ink } from "../shared/theme";

function Rivets() {
  return (
    <svg
      width="8"
      height="44"
      viewBox="0 0 8 44"
      aria-hidden="true"
      style={{ position: "absolute", right: -4, top: 0, zIndex: 1 }}
    >
      <path d="M4 0v44" stroke={ink.ink} strokeWidth="2.5" />
      {[9, 18, 27, 36].map((y) => (
        <circle key={y} cx="4" cy={y} r="2.6" fill={ink.paper} stroke={ink.ink} strokeWidth="1.6" />
      ))}
    </svg>
  );
}

/** On a phone: the bay where one is, and the others on a touch. */
function NarrowDeck({ bays, base, at }: { bays: readonly Bay[]; base: string; at: Bay | undefined }) {
  const [open, setOpen] = useState(false);
  return (
    <Box sx={{ display: { xs: "block", sm: "none" }, borderTop: `5px solid ${ink.ink}`, mx: 3 }}>
      <Box
        component="button"
        type="button"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
        sx={{
          ...bareButton,
          display: "flex",
          justifyContent: "space-between",
          alignItems: "center",
          width: "100%",
          minHeight: 46,
          px: 1.75,
          bgcolor: ink.oxide,
          color: "#ffffff",
        }}
      >
        <Typography component="span" sx={{ fontWeight: 700, fontSize: "1.05rem" }}>
          {at ? `${at.label}, ${at.note}` : "Stages of the run"}
        </Typography>
        <Typography component="span">{open ? "▲ close" : "▼ all stages"}</Typography>
      </Box>
      {open &&
        bays
          .filter((bay) => bay !== at)
          .map((bay) => (
            <Box
              key={bay.key}
              component={NavLink}
              to={`${base}/${bay.key}`}
              onClick={() => setOpen(false)}
              sx={{
                display: "flex",
                justifyContent: "space-between",
                alignItems: "center",
                minHeight: 46,
                px: 1.75,
                color: ink.ink,
                textDecoration: "none",
                borderBottom: `1px solid ${ink.line}`,
              }}
            >
              <b>{bay.label}</b>
              <span>{bay.note}</span>
            </Box>
          ))}
    </Box>
  );
}

export function GirderDeck({ bays, base }: { bays: readonly Bay[]; base: string }) {
  // Drafting is part of building.
  const path = useLocation().pathname;
  const drafting = path.startsWith(`${base}/drafting`);
  const at = bays.find((bay) => path.startsWith(`${base}/${bay.key}`) || (drafting && bay.key === "build"));
  return (
    <Box component="nav" aria-label="Stages of the run" sx={{ "@media print": { display: "none" } }}>
      <NarrowDeck bays={bays} base={base} at={at} />
      <Box
        sx={{
          display: { xs: "none", sm: "flex" },
          borderTop: `5px solid ${ink.ink}`,
          mx: 3,
          overflowX: "auto",
        }}
      >
        {bays.map((bay, i) => (
          <NavLink
            key={bay.key}
            to={`${base}/${bay.key}`}
            style={({ isActive: here }) => ({
              flex: "1 0 auto",
              position: "relative",
              display: "block",
              textDecoration: "none",
              color: here || (drafting && bay.key === "build") ? "#ffffff" : ink.ink,
              background: here || (drafting && bay.key === "build") ? ink.oxide : "transparent",
            })}
          >
            {({ isActive: here }) => {
              const isActive = here || (drafting && bay.key === "build");
              return (
                <>
                  <Box
                    sx={{
                      display: "flex",
                      alignItems: "center",
                      justifyContent: "space-between",
                      height: 44,
                      px: 1.75,
                      gap: 1,
                    }}
                  >
                    <Typography
                      component="span"
                      sx={{ fontWeight: 700, fontSize: "1.05rem", whiteSpace: "nowrap" }}
                    >
                      {bay.label}
                    </Typography>
                    <Typography
                      component="span"
                      sx={{
                        display: { xs: "none", md: "inline" },
                        fontSize: "0.92rem",
                        whiteSpace: "nowrap",
                        color: isActive ? "#ffffff" : ink.soft,
                      }}
                    >
                      {bay.note}
                    </Typography>
                  </Box>
                  {i < bays.length - 1 && <Rivets />}
                  <Box sx={{ height: 7, bgcolor: ink.ink, pt: "2px" }}>
                    <Box
                      sx={{
                        height: 3,
                        ml: "2px",
                        width: `calc(${Math.round(bay.share * 100)}% - 4px)`,
                        bgcolor: "#7fc9b4",
                      }}
                    />
                  </Box>
                </>
              );
            }}
          </NavLink>
        ))}
      </Box>
    </Box>
  );
}
