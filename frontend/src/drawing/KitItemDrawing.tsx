/** A small drawing of a load item, for lists and keys. */
import type { KitItem } from "../api/types";
import { ink } from "../shared/theme";

const line = { stroke: ink.ink, strokeWidth: 1.6, fill: ink.steel };

const DRAWN: Record<KitItem["shape"], React.JSX.Element> = {
  nut: (
    <>
      <path d="M8 3h14l7 11-7 11H8L1 14z" {...line} />
      <circle cx="15" cy="14" r="6" fill={ink.paper} stroke={ink.ink} strokeWidth="1.6" />
    </>
  ),
  disc: <circle cx="15" cy="14" r="12" {...line} />,
  ball: (
    <>
      <circle cx="15" cy="14" r="11" {...line} />
      <path d="M8 11q4-6 10-5" fill="none" stroke={ink.paper} strokeWidth="1.8" />
    </>
  ),
  tile: <path d="M3 5h24v18H3z" {...line} />,
  bag: <path d="M11 2h8l-2.5 5Q27 11 27 20q0 7-6 7H9q-6 0-6-7 0-9 10.500-13z" {...line} />,
  platform: <path d="M1 15h28v6H1zM4 15V4m22 11V4" {...line} fill={ink.ink} />,
};

export function KitItemDrawing({ item, size = 30 }: { item: Pick<KitItem, "shape">; size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 30 29" aria-hidden="true" style={{ display: "block" }}>
      {DRAWN[item.shape]}
    </svg>
  );
}
