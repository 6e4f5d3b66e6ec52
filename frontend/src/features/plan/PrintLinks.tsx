/** Links to the printed documents of a recipe or run, for either paper and reading level. */
import { Box, Link, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useState } from "react";
import { PaperLink } from "../../shared/LongWork";
import { ink } from "../../shared/theme";
import { useUnits } from "../../shared/units";

const DOCUMENTS = [
  ["plan", "Lesson plan"],
  ["brief", "Brief"],
  ["kit-list", "Kit list"],
  ["team-sheets", "Team sheets"],
  ["footprint", "Support footprint"],
  ["load-labels", "Load labels"],
  ["scale-cards", "Scale cards"],
  ["results", "Results table"],
] as const;

export function PrintLinks({ base, loaded }: { base: string; loaded: boolean }) {
  const [paper, setPaper] = useState<"a4" | "letter">(useUnits() === "us" ? "letter" : "a4");
  const [level, setLevel] = useState<"" | "young" | "older">("");
  const query = `?paper=${paper}${level ? `&level=${level}` : ""}`;
  const toggle = { "& .MuiToggleButton-root": { px: 1.1, py: 0.2, textTransform: "none" } } as const;
  return (
    <Box sx={{ mt: 1.5 }}>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, alignItems: "center" }}>
        <Typography variant="h3">Print</Typography>
        <ToggleButtonGroup
          exclusive
          size="small"
          aria-label="Paper"
          value={paper}
          sx={toggle}
          onChange={(_, value: "a4" | "letter" | null) => value && setPaper(value)}
        >
          <ToggleButton value="a4">A4</ToggleButton>
          <ToggleButton value="letter">Letter</ToggleButton>
        </ToggleButtonGroup>
        <ToggleButtonGroup
          exclusive
          size="small"
          aria-label="Team sheets for"
          value={level}
          sx={toggle}
          onChange={(_, value: "" | "young" | "older" | null) => value !== null && setLevel(value)}
        >
          <ToggleButton value="">by age</ToggleButton>
          <ToggleButton value="young">pictures</ToggleButton>
          <ToggleButton value="older">tables</ToggleButton>
        </ToggleButtonGroup>
      </Box>
      <Box sx={{ display: "flex", flexWrap: "wrap", columnGap: 2, alignItems: "center", mt: 0.75 }}>
        <PaperLink key={query} href={`${base}/print/pack${query}`} label="The whole pack" bold />
      </Box>
      <Box sx={{ display: "flex", flexWrap: "wrap", columnGap: 2, rowGap: 0.5, mt: 0.75 }}>
        {DOCUMENTS.filter(([key]) => loaded || key !== "load-labels").map(([key, label]) => (
          <Link key={key} href={`${base}/print/${key}${query}`} target="_blank" rel="noopener">
            {label}
          </Link>
        ))}
        <Link href={`${base}/kit.csv`} download>
          Kit list as CSV
        </Link>
      </Box>
      <Typography variant="body2" sx={{ color: ink.soft, mt: 0.5 }}>
        PDF; the footprint prints true to scale at 100 %.
      </Typography>
    </Box>
  );
}
