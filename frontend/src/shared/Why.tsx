/** Why this number? A figure that says at a touch how it came about: the formula, what went into it, and who read that. */
import { Box, Link, Popover, Typography } from "@mui/material";
import type { SxProps } from "@mui/material";
import { useState, type ReactNode } from "react";
import { useWhy, type Why } from "../api/queries";
import type { Origin } from "../api/types";
import { Failed } from "./states";
import { bareButton, ink } from "./theme";

const when = (at: string) =>
  new Date(at).toLocaleString("en-GB", {
    day: "numeric",
    month: "short",
    hour: "2-digit",
    minute: "2-digit",
  });

/** How it was come by, whose entry it is and when, and how far off it may be: sentences. */
function howOf({ how, entered, note }: Origin): string {
  const whose = [how, entered.by && `in ${entered.by}’s class`, entered.at && when(entered.at)];
  const said = whose.filter(Boolean).join(", ");
  return [said && `${said.charAt(0).toUpperCase()}${said.slice(1)}.`, note].filter(Boolean).join(" ");
}

/** What went into a figure, a line each; what was worked out itself unfolds. */
function Inputs({ of, depth }: { of: readonly Origin[]; depth: number }) {
  return (
    <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0, pl: depth > 0 ? 2 : 0 }}>
      {of.map((own, i) => (
        <Box component="li" key={i} sx={{ py: 0.4, borderTop: `1px solid ${ink.line}` }}>
          {own.rule ? (
            <details open={depth === 0 && of.length <= 3}>
              <summary style={{ cursor: "pointer" }}>
                <Named own={own} />
              </summary>
              <Worked own={own} depth={depth + 1} />
            </details>
          ) : (
            <>
              <Named own={own} />
              <Typography variant="body2" sx={{ color: ink.soft }}>
                {howOf(own)}
              </Typography>
            </>
          )}
        </Box>
      ))}
    </Box>
  );
}

/** A symbol, its number set low. */
function Symbol({ of }: { of: string }) {
  const [, letters = of, number] = /^(\D+)(\d+)$/.exec(of) ?? [];
  return (
    <i>
      {" "}
      ({letters}
      {number && <sub>{number}</sub>})
    </i>
  );
}

function Named({ own }: { own: Origin }) {
  return (
    <>
      {own.name}
      {own.symbol && <Symbol of={own.symbol} />}: <b>{own.value}</b>
    </>
  );
}

/** The formula in words and symbols, what went into it, the version of the rules and where they are written. */
function Worked({ own, depth }: { own: Origin; depth: number }) {
  return (
    <Box>
      {own.rule ? (
        <>
          <Typography>
            {own.rule.words.charAt(0).toUpperCase() + own.rule.words.slice(1)}:{" "}
            <Box component="span" sx={{ fontWeight: 600, whiteSpace: "nowrap" }}>
              {own.formula}
            </Box>
          </Typography>
          {own.note && (
            <Typography variant="body2" sx={{ mb: 0.5 }}>
              {own.note}
            </Typography>
          )}
          <Inputs of={own.inputs} depth={depth} />
          <Typography variant="body2" sx={{ color: ink.soft, mt: 0.5 }}>
            {own.rule.version && `Rules ${own.rule.version}. `}
            <Link href={`/formulas#${own.rule.anchor}`} target="_blank" sx={{ color: ink.oxide }}>
              In the formulas: {own.rule.section}
            </Link>
          </Typography>
        </>
      ) : (
        <Typography>{howOf(own)}</Typography>
      )}
    </Box>
  );
}

/** The panel beside a figure. */
export function WhyPanel({
  why,
  anchor,
  onClose,
}: {
  why: Why | null;
  anchor: Element | null;
  onClose: () => void;
}) {
  const asked = useWhy(why);
  return (
    <Popover
      open={why !== null && anchor !== null}
      anchorEl={anchor}
      onClose={onClose}
      anchorOrigin={{ vertical: "bottom", horizontal: "left" }}
      slotProps={{
        paper: {
          role: "dialog",
          "aria-label": "Why this number?",
          sx: { border: `3px solid ${ink.ink}`, p: 2, width: 520, maxWidth: "94vw", maxHeight: "80vh" },
        },
      }}
    >
      {asked.isError && <Failed error={asked.error} retry={() => void asked.refetch()} />}
      {asked.data && (
        <>
          <Typography variant="h2" component="h2">
            {asked.data.name}: {asked.data.value}
          </Typography>
          <Worked own={asked.data} depth={0} />
        </>
      )}
      {asked.isPending && <Typography role="status">Fetching how it came about …</Typography>}
    </Popover>
  );
}

/** A figure that can be asked why. It looks as it stands, with a dotted line below. */
export function WhyNumber({ why, children, sx }: { why: Why; children: ReactNode; sx?: SxProps }) {
  const [anchor, setAnchor] = useState<Element | null>(null);
  return (
    <>
      <Box
        component="button"
        type="button"
        title="Why this number?"
        onClick={(event) => setAnchor(event.currentTarget)}
        sx={{
          ...bareButton,
          background: "none",
          p: 0,
          lineHeight: "inherit",
          letterSpacing: "inherit",
          textDecoration: `underline dotted ${ink.steel}`,
          textUnderlineOffset: "0.2em",
          textDecorationThickness: "1.5px",
          ...(sx as object),
        }}
      >
        {children}
      </Box>
      <WhyPanel why={anchor && why} anchor={anchor} onClose={() => setAnchor(null)} />
    </>
  );
}
