/** The load at each bench: items and how their mass is known, the container, and whether the load lasts. */
import { Box, Button, TextField, Typography } from "@mui/material";
import type { Why } from "../../api/queries";
import type { KitItem, PlanSheet, TypedKitItem, TypedPlan } from "../../api/types";
import { formatMass, formatMassWithDoubt } from "../../shared/format";
import { ink } from "../../shared/theme";
import { useUnits } from "../../shared/units";
import { WhyNumber } from "../../shared/Why";
import { KitItemRow, NO_ITEM } from "./KitItemRow";

type Container = NonNullable<TypedPlan["container"]>;
type Problems = Readonly<Record<string, string>>;

interface Props {
  items: readonly TypedKitItem[];
  container: Container | null;
  sheet: PlanSheet;
  whyOf: (figure: string) => Why;
  problems: Problems;
  onItems: (items: TypedKitItem[]) => void;
  onContainer: (container: Container | null) => void;
}

/** What one line of the typed kit comes to; a numbered row is several kept items. */
function weighsOf(
  index: number,
  items: readonly TypedKitItem[],
  kept: readonly KitItem[],
  units: "metric" | "us",
) {
  const sizes = items.map((item) =>
    item.known_by === "numbered" ? (item.masses ?? []).filter((m) => m.trim()).length : 1,
  );
  const from = sizes.slice(0, index).reduce((sum, n) => sum + n, 0);
  const own = kept.slice(from, from + (sizes[index] ?? 1));
  const first = own[0];
  // While a line cannot be read, nothing is kept of any, and there is nothing to show.
  if (!first || kept.length !== sizes.reduce((sum, n) => sum + n, 0)) return "";
  if (own.length > 1) {
    const masses = own.map((piece) => piece.mass_kg);
    return `${own.length} pieces, ${formatMass(Math.min(...masses), units)} to ${formatMass(Math.max(...masses), units)}`;
  }
  return formatMassWithDoubt(first.mass_kg, first.mass_doubt_kg, units);
}

export function KitEditor({ items, container, sheet, whyOf, problems, onItems, onContainer }: Props) {
  const units = useUnits();
  const cover = sheet.cover;
  const size = container ?? { diameter: "", height: "" };
  return (
    <>
      {cover && (
        <Typography sx={{ mb: 1, color: cover.enough ? ink.held : ink.watch, fontWeight: 600 }}>
          {cover.sentence}{" "}
          {cover.chance !== null && <WhyNumber why={whyOf("outlast")}>Why this number?</WhyNumber>}
        </Typography>
      )}
      {"kit" in problems && (
        <Typography sx={{ color: ink.oxide, fontWeight: 600 }}>{problems["kit"]}</Typography>
      )}
      {items.map((item, index) => (
        <KitItemRow
          key={index}
          item={item}
          path={`kit.${index}`}
          weighs={weighsOf(index, items, sheet.kit, units)}
          problems={problems}
          onChange={(changed) => onItems(items.map((item, i) => (i === index ? changed : item)))}
          onRemove={() => onItems(items.filter((_, i) => i !== index))}
        />
      ))}
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
        <Button onClick={() => onItems([...items, NO_ITEM])}>Add a load item</Button>
        {!items.some((item) => item.shape === "platform") && (
          <Button
            onClick={() =>
              onItems([{ ...NO_ITEM, name: "cup", shape: "platform", count: 1, batch_count: 1 }, ...items])
            }
          >
            Add a platform or cup
          </Button>
        )}
      </Box>
      <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap", alignItems: "start", mt: 1.5 }}>
        <Typography sx={{ pt: 1 }}>It goes into a container:</Typography>
        {(["diameter", "height"] as const).map((side) => (
          <TextField
            key={side}
            label={side === "diameter" ? "Inner width" : "Inner height"}
            value={size[side]}
            placeholder={side === "diameter" ? "80 mm" : "95 mm"}
            error={`container.${side}` in problems || "container" in problems}
            helperText={problems[`container.${side}`]}
            onChange={(e) => {
              const next = { ...size, [side]: e.target.value };
              onContainer(next.diameter || next.height ? next : null);
            }}
            sx={{ width: 120 }}
          />
        ))}
        <Typography variant="body2" sx={{ color: "container" in problems ? ink.oxide : ink.soft, pt: 1.25 }}>
          {problems["container"] ??
            sheet.fills
              .map((fill) => {
                const item = sheet.kit.find((entry) => entry.key === fill.item);
                return `about ${fill.count} × ${item?.name ?? fill.item}, ${formatMass(fill.mass_kg, units)}`;
              })
              .join("; ")}
        </Typography>
      </Box>
    </>
  );
}
