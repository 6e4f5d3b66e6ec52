/** The mark of Even Girder: a girder, seen from its end. */
import { ink } from "../shared/theme";

export function GirderMark({ size = 24 }: { size?: number }) {
  return (
    <svg width={size * 1.1} height={size} viewBox="0 0 26 22" aria-hidden="true">
      <path fill={ink.oxide} d="M0 0h26v6H16v10h10v6H0v-6h10V6H0z" />
    </svg>
  );
}
