/** Materials: what each is taken to weigh and withstand, and from where that is known; and a stock of one's own. */
import { Box, Button, Link, MenuItem, TextField, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link as RouterLink } from "react-router";
import { ApiError, answered, api } from "../../api/client";
import { keys, showAnswer, useStocks } from "../../api/queries";
import type { Stock, TriedStock, TypedStock } from "../../api/types";
import { formatThickness } from "../../shared/format";
import { Failed, Loading, Notice, sentenceOf } from "../../shared/states";
import { condensed, ink } from "../../shared/theme";
import { useUnits } from "../../shared/units";

const FORMS: Record<string, string> = {
  sheet: "Sheets",
  board: "Corrugated card",
  rod: "Sticks and rods",
  tube: "Straws",
  line: "String",
  tape: "Tape",
  joint: "Joints",
  solid: "Lumps",
  block: "Blocks",
};

type Bounds = Stock["density_kg_m3"];

/** Columns of the list: name, thickness, then what it withstands. */
const LINE = {
  display: "grid",
  gridTemplateColumns: {
    xs: "repeat(3, minmax(0, 1fr))",
    md: "minmax(150px, 218px) 92px repeat(3, minmax(100px, 132px)) auto",
  },
  columnGap: 1,
  alignItems: "baseline",
  py: 0.4,
  borderBottom: `1px solid ${ink.line}`,
} as const;

function Range({ bounds, per, unit = "" }: { bounds: Bounds; per: number; unit?: string }) {
  const figure = (value: number) => String(Number((value / per).toPrecision(2)));
  return (
    <Box title={bounds.source} sx={{ whiteSpace: "nowrap" }}>
      <b style={{ fontFamily: condensed }}>{figure(bounds.typical)}</b>{" "}
      <span style={{ color: ink.soft }}>
        {figure(bounds.low)}–{figure(bounds.high)} {unit}
      </span>
    </Box>
  );
}

export default function StocksPage() {
  const stocks = useStocks();
  const units = useUnits();
  const client = useQueryClient();
  const remove = useMutation({
    mutationFn: (id: number) => answered(api.DELETE("/api/stocks/{id}", { params: { path: { id } } })),
    onSuccess: (left) => showAnswer(client, keys.stocks, left),
  });
  if (stocks.isPending) return <Loading what="the materials" />;
  if (!stocks.data) return <Failed error={stocks.error} retry={() => void stocks.refetch()} />;
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "minmax(0, 1fr)", lg: "minmax(0, 1fr) 420px" },
        gap: 5,
        pt: 1,
      }}
    >
      <section>
        <Link component={RouterLink} to="/drafting" color="inherit">
          Drafting table
        </Link>
        <Typography variant="h1">Materials</Typography>
        <Typography sx={{ color: ink.soft, maxWidth: 640 }}>
          Ranges from memory or by order of magnitude, wide for that reason; hold the pointer over one to see
          which. Measure your own sheet to make them narrower.
        </Typography>
        {Object.entries(FORMS).map(([form, title]) => (
          <Box key={form} sx={{ mt: 2 }}>
            <Box sx={{ ...LINE, color: ink.soft, fontSize: "0.9rem" }}>
              <Typography variant="h3" component="h2" sx={{ color: ink.ink }}>
                {title}
              </Typography>
              {form === "joint" ? (
                <span>holds</span>
              ) : (
                <>
                  <span>thick</span>
                  <span>stiff, GPa</span>
                  <span>squeezed, MPa</span>
                  <span>pulled, MPa</span>
                </>
              )}
            </Box>
            {stocks.data
              .filter((stock) => stock.form === form)
              .map((stock) => (
                <Box key={stock.key} sx={LINE}>
                  <Box>
                    {stock.name}
                    {stock.measured && <b style={{ color: ink.held }}> measured</b>}
                  </Box>
                  {stock.joint_n ? (
                    <Range bounds={stock.joint_n} per={1} unit="N" />
                  ) : (
                    <>
                      <Box title={stock.thickness_m.source}>
                        {formatThickness(stock.thickness_m.typical, units)}
                      </Box>
                      <Range bounds={stock.elastic_modulus_pa} per={1e9} />
                      <Range bounds={stock.compression_pa} per={1e6} />
                      <Range bounds={stock.tension_pa} per={1e6} />
                    </>
                  )}
                  {stock.own !== null && (
                    <Button size="small" onClick={() => stock.own !== null && remove.mutate(stock.own)}>
                      Remove
                    </Button>
                  )}
                </Box>
              ))}
          </Box>
        ))}
      </section>
      <OwnStock sheets={stocks.data.filter((stock) => stock.form === "sheet" && stock.own === null)} />
    </Box>
  );
}

const EMPTY: TypedStock = {
  name: "",
  like: "manila",
  thickness: "",
  stack: 10,
  grammage: null,
  sheets: 10,
  sheets_mass: "",
  sheet_width: "",
  sheet_length: "",
  scale_step: "1 g",
  overhang: "",
  droop: "",
  ruler_step: "1 mm",
};

