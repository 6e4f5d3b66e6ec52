/** One kind of load object as it is typed: its name, how many, and how its mass is known. */
import { Box, Button, MenuItem, TextField, Typography } from "@mui/material";
import { useCoins } from "../../api/queries";
import type { KitItem, TypedKitItem } from "../../api/types";
import { assumeUnit } from "../../shared/assumeUnit";
import { useUnits } from "../../shared/units";
import { NumberField } from "../../shared/NumberField";
import { ink } from "../../shared/theme";
import { KitItemDrawing } from "../../drawing/KitItemDrawing";

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

/** A load object of which nothing is said yet. */
export const NO_ITEM: TypedKitItem = {
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

interface FieldProps {
  item: TypedKitItem;
  problem: string | undefined;
  onChange: (item: TypedKitItem) => void;
}

/** A published coin: its mass and its size are known. */
function CoinField({ item, problem, onChange }: FieldProps) {
  const coins = useCoins(true).data ?? [];
  return (
    <TextField
      select
      label="Coin"
      value={item.coin}
      // Before one could be chosen, that none is chosen is no error.
      error={problem !== undefined && item.coin !== ""}
      helperText={
        item.coin === ""
          ? "Choose the coin."
          : (problem ?? coins.find((coin) => coin.key === item.coin)?.source)
      }
      onChange={(e) => {
        const coin = coins.find((coin) => coin.key === e.target.value);
        const renamed = item.name === "" || coins.some((other) => other.name === item.name);
        onChange({
          ...item,
          coin: e.target.value,
          shape: item.shape === "bag" ? "bag" : "disc",
          // Its published size counts.
          diameter: "",
          thickness: "",
          name: renamed ? (coin?.name ?? "") : item.name,
        });
      }}
      sx={{ width: 230 }}
    >
      {coins.map((coin) => (
        <MenuItem key={coin.key} value={coin.key}>
          {coin.name}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** The masses of numbered, unlike objects, in the order in which they are loaded. */
function MassesField({ item, problem, onChange }: FieldProps) {
  const units = useUnits();
  return (
    <TextField
      label="Masses, in the order of loading"
      multiline
      value={(item.masses ?? []).join(", ")}
      placeholder="412, 398, 405 g"
      error={problem !== undefined}
      helperText={problem ?? "Number them 1, 2, 3 … on the pieces."}
      onChange={(e) => onChange({ ...item, masses: e.target.value.split(/ *[,;\n] */) })}
      onBlur={() => {
        const masses = item.masses ?? [];
        // One unit will do for all; without any it is the one that is meant.
        if (masses.some((mass) => /\p{L}/u.test(mass))) return;
        const meant = masses.map((mass) => assumeUnit(mass, "mass", units));
        if (meant.join() !== masses.join()) onChange({ ...item, masses: meant });
      }}
      sx={{ flex: "1 1 260px" }}
    />
  );
}

export function KitItemRow(props: {
  item: TypedKitItem;
  /** Where its problems stand; empty for one that stands alone. */
  path: string;
  weighs: string;
  problems: Problems;
  onChange: (item: TypedKitItem) => void;
  /** Without it, the row cannot be taken away. */
  onRemove?: () => void;
}) {
  const { item, path, weighs, problems, onChange, onRemove } = props;
  const units = useUnits();
  const problem = (field: string) => problems[path ? `${path}.${field}` : field];
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
      onBlur={() => {
        const kind = name === "name" ? null : name === "diameter" || name === "thickness" ? "length" : "mass";
        const meant = kind ? assumeUnit(item[name], kind, units) : item[name];
        if (meant !== item[name]) onChange({ ...item, [name]: meant });
      }}
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
        {item.known_by === "coin" && <CoinField item={item} problem={problem("coin")} onChange={onChange} />}
        {numbered && (
          <>
            <MassesField item={item} problem={problem("masses")} onChange={onChange} />
            {text("scale_resolution", "Scale's step", 92)}
          </>
        )}
        {text("diameter", "Width", 84)}
        {text("thickness", "Height", 84)}
        {onRemove && (
          <Button onClick={onRemove} aria-label={`Remove ${item.name || "this load item"}`}>
            Remove
          </Button>
        )}
        <Typography sx={{ ml: "auto", fontWeight: 600, pt: 1, whiteSpace: "nowrap" }}>{weighs}</Typography>
      </Box>
    </Box>
  );
}
