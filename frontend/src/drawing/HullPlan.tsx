/** A hull seen from above in nine places: how many pieces sit where, where the next go, and where all of it sits. */
import type { TrialState } from "../api/types";
import { ink } from "../shared/theme";

const ROWS = [
  ["fp", "fc", "fs"],
  ["mp", "mc", "ms"],
  ["ap", "ac", "as"],
] as const;

export const SEAT_WORDS: Record<string, string> = {
  fp: "fore port",
  fc: "fore",
  fs: "fore starboard",
  mp: "port",
  mc: "middle",
  ms: "starboard",
  ap: "aft port",
  ac: "aft",
  as: "aft starboard",
};

interface Props {
  lengthM: number;
  widthM: number;
  seats: Readonly<Record<string, number>>;
  chosen: string;
  /** Where all of it sits. */
  cargo: TrialState["cargo"];
  onChoose: (seat: string) => void;
}

export function HullPlan({ lengthM, widthM, seats, chosen, cargo, onChoose }: Props) {
  const height = 400;
  const width = Math.max(150, Math.min(340, (height * widthM) / lengthM));
  const cell = { w: width / 3, h: height / 3 };
  const { forward: fore = 0, starboard: right = 0, off_centre: off = false } = cargo ?? {};
  return (
    <svg
      viewBox={`-30 -30 ${width + 60} ${height + 84}`}
      width="100%"
      height="100%"
      role="group"
      aria-label="Where cargo sits"
    >
      <path
        d={`M${width / 2} -22Q${width + 8} 18 ${width} ${height / 2}Q${width + 6} ${height} ${width * 0.82} ${height + 6}H${width * 0.18}Q-6 ${height} 0 ${height / 2}Q-8 18 ${width / 2} -22z`}
        fill={ink.card}
        stroke={ink.ink}
        strokeWidth={3}
      />
      {ROWS.map((row, y) =>
        row.map((seat, x) => (
          <g
            key={seat}
            role="button"
            tabIndex={0}
            aria-label={`Next cargo ${SEAT_WORDS[seat]}, ${seats[seat] ?? 0} there`}
            aria-pressed={seat === chosen}
            onClick={() => onChoose(seat)}
            onKeyDown={(event) => {
              if (event.key === " ") {
                event.preventDefault();
                onChoose(seat);
              }
            }}
            style={{ cursor: "pointer" }}
          >
            <rect
              x={x * cell.w + 6}
              y={y * cell.h + 6}
              width={cell.w - 12}
              height={cell.h - 12}
              fill={seat === chosen ? ink.watchPale : "transparent"}
              stroke={seat === chosen ? ink.oxide : ink.soft}
              strokeWidth={seat === chosen ? 4 : 1}
              strokeDasharray={seat === chosen ? undefined : "4 4"}
            />
            <text x={x * cell.w + 16} y={y * cell.h + 40} fontSize={34} fontWeight={700} fill={ink.ink}>
              {seats[seat] ? seats[seat] : ""}
            </text>
          </g>
        )),
      )}
      {cargo && (
        <g transform={`translate(${(width / 2) * (1 + right)} ${(height / 2) * (1 - fore)})`}>
          <circle r={12} fill="none" stroke={off ? ink.oxide : ink.held} strokeWidth={4} />
          <path d="M-18 0h36M0 -18v36" stroke={off ? ink.oxide : ink.held} strokeWidth={3} />
        </g>
      )}
      <text
        x={width / 2}
        y={height + 44}
        textAnchor="middle"
        fontSize={21}
        fontWeight={600}
        fill={off ? ink.oxide : ink.soft}
      >
        {off ? "Cargo sits off centre" : `next goes ${SEAT_WORDS[chosen] ?? ""}`}
      </text>
    </svg>
  );
}
