/** The planner's sheet, section by section: set-up, time, load, kit list, what wins, a fair test. */
import { Box, Button, TextField, Typography } from "@mui/material";
import type { Why } from "../../api/queries";
import type { Family, PlanSheet } from "../../api/types";
import { assumeUnit } from "../../shared/assumeUnit";
import { useUnits } from "../../shared/units";
import { NumberField } from "../../shared/NumberField";
import { ink } from "../../shared/theme";
import { WhyNumber } from "../../shared/Why";
import { TimelineStrip } from "../../drawing/TimelineStrip";
import { FairTestEditor } from "./FairTestEditor";
import { GoalEditor } from "./GoalEditor";
import { KitEditor } from "./KitEditor";
import { MaterialsEditor } from "./MaterialsEditor";
import type { merged, Own } from "./planState";

interface LineProps {
  name: string;
  label: string;
  sheet: PlanSheet;
  own: Own;
  onBack: (name: string) => void;
}

/** What stands beside a field: why this value, what is wrong with it, and the way back to the proposal. */
function Beside({ name, sheet, own, onBack }: Omit<LineProps, "label">) {
  const problem = sheet.problems[name];
  const moved = sheet.moved[name];
  const isOwn = name.startsWith("setup.") ? name.slice(6) in (own.setup ?? {}) : name in own;
  return (
    <Box sx={{ minWidth: 0 }}>
      {problem && (
        <Typography role="alert" sx={{ color: ink.oxide, fontWeight: 600 }}>
          {problem}
        </Typography>
      )}
      <Typography variant="body2" sx={{ color: ink.soft }}>
        {isOwn ? (
          <>
            <b style={{ color: ink.ink }}>Your own.</b>{" "}
            <Button size="small" sx={{ p: 0, minWidth: 0 }} onClick={() => onBack(name)}>
              back to the proposal
            </Button>{" "}
            {sheet.reasons[name]}
          </>
        ) : (
          <>
            {moved !== undefined && (
              <b style={{ color: ink.watch }}>{moved > 0 ? "▲ harder. " : "▼ easier. "}</b>
            )}
            {sheet.reasons[name]}
          </>
        )}
      </Typography>
    </Box>
  );
}

function Section({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <Box component="section" sx={{ borderTop: `2px solid ${ink.ink}`, pt: 1, mt: 3 }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        {title}
      </Typography>
      {children}
    </Box>
  );
}

interface SheetProps {
  sheet: PlanSheet;
  /** The sheet with what was typed since on top. */
  entry: ReturnType<typeof merged>;
  own: Own;
  problems: Readonly<Record<string, string>>;
  /** What a figure of the sheet is asked of, by its name. */
  whyOf: (figure: string) => Why;
  onOwn: (parts: Own) => void;
  onBack: (name: string) => void;
}

function SetupSection({
  family,
  sheet,
  entry,
  own,
  problems,
  onOwn,
  onBack,
}: SheetProps & { family: Family }) {
  const units = useUnits();
  return (
    <Section title="Set-up">
      {family.setup.map((spec) => (
        <Box
          key={spec.key}
          sx={{
            display: "grid",
            gridTemplateColumns: { xs: "1fr", sm: "210px 128px 1fr" },
            gap: 1.5,
            alignItems: "center",
            py: 0.6,
            borderBottom: `1px solid ${ink.line}`,
          }}
        >
          <Typography sx={{ fontWeight: 600 }}>{spec.label}</Typography>
          <TextField
            value={entry.setup[spec.key] ?? ""}
            placeholder={spec.optional ? "no limit" : ""}
            error={`setup.${spec.key}` in problems}
            slotProps={{ htmlInput: { "aria-label": spec.label } }}
            onChange={(e) => onOwn({ setup: { ...own.setup, [spec.key]: e.target.value } })}
            onBlur={() => {
              const typed = own.setup?.[spec.key];
              const meant = typed === undefined ? typed : assumeUnit(typed, spec.kind, units);
              if (meant !== typed) onOwn({ setup: { ...own.setup, [spec.key]: meant ?? "" } });
            }}
          />
          <Beside name={`setup.${spec.key}`} sheet={sheet} own={own} onBack={onBack} />
        </Box>
      ))}
    </Section>
  );
}

function ClockSection({ sheet, entry, own, problems, whyOf, onOwn, onBack }: SheetProps) {
  return (
    <Section title="Against the clock">
      {sheet.timeline && (
        <>
          <TimelineStrip timeline={sheet.timeline} />
          <WhyNumber why={whyOf("tests")}>How long the tests take</WhyNumber>
        </>
      )}
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, mt: 1, alignItems: "start" }}>
        {(
          [
            ["build_minutes", "Minutes to build", 130],
            ["benches", "Benches", 90],
            ["drying_minutes", "Minutes to dry", 130],
            ["next_lesson_hours", "Hours to the next lesson", 170],
          ] as const
        ).map(([key, label, width]) => (
          <NumberField
            key={key}
            label={label}
            value={entry[key]}
            error={key in problems}
            helperText={problems[key]}
            onNumber={(value) => onOwn({ [key]: value ?? 0 })}
            sx={{ width: key in problems ? 300 : width }}
          />
        ))}
        <Button
          variant="outlined"
          aria-pressed={entry.two_lessons}
          onClick={() => onOwn({ two_lessons: !entry.two_lessons })}
        >
          {entry.two_lessons ? "All in one lesson" : "Test in the next lesson"}
        </Button>
      </Box>
      <Beside name="day" sheet={sheet} own={own} onBack={onBack} />
    </Section>
  );
}

