/** A result chart as the core lays it out: its shapes, each ink with its colour, line and pattern, never colour alone. */
import type { Chart, Drawn, Team } from "../api/types";
import { condensed, ink } from "../shared/theme";
import { useHatch } from "./Hatch";
import { MarkShape } from "./TeamMark";

type Ink = Drawn["ink"];
type Look = React.SVGProps<SVGPolygonElement> & React.SVGProps<SVGCircleElement>;

const FILL: Partial<Record<Ink, Look>> = {
  known: { fill: ink.held },
  unknown: { stroke: ink.held, strokeWidth: 1.2 },
  spread: { opacity: 0.45 },
  counted: { fill: ink.ink },
  model: { fill: ink.sheet, stroke: ink.ink, strokeWidth: 2.2 },
  said: { fill: ink.watchFill, stroke: ink.ink, strokeWidth: 2 },
  trial: { fill: ink.ink, stroke: ink.ink, strokeWidth: 1.4 },
  trial_open: { fill: ink.paper, stroke: ink.ink, strokeWidth: 1.4 },
};
const HATCHED: ReadonlySet<Ink> = new Set<Ink>(["unknown", "spread"]);

/** Lines: colour (none for the team's own), width, dashes. */
const PEN: Partial<Record<Ink, { colour?: string; width: number; dash?: string }>> = {
  grid: { colour: ink.line, width: 1.4 },
  axis: { colour: ink.ink, width: 2 },
  target: { colour: ink.oxide, width: 3, dash: "9 5" },
  gap: { colour: ink.paper, width: 3 },
  mean: { colour: ink.held, width: 4 },
  fitted: { colour: ink.ink, width: 2, dash: "7 5" },
  team: { width: 2.5 },
  team_open: { width: 2.2, dash: "6 4" },
  team_sure: { width: 4.5 },
};

const WORDS: Partial<Record<Ink, string>> = {
  soft: ink.soft,
  first: ink.oxide,
  on_bar: "#ffffff",
  sure: ink.held,
  unsure: ink.watch,
};
/** From this height on words are set in the narrow letters. */
const LARGE = 24;

function Shape({ shape, team, hatch }: { shape: Drawn; team: Team | undefined; hatch: string }) {
  const [x = 0, y = 0] = shape.points[0] ?? [];
  const listed = shape.points.map((point) => point.join(",")).join(" ");
  switch (shape.kind) {
    case "words": {
      const narrow = shape.size >= LARGE || shape.ink === "on_bar";
      return (
        <text
          x={x}
          y={y}
          fontSize={shape.size}
          fontFamily={narrow ? condensed : undefined}
          fontWeight={shape.bold ? (narrow ? 700 : 600) : undefined}
          textAnchor={shape.anchor}
          fill={WORDS[shape.ink] ?? ink.ink}
        >
          {shape.text}
        </text>
      );
    }
    case "mark":
      return team ? (
        <g transform={`translate(${x} ${y})`}>
          <MarkShape team={team} size={shape.size} />
        </g>
      ) : null;
    case "circle":
      return <circle cx={x} cy={y} r={shape.size} {...FILL[shape.ink]} />;
    case "area":
      return (
        <polygon points={listed} {...FILL[shape.ink]} {...(HATCHED.has(shape.ink) ? { fill: hatch } : {})} />
      );
    case "line": {
      const { colour, width, dash } = PEN[shape.ink] ?? { width: 1 };
      return (
        <polyline
          points={listed}
          fill="none"
          stroke={colour ?? team?.colour ?? ink.ink}
          strokeWidth={width}
          strokeDasharray={dash}
        />
      );
    }
  }
}

interface Props {
  chart: Chart;
  /** The team of each design. */
  teams: ReadonlyMap<string, Team>;
  /** Called with the figure that is asked about, and where it stands; without it no figure can be asked. */
  onWhy?: (figure: string, at: Element) => void;
}

export function ChartDrawing({ chart, teams, onWhy }: Props) {
  const hatch = useHatch(ink.held, 7);
  const asks = onWhy && chart.drawn.some((shape) => shape.why);
  return (
    <svg
      width="100%"
      viewBox={`0 0 ${chart.width} ${chart.height}`}
      role={asks ? "group" : "img"}
      aria-label={chart.shows}
    >
      <defs>{hatch.pattern}</defs>
      {chart.drawn.map((shape, i) => {
        const drawn = <Shape key={i} shape={shape} team={teams.get(shape.key)} hatch={hatch.fill} />;
        return onWhy && shape.why ? (
          <Asked key={i} shape={shape} onWhy={onWhy}>
            {drawn}
          </Asked>
        ) : (
          drawn
        );
      })}
    </svg>
  );
}

/** A figure of a chart that can be asked how it came about. */
function Asked({
  shape,
  onWhy,
  children,
}: {
  shape: Drawn;
  onWhy: NonNullable<Props["onWhy"]>;
  children: React.ReactNode;
}) {
  return (
    <g
      role="button"
      tabIndex={0}
      aria-label={`${shape.text}. Why this number?`}
      style={{ cursor: "pointer" }}
      onClick={(event) => onWhy(shape.why, event.currentTarget)}
      onKeyDown={(event) => {
        if (event.key !== "Enter" && event.key !== " ") return;
        event.preventDefault();
        onWhy(shape.why, event.currentTarget);
      }}
    >
      <title>Why this number?</title>
      {children}
    </g>
  );
}
