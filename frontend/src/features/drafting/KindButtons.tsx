/** The kinds of draft that serve a design, where there are several. */
import { Button } from "@mui/material";
import type { DraftKind } from "../../api/types";

interface Props {
  kinds: readonly DraftKind[];
  chosen: string;
  onChoose: (key: string) => void;
}

export function KindButtons({ kinds, chosen, onChoose }: Props) {
  if (kinds.length < 2) return null;
  return kinds.map((kind) => (
    <Button
      key={kind.key}
      variant={kind.key === chosen ? "contained" : "text"}
      color="inherit"
      size="small"
      onClick={() => onChoose(kind.key)}
    >
      {kind.name}
    </Button>
  ));
}
