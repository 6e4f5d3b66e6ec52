/** A team's mark: drawn so that teams can be told apart without colour, on screen, on paper and from afar. */
import type { Team } from "../api/types";

/** Marks on a field of 24 by 24: outlines, filled or drawn with a pen of some width. The core has the same, for paper. */
export const MARKS: Readonly<Record<string, readonly { path: string; pen: number }[]>> = {
  sash: [
    { path: "M3 3h18v18H3z", pen: 3 },
    { path: "M4 20 20 4", pen: 3.4 },
  ],
  gable: [{ path: "M12 2 22.5 21.5h-21z", pen: 0 }],
  porthole: [
    { path: "M3 12a9 9 0 1 0 18 0a9 9 0 1 0 -18 0z", pen: 3.2 },
    { path: "M8.6 12a3.4 3.4 0 1 0 6.8 0a3.4 3.4 0 1 0 -6.8 0z", pen: 0 },
  ],
  portal: [{ path: "M2 2h20v20h-6V8H8v14H2z", pen: 0 }],
  disc: [{ path: "M2 12a10 10 0 1 0 20 0a10 10 0 1 0 -20 0z", pen: 0 }],
  cross: [{ path: "M8.5 2h7v6.5H22v7h-6.5V22h-7v-6.5H2v-7h6.5z", pen: 0 }],
  lozenge: [{ path: "M12 2.5 21.5 12 12 21.5 2.5 12z", pen: 3.4 }],
  planks: [{ path: "M2 3h20v4.5H2zm0 6.75h20v4.5H2zm0 6.75h20V21H2z", pen: 0 }],
  rivets: [
    { path: "M1.8 6a4.2 4.2 0 1 0 8.4 0a4.2 4.2 0 1 0 -8.4 0z", pen: 0 },
    { path: "M1.8 18a4.2 4.2 0 1 0 8.4 0a4.2 4.2 0 1 0 -8.4 0z", pen: 0 },
    { path: "M13.8 6a4.2 4.2 0 1 0 8.4 0a4.2 4.2 0 1 0 -8.4 0z", pen: 0 },
    { path: "M13.8 18a4.2 4.2 0 1 0 8.4 0a4.2 4.2 0 1 0 -8.4 0z", pen: 0 },
  ],
  chevron: [{ path: "M2 4h7l6 8-6 8H2l6-8zm9 0h5l6 8-6 8h-5l6-8z", pen: 0 }],
  half: [
    { path: "M3 12a9 9 0 1 0 18 0a9 9 0 1 0 -18 0z", pen: 3 },
    { path: "M12 3a9 9 0 0 0 0 18z", pen: 0 },
  ],
  saltire: [{ path: "M3 6 6 3l6 6 6-6 3 3-6 6 6 6-3 3-6-6-6 6-3-3 6-6z", pen: 0 }],
};

function Mark({ name }: { name: string }) {
  return (MARKS[name] ?? []).map(({ path, pen }) => (
    <path
      key={path}
      d={path}
      {...(pen > 0 ? { fill: "none", stroke: "currentColor", strokeWidth: pen } : { fill: "currentColor" })}
    />
  ));
}

export type MarkedTeam = Pick<Team, "name" | "mark" | "colour">;

/** The mark alone, for use inside another drawing; centred on the origin. */
export function MarkShape({ team, size }: { team: MarkedTeam; size: number }) {
  return (
    <g color={team.colour} transform={`translate(${-size / 2} ${-size / 2}) scale(${size / 24})`}>
      <Mark name={team.mark} />
    </g>
  );
}

export function TeamMark({ team, size = 24 }: { team: MarkedTeam; size?: number }) {
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 24 24"
      role="img"
      aria-label={team.name}
      style={{ color: team.colour, flexShrink: 0 }}
    >
      <title>{team.name}</title>
      <Mark name={team.mark} />
    </svg>
  );
}
