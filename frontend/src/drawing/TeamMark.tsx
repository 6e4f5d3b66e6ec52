/** A team's mark: drawn so that teams can be told apart without colour, on screen, on paper and from afar. */
import type { ReactNode } from "react";
import type { Team } from "../api/types";

/** Marks on a field of 24 by 24, drawn in `currentColor`. */
const MARKS: Record<string, ReactNode> = {
  sash: (
    <>
      <path d="M3 3h18v18H3z" fill="none" stroke="currentColor" strokeWidth="3" />
      <path d="M4 20 20 4" stroke="currentColor" strokeWidth="3.4" />
    </>
  ),
  gable: <path d="M12 2 22.5 21.5h-21z" fill="currentColor" />,
  porthole: (
    <>
      <circle cx="12" cy="12" r="9" fill="none" stroke="currentColor" strokeWidth="3.2" />
      <circle cx="12" cy="12" r="3.4" fill="currentColor" />
    </>
  ),
  portal: <path d="M2 2h20v20h-6V8H8v14H2z" fill="currentColor" />,
  disc: <circle cx="12" cy="12" r="10" fill="currentColor" />,
  cross: <path d="M8.5 2h7v6.5H22v7h-6.5V22h-7v-6.5H2v-7h6.5z" fill="currentColor" />,
  lozenge: <path d="M12 2.5 21.5 12 12 21.5 2.5 12z" fill="none" stroke="currentColor" strokeWidth="3.4" />,
  planks: <path d="M2 3h20v4.5H2zm0 6.75h20v4.5H2zm0 6.75h20V21H2z" fill="currentColor" />,
  rivets: (
    <>
      {[6, 18].flatMap((x) =>
        [6, 18].map((y) => <circle key={`${x} ${y}`} cx={x} cy={y} r="4.2" fill="currentColor" />),
      )}
    </>
  ),
  chevron: <path d="M2 4h7l6 8-6 8H2l6-8zm9 0h5l6 8-6 8h-5l6-8z" fill="currentColor" />,
  half: (
    <>
      <circle cx="12" cy="12" r="9" fill="none" stroke="currentColor" strokeWidth="3" />
      <path d="M12 3a9 9 0 0 0 0 18z" fill="currentColor" />
    </>
  ),
  saltire: <path d="M3 6 6 3l6 6 6-6 3 3-6 6 6 6-3 3-6-6-6 6-3-3 6-6z" fill="currentColor" />,
};

export type MarkedTeam = Pick<Team, "name" | "mark" | "colour">;

/** The mark alone, for use inside another drawing; centred on the origin. */
export function MarkShape({ team, size }: { team: MarkedTeam; size: number }) {
  return (
    <g color={team.colour} transform={`translate(${-size / 2} ${-size / 2}) scale(${size / 24})`}>
      {MARKS[team.mark]}
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
      {MARKS[team.mark]}
    </svg>
  );
}
