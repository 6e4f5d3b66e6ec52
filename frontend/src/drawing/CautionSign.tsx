/** A warning triangle, drawn; the words beside it say what it warns of. */
import { ink } from "../shared/theme";

export function CautionSign({ size = 22 }: { size?: number }) {
  return (
    <svg
      width={size}
      height={size * 0.91}
      viewBox="0 0 22 20"
      aria-hidden="true"
      style={{ flexShrink: 0, marginTop: 3 }}
    >
      <path
        d="M11 1 21 19H1z"
        fill={ink.watchFill}
        stroke={ink.ink}
        strokeWidth="1.6"
        strokeLinejoin="round"
      />
      <path d="M11 7v6M11 15v2" stroke={ink.ink} strokeWidth="2" />
    </svg>
  );
}
