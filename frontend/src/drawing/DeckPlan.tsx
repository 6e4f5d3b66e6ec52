/** A table's deck from above, to scale, with the items on it side by side: room is what is counted. */
import { ink } from "../shared/theme";

interface Props {
  lengthM: number;
  widthM: number;
  itemM: number;
  /** Where items lie, from the middle outwards, from the deck's middle [m]. */
  places: readonly (readonly number[])[];
  held: number;
  on: number;
  lengthLabel: string;
  widthLabel: string;
}

export function DeckPlan({ lengthM, widthM, itemM, places, held, on, lengthLabel, widthLabel }: Props) {
  const perM = Math.min(480 / lengthM, 330 / widthM);
  const [w, h] = [lengthM * perM, widthM * perM];
  const radius = itemM * perM * 0.47;
  return (
    <svg
      viewBox={`-70 -30 ${w + 100} ${h + 84}`}
      width="100%"
      height="100%"
      role="img"
      aria-label={`Deck from above with ${on} items`}
    >
      <rect width={w} height={h} fill={ink.card} stroke={ink.ink} strokeWidth={3} />
      {places.map(([x = 0, y = 0], i) => (
        <circle
          key={`${x} ${y}`}
          cx={w / 2 + x * perM}
          cy={h / 2 + y * perM}
          r={radius}
          fill={i < held ? ink.held : i < on ? ink.watchFill : "none"}
          stroke={i < on ? ink.ink : ink.soft}
          strokeWidth={i < on ? 2 : 1}
          strokeDasharray={i < on ? undefined : "3 4"}
        />
      ))}
      <text x={w / 2} y={h + 26} textAnchor="middle" fontSize={19} fontWeight={600} fill={ink.ink}>
        {lengthLabel}
      </text>
      <text
        transform={`translate(-16 ${h / 2}) rotate(-90)`}
        textAnchor="middle"
        fontSize={19}
        fontWeight={600}
        fill={ink.ink}
      >
        {widthLabel}
      </text>
      <text x={w / 2} y={h + 50} textAnchor="middle" fontSize={17} fill={ink.soft}>
        in rows side by side: room for about {places.length}
      </text>
    </svg>
  );
}
