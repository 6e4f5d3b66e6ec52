/** A bridge over its gap with its load, to scale: gap, overlaps and load objects as measured. */
import { ink } from "../shared/theme";
import { bridgeFrame, pile, type Piece, type StackLayer } from "./bridgeGeometry";

interface Props {
  gapM: number;
  overlapLeftM: number;
  overlapRightM: number;
  stack: readonly StackLayer[];
  /** A load that was read and not counted, in words; drawn as the force that it is. */
  readLabel?: string;
  gapLabel: string;
  /** Sag at midspan [m], as it was read; drawn to scale. */
  sagM?: number;
  /** Drawn broken through at midspan. */
  broken?: boolean;
  title?: string;
}

const FILL = { held: ink.steel, waiting: ink.watchFill, broke: ink.ink } as const;

export function LoadPiece({ piece }: { piece: Piece }) {
  const fill = FILL[piece.state];
  const common = { stroke: ink.ink, strokeWidth: 1.2 };
  const { x, y, width, height } = piece;
  if (piece.shape === "platform") return <rect x={x} y={y} width={width} height={height} fill={ink.ink} />;
  if (piece.shape === "bag") {
    const neck = width * 0.16;
    return (
      <g>
        <path
          d={`M${x + 4} ${y + height}q-4 0-4-5v-${height * 0.45}q0-${height * 0.3} ${width / 2 - neck}-${height * 0.34}l-3-5h${neck * 2 + 6}l-3 5q${width / 2 - neck} ${height * 0.04} ${width / 2 - neck} ${height * 0.34}v${height * 0.45}q0 5-4 5z`}
          fill={fill}
          {...common}
        />
        <path d={`M${x + width / 2 - neck} ${y + height * 0.16}h${neck * 2}`} {...common} />
      </g>
    );
  }
  if (piece.shape === "nut") {
    return (
      <g>
        <rect
          x={x + 0.5}
          y={y + 0.5}
          width={width - 1}
          height={height - 1}
          rx={height * 0.16}
          fill={fill}
          {...common}
        />
        <path
          d={`M${x + width * 0.27} ${y + 1}v${height - 2}M${x + width * 0.73} ${y + 1}v${height - 2}`}
          stroke={ink.ink}
          strokeWidth={0.8}
          opacity={0.55}
        />
      </g>
    );
  }
  return (
    <rect
      x={x + 0.5}
      y={y + 0.5}
      width={width - 1}
      height={height - 1}
      rx={piece.shape === "disc" ? 2 : 0}
      fill={fill}
      {...common}
    />
  );
}

export function BridgeElevation(props: Props) {
  const { gapM, overlapLeftM, overlapRightM, stack, gapLabel, sagM = 0, broken = false } = props;
  const frame = bridgeFrame(gapM, overlapLeftM, overlapRightM);
  const { gap, left, right, deckDepth, supportWidth, supportHeight } = frame;
  const pieces = pile(stack);
  const sag = broken ? deckDepth * 1.6 : sagM * 1000;
  const topOfPile = Math.min(0, ...pieces.map((piece) => piece.y)) - deckDepth;
  const font = Math.max(13, gap / 26);
  const arrow = props.readLabel ? gap * 0.16 : 0;
  const above = Math.max(-topOfPile + 8 + arrow, gap * 0.2);
  const margin = 8;
  const box = {
    x: -gap / 2 - supportWidth - margin,
    y: -above + Math.min(0, sag),
    width: gap + 2 * (supportWidth + margin),
    height: above + supportHeight + 34 + Math.max(0, sag - supportHeight),
  };
  const a = -gap / 2 - left;
  const b = gap / 2 + right;
  // A parabola through the three points with a sag at the middle: its control point lies twice as deep.
  const deck = broken
    ? `M${a} ${-deckDepth}L-6 ${sag - deckDepth}l3 ${deckDepth * 0.4}l-6 ${deckDepth * 0.3}l5 ${deckDepth * 0.3}L${a} 0z
       M${b} ${-deckDepth}L6 ${sag - deckDepth}l-3 ${deckDepth * 0.4}l6 ${deckDepth * 0.3}l-5 ${deckDepth * 0.3}L${b} 0z`
    : `M${a} ${-deckDepth}Q0 ${2 * sag - deckDepth} ${b} ${-deckDepth}V0Q0 ${2 * sag} ${a} 0z`;
  const folds = 14;
  return (
    <svg
      viewBox={`${box.x} ${box.y} ${box.width} ${box.height}`}
      role="img"
      aria-label={props.title ?? `Bridge over a gap of ${gapLabel}, drawn to scale`}
      style={{ width: "100%", height: "100%", maxHeight: "100%", display: "block" }}
      preserveAspectRatio="xMidYMax meet"
    >
      <defs>
        <pattern id="stone" width="14" height="14" patternUnits="userSpaceOnUse">
          <rect width="14" height="14" fill={ink.stone} />
          <path d="M0 13.5h14" stroke={ink.line} strokeWidth="1" />
        </pattern>
      </defs>
      {[-gap / 2 - supportWidth, gap / 2].map((x) => (
        <rect
          key={x}
          x={x}
          y={0}
          width={supportWidth}
          height={supportHeight}
          fill="url(#stone)"
          stroke={ink.ink}
          strokeWidth={2}
        />
      ))}
      <path d={deck} fill={ink.card} stroke={ink.ink} strokeWidth={2} strokeLinejoin="round" />
      {!broken &&
        Array.from({ length: folds - 1 }, (_, i) => {
          const x = a + ((b - a) * (i + 1)) / folds;
          const dip = sag * (1 - ((2 * (i + 1)) / folds - 1) ** 2);
          return (
            <path
              key={x}
              d={`M${x} ${dip - deckDepth + 2}V${dip - 2}`}
              stroke={ink.ink}
              strokeWidth={0.7}
              opacity={0.35}
            />
          );
        })}
      <g transform={`translate(0 ${sag - deckDepth})${broken ? " rotate(9)" : ""}`}>
        {pieces.map((piece, i) => (
          <LoadPiece key={`${piece.key} ${i}`} piece={piece} />
        ))}
        {props.readLabel && (
          <g transform={`translate(0 ${topOfPile + deckDepth})`}>
            <path d={`M0 ${-arrow}V-9`} stroke={ink.oxide} strokeWidth={4} />
            <path d="M0 0l-7 -13h14z" fill={ink.oxide} />
            <text x={12} y={-arrow + font} fontSize={font} fontWeight={600} fill={ink.ink}>
              {props.readLabel}
            </text>
          </g>
        )}
      </g>
      <g stroke={ink.ink} strokeWidth={1.4} fill={ink.ink}>
        <path d={`M${-gap / 2} ${supportHeight * 0.78}H${gap / 2}`} />
        <path
          d={`M${-gap / 2} ${supportHeight * 0.78}l9 -4v8zM${gap / 2} ${supportHeight * 0.78}l-9 -4v8z`}
          stroke="none"
        />
      </g>
      <rect
        x={-gapLabel.length * font * 0.3}
        y={supportHeight * 0.78 - font * 0.8}
        width={gapLabel.length * font * 0.6}
        height={font * 1.5}
        fill={ink.paper}
      />
      <text
        x={0}
        y={supportHeight * 0.78 + font * 0.36}
        textAnchor="middle"
        fontSize={font}
        fontWeight={600}
        fill={ink.ink}
      >
        {gapLabel}
      </text>
    </svg>
  );
}
