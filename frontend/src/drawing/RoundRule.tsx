/** The rounds of a test along the foot of the bench: survived, under way, too much, still to come. */
import type { RoundPlan, TrialResult } from "../api/types";
import { ink } from "../shared/theme";
import { useHatch } from "./Hatch";

interface Props {
  plan: RoundPlan;
  shown: TrialResult;
  width: number;
  /** The label of a size under its mark. */
  label: (size: number) => string;
  /** Ink on a dark ground. */
  dark?: boolean;
}

const HEIGHT = 92;
const TOP = 12;
const BOX = 46;

export function RoundRule({ plan, shown, width, label, dark = false }: Props) {
  const hatch = useHatch(ink.watchFill, 8);
  const line = dark ? "#ffffff" : ink.ink;
  const made = shown.rounds.map((round) => ({ size: round.size, state: round.state, hit: round.hit }));
  const last = made[made.length - 1]?.size ?? 0;
  const coming = plan.attack_s === null ? plan.planned.filter((round) => round.size > last + 1e-9) : [];
  const slots = [...made, ...coming.map((planned) => ({ size: planned.size, state: null, hit: null }))];
  const each = Math.min(210, (width - 4) / Math.max(slots.length, 1));
  const every = Math.ceil(46 / each);
  return (
    <svg
      width={width}
      height={HEIGHT}
      viewBox={`0 0 ${width} ${HEIGHT}`}
      role="img"
      aria-label="The rounds so far"
    >
      <defs>{hatch.pattern}</defs>
      {slots.map((slot, i) => {
        const x = 2 + i * each;
        const middle = x + (each - 6) / 2;
        const well = slot.hit === null || slot.hit !== plan.procedure.miss_is_well;
        const fill =
          slot.state === "held" && well
            ? ink.held
            : slot.state === "held" && slot.hit === true
              ? ink.watchFill
              : slot.state === "waiting"
                ? hatch.fill
                : slot.state === "broke"
                  ? dark
                    ? "#ffffff"
                    : ink.broke
                  : "none";
        return (
          <g key={i}>
            <rect
              x={x}
              y={TOP}
              width={Math.max(4, each - 6)}
              height={BOX}
              fill={fill}
              stroke={line}
              strokeWidth={slot.state === null ? 1.2 : 2.4}
              strokeDasharray={slot.state === null ? "5 4" : undefined}
            />
            {slot.state === "broke" && (
              <path
                d={`M${middle - 11} ${TOP + 12}l22 22m0 -22l-22 22`}
                stroke={dark ? ink.ink : "#ffffff"}
                strokeWidth={4}
              />
            )}
            {slot.state === "held" && slot.hit === null && (
              <path
                d={`M${middle - 12} ${TOP + 24}l8 9l16 -18`}
                fill="none"
                stroke="#ffffff"
                strokeWidth={4.5}
              />
            )}
            {slot.hit === true && (
              <circle cx={middle} cy={TOP + BOX / 2} r={8} fill={well ? "#ffffff" : ink.ink} />
            )}
            {slot.hit === false && (
              <path
                d={`M${middle - 9} ${TOP + BOX / 2}h18`}
                stroke={well ? "#ffffff" : line}
                strokeWidth={3}
              />
            )}
            {i % every === 0 && (
              <text
                x={middle}
                y={TOP + BOX + 24}
                textAnchor="middle"
                fontSize={16}
                fontWeight={600}
                fill={line}
              >
                {label(slot.size)}
              </text>
            )}
          </g>
        );
      })}
    </svg>
  );
}
