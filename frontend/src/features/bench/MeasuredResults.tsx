/** Results of a challenge that is measured and not loaded: the readings that tell them, team by team. */
import { Box, Typography } from "@mui/material";
import { useRunState } from "../run";
import { ReadingRow } from "../checkin";
import { ink } from "../../shared/theme";
import { TeamMark } from "../../drawing/TeamMark";
import { useState } from "react";

export function MeasuredResults() {
  const { state, family } = useRunState();
  const [steps, setSteps] = useState<Record<string, string>>({ length: "1 mm" });
  const specs = family.readings.filter((spec) => family.result_readings.includes(spec.key));
  const ready = state.designs.filter((design) => design.checked_in);
  return (
    <Box sx={{ pt: 2, maxWidth: 980 }}>
      <Typography variant="h1">
        {ready.length === 0 ? "Nobody is checked in yet." : "How did it go?"}
      </Typography>
      <Typography sx={{ color: ink.soft, fontSize: "1.15rem", mb: 2 }}>
        {family.tested} Type what was found; the comparison follows.
      </Typography>
      {ready.map((design) => (
        <Box
          key={design.id}
          sx={{
            display: "grid",
            gridTemplateColumns: "180px 1fr",
            gap: 2,
            borderTop: `2px solid ${ink.ink}`,
          }}
        >
          <Box sx={{ display: "flex", gap: 1, alignItems: "center" }}>
            <TeamMark team={design.team} size={26} />
            <Typography sx={{ fontWeight: 700, fontSize: "1.15rem" }}>
              {design.team.name}
              {design.version > 1 && ` v${design.version}`}
            </Typography>
          </Box>
          <Box>
            {specs.map((spec) => (
              <ReadingRow
                key={spec.key}
                design={design}
                spec={spec}
                details
                explain={false}
                step={steps[spec.kind] ?? "1"}
                onStep={(step) => setSteps({ ...steps, [spec.kind]: step })}
              />
            ))}
          </Box>
        </Box>
      ))}
      {specs.map((spec) => (
        <Typography key={spec.key} variant="body2" sx={{ color: ink.soft, mt: 1 }}>
          <b>{spec.label}:</b> {spec.how}
        </Typography>
      ))}
    </Box>
  );
}
