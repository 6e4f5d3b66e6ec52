/** The bar of the set that is in a picture: to be measured, or what it was. */
import type { PictureLook } from "../../api/types";
import { BarField } from "./BarField";
import { useCardSets } from "./useCardSets";

export function SetOfCards({ look, onMeasured }: { look: PictureLook; onMeasured: () => void }) {
  const { data } = useCardSets();
  if (!data) return null;
  const own = data.find((set) => set.number === look.set_number);
  // One that only the class's teacher measured is measured, too.
  if (look.bar_measured && !own?.measured) return null;
  return (
    <BarField
      key={look.set_number}
      number={look.set_number}
      before={own?.bar_text ?? ""}
      onMeasured={onMeasured}
    />
  );
}
