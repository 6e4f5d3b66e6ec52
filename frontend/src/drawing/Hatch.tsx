import { useId } from "react";

/** Hatching for doubt: a pattern of slanted lines, and the fill that uses it. */
export function useHatch(colour: string, spacing = 7): { fill: string; pattern: React.JSX.Element } {
  const id = useId();
  return {
    fill: `url(#${id})`,
    pattern: (
      <pattern
        id={id}
        width={spacing}
        height={spacing}
        patternTransform="rotate(45)"
        patternUnits="userSpaceOnUse"
      >
        <line y2={spacing} stroke={colour} strokeWidth={spacing / 3.2} />
      </pattern>
    ),
  };
}