interface Props extends SheetProps {
  family: Family;
  /** What is wrong with the name, as saving it said. */
  nameProblem: string | undefined;
}

export function PlannerSheet({ family, nameProblem, ...common }: Props) {
  const { sheet, entry, own, problems, whyOf, onOwn, onBack } = common;
  return (
    <Box>
      <Box sx={{ display: "grid", gridTemplateColumns: { sm: "1fr 2fr" }, gap: 2 }}>
        <TextField
          label="Name"
          value={entry.name}
          error={nameProblem !== undefined}
          helperText={nameProblem}
          onChange={(e) => onOwn({ name: e.target.value })}
        />
        <TextField
          label="The one question"
          value={entry.question}
          onChange={(e) => onOwn({ question: e.target.value })}
        />
      </Box>
      <SetupSection family={family} {...common} />
      <ClockSection {...common} />
      {(family.loaded || family.procedure.top_load || (entry.kit ?? []).length > 0) && (
        <Section title="Load at each bench">
          <KitEditor
            items={entry.kit ?? []}
            container={entry.container ?? null}
            sheet={sheet}
            whyOf={whyOf}
            problems={problems}
            onItems={(kit) => onOwn({ kit })}
            onContainer={(container) => onOwn({ container })}
          />
          <Beside
            name="kit"
            sheet={{ ...sheet, reasons: { kit: sheet.reasons["load"] ?? "" } }}
            own={own}
            onBack={onBack}
          />
        </Section>
      )}
      <Section title="Kit list">
        <MaterialsEditor
          materials={entry.materials ?? []}
          lines={sheet.kit_list}
          whyOf={whyOf}
          problems={problems}
          onChange={(materials) => onOwn({ materials })}
        />
        <Beside name="materials" sheet={sheet} own={own} onBack={onBack} />
      </Section>
      <Section title="What wins">
        <GoalEditor goal={entry} family={family} problems={problems} onChange={onOwn} />
      </Section>
      <Section title="A fair test">
        <FairTestEditor
          factor={entry.factor ?? null}
          controls={entry.controls ?? []}
          ideas={sheet.saying.factors}
          levels={sheet.levels}
          problems={problems}
          onFactor={(factor) => onOwn({ factor })}
          onControls={(controls) => onOwn({ controls })}
        />
      </Section>
    </Box>
  );
}

/** What the plan remarks. */
export function PlannerNotes({ notes }: { notes: readonly string[] }) {
  return notes.map((note) => (
    <Typography key={note} sx={{ mb: 0.5 }}>
      <b style={{ color: ink.watch }}>Note.</b> {note}
    </Typography>
  ));
}
