/** A length as so many cubes laid side by side, for who counts before measuring. */
import { Box } from "@mui/material";
import { plural } from "../../shared/format";
import { ink } from "../../shared/theme";

/** More than so many are not drawn. */
const MOST = 60;

export function CountedRow({ count, unit }: { count: number; unit: string }) {
  const whole = Math.floor(count + 0.05);
  const part = Math.max(0, count - whole);
  if (count <= 0 || count > MOST) return null;
  const shown = Math.round(count * 10) / 10;
  return (
    <Box sx={{ display: "flex", gap: 1, alignItems: "center", mt: 0.5 }}>
      <svg
        height={18}
        width={Math.ceil(count) * 18 + 2}
        role="img"
        aria-label={`${shown} ${plural(unit, shown)}`}
        style={{ maxWidth: "75%" }}
        viewBox={`0 0 ${Math.ceil(count) * 18 + 2} 18`}
        preserveAspectRatio="xMinYMid meet"
      >
        {Array.from({ length: whole }, (_, i) => (
          <rect
            key={i}
            x={i * 18 + 1}
            y={1}
            width={16}
            height={16}
            fill={ink.card}
            stroke={ink.ink}
            strokeWidth={1.5}
          />
        ))}
        {part > 0.05 && (
          <rect
            x={whole * 18 + 1}
            y={1}
            width={16 * part}
            height={16}
            fill="none"
            stroke={ink.ink}
            strokeDasharray="3 2"
            strokeWidth={1.5}
          />
        )}
      </svg>
      <b>
        {shown} {plural(unit, shown)}
      </b>
    </Box>
  );
}
