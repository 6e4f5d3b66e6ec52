/** The cautions of a plan; what is dangerous is declared here and its conditions are confirmed here. */
import { Box, Checkbox, FormControlLabel, Typography } from "@mui/material";
import { useGoalWords } from "../../api/queries";
import type { Caution, TypedPlan } from "../../api/types";
import { ink } from "../../shared/theme";
import { CautionSign } from "../../drawing/CautionSign";

type Declared = NonNullable<TypedPlan["declared"]>;
type Confirmed = NonNullable<TypedPlan["confirmed"]>;

interface Props {
  cautions: readonly Caution[];
  declared: Declared;
  confirmed: Confirmed;
  problems: Readonly<Record<string, string>>;
  onDeclared: (declared: Declared) => void;
  onConfirmed: (confirmed: Confirmed) => void;
}

export function CautionList({ cautions, declared, confirmed, problems, onDeclared, onConfirmed }: Props) {
  const words = useGoalWords().data?.declared ?? [];
  const toggled = <T extends string>(list: readonly T[], key: T): T[] =>
    list.includes(key) ? list.filter((listed) => listed !== key) : [...list, key];
  return (
    <>
      {cautions.map((caution) => (
        <Box key={caution.key} sx={{ display: "flex", gap: 1, mt: 0.75 }}>
          <CautionSign size={18} />
          <Box>
            <Typography variant="body2">
              <b>{caution.title}.</b> {caution.text}
            </Typography>
            {caution.condition && (
              <FormControlLabel
                control={
                  <Checkbox
                    size="small"
                    checked={(confirmed as string[]).includes(caution.key)}
                    onChange={() => onConfirmed(toggled(confirmed as string[], caution.key) as Confirmed)}
                  />
                }
                label={`I confirm: ${caution.condition}`}
                sx={{
                  alignItems: "start",
                  "& .MuiFormControlLabel-label": {
                    fontSize: "0.95rem",
                    pt: 0.9,
                    fontWeight: 600,
                    color: `confirm.${caution.key}` in problems ? ink.oxide : ink.held,
                  },
                }}
              />
            )}
          </Box>
        </Box>
      ))}
      <Typography variant="body2" sx={{ mt: 1.5, color: ink.soft }}>
        Say if any of these is used:
      </Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap" }}>
        {words.map((word) => (
          <FormControlLabel
            key={word.key}
            control={
              <Checkbox
                size="small"
                checked={(declared as string[]).includes(word.key)}
                onChange={() => onDeclared(toggled(declared as string[], word.key) as Declared)}
              />
            }
            label={word.title}
            sx={{ "& .MuiFormControlLabel-label": { fontSize: "0.95rem" } }}
          />
        ))}
      </Box>
      {problems["declared"] && (
        <Typography role="alert" sx={{ color: ink.oxide, fontWeight: 600 }}>
          {problems["declared"]}
        </Typography>
      )}
    </>
  );
}
