/** The load at each bench: items and how their mass is known, the container, and whether the load lasts. */
import { Box, Button, MenuItem, TextField, Typography } from "@mui/material";
import { useCoins, type Why } from "../../api/queries";
import type { KitItem, PlanSheet, TypedKitItem, TypedPlan } from "../../api/types";
import { formatMass, formatMassWithDoubt } from "../../shared/format";
import { NumberField } from "../../shared/NumberField";
import { ink } from "../../shared/theme";
import { useUnits } from "../../shared/units";
import { WhyNumber } from "../../shared/Why";
import { KitItemDrawing } from "../../drawing/KitItemDrawing";

type Container = NonNullable<TypedPlan["container"]>;
type Problems = Readonly<Record<string, string>>;

const SHAPES: Record<KitItem["shape"], string> = {
  platform: "Platform, cup or tray",
  nut: "Nut",
  disc: "Coin or disc",
  tile: "Tile, book or block",
  ball: "Marble or ball",
  bag: "Bag or roll",
};

const KNOWN_BY: Record<TypedKitItem["known_by"], string> = {
  batch: "weighed together",
  coin: "a published coin",
  typed: "stated",
  numbered: "numbered, unlike",
};

const EMPTY: TypedKitItem = {
  name: "",
  shape: "disc",
  count: 20,
  roll_of: 1,
  known_by: "batch",
  batch_count: 10,
  batch_mass: "",
  scale_resolution: "1 g",
  mass: "",
  mass_doubt: "",
  coin: "",
  masses: [],
  diameter: "",
  thickness: "",
};

function ItemRow(props: {
  item: TypedKitItem;
  path: string;
  weighs: string;
  problems: Problems;
  onChange: (item: TypedKitItem) => void;
  onRemove: () => void;
}) {
  const { item, path, weighs, problems, onChange, onRemove } = props;
  const coins = useCoins(item.known_by === "coin").data ?? [];
  const problem = (field: string) => problems[`${path}.${field}`];
  const text = (
    name: "name" | "batch_mass" | "scale_resolution" | "mass" | "mass_doubt" | "diameter" | "thickness",
    label: string,
    width: number,
  ) => (
    <TextField
      label={label}
      value={item[name]}
      error={problem(name) !== undefined}
      helperText={problem(name)}
      onChange={(e) => onChange({ ...item, [name]: e.target.value })}
      sx={{ width: problem(name) ? Math.max(width, 220) : width }}
    />
  );
  const number = (name: "count" | "roll_of" | "batch_count", label: string, width = 88) => (
    <NumberField
      label={label}
      value={item[name]}
      error={problem(name) !== undefined}
      helperText={problem(name)}
      onNumber={(value) => onChange({ ...item, [name]: value ?? 0 })}
      sx={{ width }}
    />
  );
  const numbered = item.known_by === "numbered";
  return (
    <Box
      component="fieldset"
      data-kit-item=""
      sx={{ border: 0, borderTop: `1px solid ${ink.line}`, m: 0, p: 0, pt: 1.5, pb: 1.5 }}
    >
      <Typography
        component="legend"
        sx={{ position: "absolute", width: "1px", height: "1px", overflow: "hidden", clipPath: "inset(50%)" }}
      >
        {SHAPES[item.shape]} {item.name}
      </Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.25, alignItems: "start" }}>
        <Box sx={{ width: 34, pt: 0.5 }}>
          <KitItemDrawing item={item} />
        </Box>
        {text("name", "Name", 176)}
        {item.shape !== "platform" && (
          <TextField
            select
            label="Drawn as"
            value={item.shape}
            onChange={(e) => onChange({ ...item, shape: e.target.value as KitItem["shape"] })}
            sx={{ width: 142 }}
          >
            {(Object.keys(SHAPES) as KitItem["shape"][])
              .filter((shape) => shape !== "platform")
              .map((shape) => (
                <MenuItem key={shape} value={shape}>
                  {SHAPES[shape]}
                </MenuItem>
              ))}
          </TextField>
        )}
        {item.shape !== "platform" && !numbered && number("count", "How many")}
        {(item.shape === "bag" || item.roll_of > 1) && !numbered && number("roll_of", "In one", 76)}
        <TextField
          select
          label="Mass is"
          value={item.known_by}
          onChange={(e) => onChange({ ...item, known_by: e.target.value as TypedKitItem["known_by"] })}
          sx={{ width: 158 }}
        >
          {(Object.keys(KNOWN_BY) as TypedKitItem["known_by"][])
            .filter((key) => item.shape !== "platform" || key === "batch" || key === "typed")
            .map((key) => (
              <MenuItem key={key} value={key}>
                {KNOWN_BY[key]}
              </MenuItem>
            ))}
        </TextField>
        {item.known_by === "batch" && (
          <>
            {number("batch_count", "Weighed", 82)}
            {text("batch_mass", "Scale showed", 112)}
            {text("scale_resolution", "Scale's step", 92)}
          </>
        )}
        {item.known_by === "typed" && (
          <>
            {text("mass", item.shape === "bag" ? "A bag weighs" : "One weighs", 104)}
            {text("mass_doubt", "Give or take", 100)}
          </>
        )}
        {item.known_by === "coin" && (
          <TextField
            select
            label="Coin"
            value={item.coin}
            error={problem("coin") !== undefined}
            helperText={problem("coin") ?? coins.find((coin) => coin.key === item.coin)?.source}
            onChange={(e) => {
              const coin = coins.find((coin) => coin.key === e.target.value);
              onChange({ ...item, coin: e.target.value, name: item.name || (coin?.name ?? "") });
            }}
            sx={{ width: 230 }}
          >
            {coins.map((coin) => (
              <MenuItem key={coin.key} value={coin.key}>
                {coin.name}
              </MenuItem>
            ))}
          </TextField>
        )}
        {numbered && (
          <>
            <TextField
              label="Masses, in the order of loading"
              multiline
              value={(item.masses ?? []).join(", ")}
              placeholder="412 g, 398 g, 405 g"
              error={problem("masses") !== undefined}
              helperText={problem("masses") ?? "Number them 1, 2, 3 … on the pieces."}
              onChange={(e) => onChange({ ...item, masses: e.target.value.split(/, */) })}
              sx={{ flex: "1 1 260px" }}
            />
            {text("scale_resolution", "Scale's step", 92)}
          </>
        )}
        {text("diameter", "Width", 84)}
        {text("thickness", "Height", 84)}
        <Button onClick={onRemove}>Remove</Button>
        <Typography sx={{ ml: "auto", fontWeight: 600, pt: 1, whiteSpace: "nowrap" }}>{weighs}</Typography>
      </Box>
    </Box>
  );
}

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
        <ItemRow
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
        <Button onClick={() => onItems([...items, EMPTY])}>Add a load item</Button>
        {!items.some((item) => item.shape === "platform") && (
          <Button
            onClick={() =>
              onItems([{ ...EMPTY, name: "cup", shape: "platform", count: 1, batch_count: 1 }, ...items])
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
