/** From version to version: a line for each team, on a scale of shares, so that small and large designs compare. */
import { Typography } from "@mui/material";
import type { Design } from "../../api/types";
import { formatPercent } from "../../shared/format";
import { ink } from "../../shared/theme";
import { MarkShape } from "../../drawing/TeamMark";
import { ChartFrame } from "../compare";

const W = 380;
const ROW = 330;
const LEFT = 46;
const RIGHT = 92;

interface Point {
  version: number;
  /** What it scored over what version 1 did. */
  share: number;
}

/** The chain of shares of a team; it breaks off where a gain is not known. */
function chain(versions: readonly Design[]): Point[] {
  const points: Point[] = [{ version: versions[0]?.version ?? 1, share: 1 }];
  for (const design of versions.slice(1)) {
    const before = points.at(-1);
    const gain = design.gain?.value;
    if (!before || gain === null || gain === undefined || gain <= -1) break;
    points.push({ version: design.version, share: before.share * (1 + gain) });
  }
  return points;
}

export function Slopes({ designs }: { designs: readonly Design[] }) {
  const byTeam = new Map<number, Design[]>();
  for (const design of designs) byTeam.set(design.team.id, [...(byTeam.get(design.team.id) ?? []), design]);
  const lines = [...byTeam.values()]
    .map((versions) => ({ team: versions[0]?.team, last: versions.at(-1), points: chain(versions) }))
    .filter((line) => line.points.length > 1);
  if (lines.length === 0) return null;
  const shares = lines.flatMap((line) => line.points.map((point) => point.share));
  const high = Math.max(...shares, 1.1);
  const low = Math.min(...shares, 0.9);
  const last = Math.max(...lines.flatMap((line) => line.points.map((point) => point.version)));
  const x = (version: number) => LEFT + ((version - 1) / Math.max(1, last - 1)) * (W - LEFT - RIGHT);
  // A doubling takes as much height as a halving.
  const y = (share: number) =>
    24 + ((Math.log(high) - Math.log(share)) / (Math.log(high) - Math.log(low))) * (ROW - 64);
  const marks = [0.25, 0.5, 0.75, 1, 1.5, 2, 3, 4, 6].filter(
    (share) => share >= low * 0.98 && share <= high * 1.02,
  );
  // Names that would lie on each other move apart.
  const ends = lines
    .map((line) => ({ line, at: y(line.points.at(-1)?.share ?? 1) }))
    .sort((a, b) => a.at - b.at);
  ends.forEach((end, i) => {
    const above = ends[i - 1];
    if (above) end.at = Math.max(end.at, above.at + 18);
  });
  return (
    <ChartFrame
      title="From version to version"
      says={<Typography sx={{ color: ink.soft }}>Each line is a team; version 1 is 1.</Typography>}
      file="versions"
      head={["Team", "Version", "Against version 1"]}
      rows={lines.flatMap((line) =>
        line.points.map((point) => [
          line.team?.name ?? "",
          String(point.version),
          formatPercent(point.share),
        ]),
      )}
    >
      <svg width="100%" viewBox={`0 0 ${W} ${ROW}`} role="img" aria-label="Results from version to version">
        {marks.map((share) => (
          <g key={share}>
            <path
              d={`M${LEFT} ${y(share)}H${W - RIGHT}`}
              stroke={share === 1 ? ink.ink : ink.line}
              strokeWidth={share === 1 ? 2 : 1.2}
            />
            <text x={LEFT - 8} y={y(share) + 5} textAnchor="end" fontSize={15} fill={ink.soft}>
              {share} ×
            </text>
          </g>
        ))}
        {Array.from({ length: last }, (_, i) => (
          <text key={i} x={x(i + 1)} y={ROW - 8} textAnchor="middle" fontSize={15} fontWeight={600}>
            v{i + 1}
          </text>
        ))}
        {ends.map(({ line, at }) => (
          <g key={line.team?.id}>
            <path
              d={line.points.map((p, i) => `${i === 0 ? "M" : "L"}${x(p.version)} ${y(p.share)}`).join("")}
              fill="none"
              stroke={line.team?.colour}
              strokeWidth={line.last?.gain?.kind === "clear" ? 4.5 : 2.2}
              strokeDasharray={line.last?.gain?.kind === "clear" ? undefined : "7 4"}
            />
            {line.team && (
              <g transform={`translate(${W - RIGHT + 14} ${at})`}>
                <MarkShape team={line.team} size={15} />
              </g>
            )}
            <text x={W - RIGHT + 26} y={at + 5} fontSize={14} fontWeight={600} fill={ink.ink}>
              {(line.team?.name.length ?? 0) > 9 ? `${line.team?.name.slice(0, 8)}…` : line.team?.name}
            </text>
          </g>
        ))}
      </svg>
      <Typography variant="body2" sx={{ color: ink.soft }}>
        Thick: a clear change. Dashed: likely, or no more than chance.
      </Typography>
    </ChartFrame>
  );
}