function OwnStock({ sheets }: { sheets: readonly Stock[] }) {
  const client = useQueryClient();
  const [typed, setTyped] = useState<TypedStock>(EMPTY);
  const [tried, setTried] = useState<TriedStock | null>(null);
  const attempt = useMutation({
    mutationFn: () => answered(api.POST("/api/stocks/try", { body: typed })),
    onSuccess: setTried,
  });
  const add = useMutation({
    mutationFn: () => answered(api.POST("/api/stocks", { body: typed })),
    onSuccess: async () => {
      setTyped(EMPTY);
      setTried(null);
      await client.invalidateQueries({ queryKey: keys.stocks });
    },
  });
  const error = add.error ?? attempt.error;
  const fields = error instanceof ApiError ? error.fields : {};
  const set = (change: Partial<TypedStock>) => {
    setTyped({ ...typed, ...change });
    setTried(null);
    add.reset();
    attempt.reset();
  };
  const field = (key: keyof TypedStock, label: string, placeholder: string) => (
    <TextField
      label={label}
      placeholder={placeholder}
      value={typed[key] ?? ""}
      error={key in fields}
      helperText={fields[key]}
      onChange={(event) => set({ [key]: event.target.value })}
    />
  );
  const whole = (key: "stack" | "sheets", label: string) => (
    <TextField
      label={label}
      type="number"
      value={typed[key]}
      error={key in fields}
      helperText={fields[key]}
      onChange={(event) => set({ [key]: Number(event.target.value) })}
    />
  );
  return (
    <Box component="aside" sx={{ "& .MuiTextField-root": { width: "100%" } }}>
      <Typography variant="h2">A sheet of your own</Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 1.5, mt: 1.5 }}>
        {field("name", "Name", "blue school card")}
        <TextField
          select
          label="Most like"
          value={typed.like}
          onChange={(event) => set({ like: event.target.value })}
        >
          {sheets.map((stock) => (
            <MenuItem key={stock.key} value={stock.key}>
              {stock.name}
            </MenuItem>
          ))}
        </TextField>
      </Box>
      <Typography variant="h3" sx={{ mt: 2 }}>
        1. How thick: a stack between two blocks
      </Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 1.5, mt: 1 }}>
        {whole("stack", "Sheets in the stack")}
        {field("thickness", "Thickness of the stack", "2.7 mm")}
      </Box>
      <Typography variant="h3" sx={{ mt: 2 }}>
        2. How heavy: ten sheets on the scale
      </Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr 1fr", gap: 1.5, mt: 1 }}>
        {whole("sheets", "Sheets")}
        {field("sheets_mass", "Weigh", "131 g")}
        {field("scale_step", "Scale’s step", "1 g")}
        {field("sheet_width", "Width", "210 mm")}
        {field("sheet_length", "Length", "297 mm")}
        <TextField
          label="or g/m²"
          type="number"
          value={typed.grammage ?? ""}
          error={"grammage" in fields}
          onChange={(event) =>
            set({ grammage: event.target.value === "" ? null : Number(event.target.value) })
          }
        />
      </Box>
      <Typography variant="h3" sx={{ mt: 2 }}>
        3. How stiff, if you like: a strip over the table’s edge
      </Typography>
      <DroopFigure />
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr 1fr", gap: 1.5, mt: 1 }}>
        {field("overhang", "Sticks out, along the strip", "180 mm")}
        {field("droop", "Tip hangs below", "42 mm")}
        {field("ruler_step", "Ruler’s step", "1 mm")}
      </Box>
      {tried && <Tried tried={tried} />}
      {error && <Notice kind="problem">{sentenceOf(error)}</Notice>}
      <Box sx={{ display: "flex", gap: 1.5, mt: 2 }}>
        <Button variant="outlined" onClick={() => attempt.mutate()} disabled={attempt.isPending}>
          Work it out
        </Button>
        <Button variant="contained" onClick={() => add.mutate()} disabled={add.isPending}>
          Keep it
        </Button>
      </Box>
    </Box>
  );
}

function Tried({ tried }: { tried: TriedStock }) {
  const { grammage, thickness, droop } = tried;
  const share = (value: { value: number; expanded_uncertainty: number }) =>
    `± ${Math.round((100 * value.expanded_uncertainty) / value.value)} %`;
  return (
    <Notice kind="done">
      {(grammage.value * 1000).toFixed(0)} g/m² ({share(grammage)}),{" "}
      {Number((thickness.value * 1000).toPrecision(3))} mm
      {droop &&
        `, ${(droop.modulus_pa.value / 1e9).toPrecision(2)} GPa (${share(droop.modulus_pa)}) from a droop of ${droop.angle_deg.toFixed(0)}°`}
      .
    </Notice>
  );
}

function DroopFigure() {
  return (
    <svg
      viewBox="0 0 420 110"
      width="100%"
      role="img"
      aria-label="A strip held on a table droops over its edge"
    >
      <path d="M0 34h150v76h-20v-60H0z" fill={ink.stone} stroke={ink.ink} strokeWidth={1.6} />
      <path d="M20 31H150C210 32 260 44 300 74" fill="none" stroke={ink.ink} strokeWidth={4} />
      <path d="M60 8h50v22H60z" fill={ink.steel} stroke={ink.ink} />
      <path d="M150 34h190" stroke={ink.soft} strokeDasharray="4 4" />
      <path d="M330 34v40M324 34h12M324 74h12M300 74h36" stroke={ink.oxide} strokeWidth={1.6} fill="none" />
      <text x={342} y={60} fontSize={15} fill={ink.oxide} fontWeight={600}>
        hangs
      </text>
      <text x={196} y={24} fontSize={15} fill={ink.oxide} fontWeight={600}>
        sticks out
      </text>
    </svg>
  );
}
