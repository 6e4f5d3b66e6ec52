/** The kit list: what a team, a bench and the class need, what is there, and what to buy. */
import { Box, Button, TextField, Typography } from "@mui/material";
import type { Why } from "../../api/queries";
import type { KitLine, TypedMaterial } from "../../api/types";
import { NumberField } from "../../shared/NumberField";
import { ink } from "../../shared/theme";
import { WhyNumber } from "../../shared/Why";

type Problems = Readonly<Record<string, string>>;

const EMPTY: TypedMaterial = {
  name: "",
  unit: "",
  final: 1,
  practice: 0,
  per_bench: 0,
  per_class: 0,
  spare_share: 0.1,
  pack_size: 1,
  owned: 0,
  buildable: true,
  size: "",
  hazards: [],
};

const COLUMNS = [
  ["final", "Each team, final"],
  ["practice", "Practice"],
  ["per_bench", "Each bench"],
  ["per_class", "Class"],
  ["pack_size", "In a pack"],
  ["owned", "There"],
] as const;

interface Props {
  materials: readonly TypedMaterial[];
  lines: readonly KitLine[];
  whyOf: (figure: string) => Why;
  problems: Problems;
  onChange: (materials: TypedMaterial[]) => void;
}

export function MaterialsEditor({ materials, lines, whyOf, problems, onChange }: Props) {
  const set = (index: number, parts: Partial<TypedMaterial>) =>
    onChange(materials.map((material, i) => (i === index ? { ...material, ...parts } : material)));
  const cell = { "& .MuiInputBase-input": { px: 0.75, py: 0.6, textAlign: "right" } } as const;
  return (
    <>
      {"materials" in problems && (
        <Typography role="alert" sx={{ color: ink.oxide, fontWeight: 600 }}>
          {problems["materials"]}
        </Typography>
      )}
      <Box sx={{ overflowX: "auto" }}>
        <Box
          component="table"
          sx={{
            borderCollapse: "collapse",
            width: "100%",
            "& th": {
              textAlign: "right",
              fontWeight: 600,
              fontSize: "0.9rem",
              px: 0.5,
              verticalAlign: "bottom",
            },
            "& td": { borderBottom: `1px solid ${ink.line}`, px: 0.5, py: 0.4 },
          }}
        >
          <thead>
            <tr>
              <th style={{ textAlign: "left" }}>What</th>
              {COLUMNS.map(([key, label]) => (
                <th key={key}>{label}</th>
              ))}
              <th>Needed</th>
              <th>To buy</th>
              <td />
            </tr>
          </thead>
          <tbody>
            {materials.map((material, index) => {
              const line = lines[index];
              const wrong = Object.entries(problems).find(([key]) => key.startsWith(`materials.${index}.`));
              return (
                <tr key={index}>
                  <td style={{ minWidth: 200 }}>
                    <TextField
                      fullWidth
                      value={material.name}
                      error={wrong !== undefined}
                      helperText={wrong?.[1]}
                      slotProps={{ htmlInput: { "aria-label": "What is needed" } }}
                      onChange={(e) => set(index, { name: e.target.value, unit: "" })}
                      sx={{ "& .MuiInputBase-input": { py: 0.6 } }}
                    />
                  </td>
                  {COLUMNS.map(([key, label]) => (
                    <td key={key} style={{ width: 74 }}>
                      <NumberField
                        value={material[key]}
                        error={wrong?.[0].endsWith(`.${key}`) ?? false}
                        slotProps={{
                          htmlInput: { "aria-label": `${label}: ${material.name}`, step: "any", min: 0 },
                        }}
                        onNumber={(value) => set(index, { [key]: value ?? 0 })}
                        sx={cell}
                      />
                    </td>
                  ))}
                  <Box component="td" sx={{ textAlign: "right", fontWeight: 600, whiteSpace: "nowrap" }}>
                    {line && <WhyNumber why={whyOf(`line.${index}`)}>{line.needed_words}</WhyNumber>}
                  </Box>
                  <Box component="td" sx={{ textAlign: "right", fontWeight: 700, whiteSpace: "nowrap" }}>
                    {line?.buy_words}
                  </Box>
                  <td>
                    <Button
                      size="small"
                      aria-label={`Remove ${material.name}`}
                      onClick={() => onChange(materials.filter((_, i) => i !== index))}
                      sx={{ minWidth: 0, px: 0.75 }}
                    >
                      ✕
                    </Button>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </Box>
      </Box>
      <Button onClick={() => onChange([...materials, EMPTY])}>Add a line</Button>
    </>
  );
}
