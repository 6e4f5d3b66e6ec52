/** How a reading is taken, in a small picture: where the instrument starts, where it ends, where the eye is. */
import type { Way } from "../api/types";
import { ink } from "../shared/theme";

const solid = { fill: ink.card, stroke: ink.ink, strokeWidth: 2 };
const tape = { stroke: ink.oxide, strokeWidth: 3, fill: "none" };
const words = { fontSize: 15, fontWeight: 600, fill: ink.oxide } as const;

function Ticks({
  x,
  y,
  length,
  upright = false,
}: {
  x: number;
  y: number;
  length: number;
  upright?: boolean;
}) {
  return (
    <path
      d={Array.from({ length: Math.floor(length / 14) + 1 }, (_, i) =>
        upright ? `M${x} ${y - i * 14}h${i % 5 ? 7 : 13}` : `M${x + i * 14} ${y}v${i % 5 ? 7 : 13}`,
      ).join("")}
      stroke={ink.oxide}
      strokeWidth={1.5}
    />
  );
}

const PICTURES: Record<Way, React.JSX.Element> = {
  area: (
    <>
      <path d="M80 30h150l40 50v60h-190z" {...solid} />
      {[0, 1, 2, 3, 4, 5, 6].map((i) => (
        <path key={i} d={`M${80 + i * 27} 30v110`} stroke={ink.oxide} strokeWidth={1} />
      ))}
      {[0, 1, 2, 3].map((i) => (
        <path key={i} d={`M80 ${30 + i * 27}h190`} stroke={ink.oxide} strokeWidth={1} />
      ))}
      <text x={175} y={166} textAnchor="middle" {...words}>
        sides, corners, or squares counted
      </text>
    </>
  ),
  height: (
    <>
      <path d="M20 150h300" stroke={ink.ink} strokeWidth={4} />
      <path d="M110 150l34 -112h44l34 112z" {...solid} />
      <path d="M262 150V38" {...tape} />
      <Ticks x={262} y={150} length={112} upright />
      <path d="M188 38h78" stroke={ink.oxide} strokeWidth={1.5} strokeDasharray="5 4" />
      <text x={284} y={146} {...words}>
        0 at the table
      </text>
      <text x={284} y={42} {...words}>
        eye level here
      </text>
    </>
  ),
  across: (
    <>
      <path d="M90 56h180v46h-180z" {...solid} />
      <path d="M90 126h180" {...tape} />
      <Ticks x={90} y={126} length={180} />
      <path d="M90 104v30M270 104v30" stroke={ink.oxide} strokeWidth={1.5} strokeDasharray="5 4" />
      <text x={90} y={164} textAnchor="middle" {...words}>
        0, not the end of the tape
      </text>
      <text x={276} y={164} {...words}>
        read here
      </text>
    </>
  ),
  overlap: (
    <>
      <path d="M30 96h130v58h-130z" fill={ink.stone} stroke={ink.ink} strokeWidth={2} />
      <path d="M96 76h230v20h-230z" {...solid} />
      <path d="M96 60h64" {...tape} />
      <path d="M96 52v44M160 52v100" stroke={ink.oxide} strokeWidth={1.5} strokeDasharray="5 4" />
      <text x={128} y={44} textAnchor="middle" {...words}>
        this much rests
      </text>
      <text x={168} y={148} {...words}>
        inner edge of the support
      </text>
    </>
  ),
  strip: (
    <>
      {[0, 1, 2].map((i) => (
        <path
          key={i}
          d={`M${40 + i * 88} 66h80v22h-80z`}
          fill={ink.watchPale}
          stroke={ink.ink}
          strokeWidth={2}
        />
      ))}
      <path d="M40 112h256" {...tape} />
      <Ticks x={40} y={112} length={256} />
      <text x={168} y={154} textAnchor="middle" {...words}>
        every strip, end to end
      </text>
    </>
  ),
  weigh: (
    <>
      <path d="M80 96h180v14h-180zM96 110h148l14 44H82z" fill={ink.stone} stroke={ink.ink} strokeWidth={2} />
      <path d="M130 94l22 -48h36l22 48z" {...solid} />
      <path d="M136 122h68v22h-68z" fill={ink.sheet} stroke={ink.ink} strokeWidth={2} />
      <text x={170} y={139} textAnchor="middle" fontSize={16} fontWeight={700} fill={ink.ink}>
        0.0 g
      </text>
      <text x={272} y={138} {...words}>
        zero before it goes on
      </text>
    </>
  ),
  count: (
    <>
      {Array.from({ length: 10 }, (_, i) => (
        <g key={i}>
          <path d={`M${60 + (i % 5) * 50} ${46 + Math.floor(i / 5) * 56}h36v36h-36z`} {...solid} />
          {i < 7 && (
            <path
              d={`M${66 + (i % 5) * 50} ${64 + Math.floor(i / 5) * 56}l8 9l16 -18`}
              stroke={ink.held}
              strokeWidth={4}
              fill="none"
            />
          )}
        </g>
      ))}
      <text x={170} y={164} textAnchor="middle" {...words}>
        touch each one as you count
      </text>
    </>
  ),
  time: (
    <>
      <circle cx={170} cy={88} r={58} fill={ink.sheet} stroke={ink.ink} strokeWidth={4} />
      <path d="M170 88V46M170 88l30 18" stroke={ink.oxide} strokeWidth={5} />
      <text x={170} y={170} textAnchor="middle" {...words}>
        from letting go
      </text>
    </>
  ),
};

export function HowTo({ way }: { way: Way }) {
  return (
    <svg viewBox="0 0 430 180" width="100%" height="100%" role="img" aria-label="How it is taken">
      {PICTURES[way]}
    </svg>
  );
}
