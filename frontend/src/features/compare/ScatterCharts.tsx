/** How trials ended, how repeats scatter, and the share of designs that stands under rising load. */
import { Typography } from "@mui/material";
import type { Reasons, Team } from "../../api/types";
import { formatMass, formatPercent, POUND_KG } from "../../shared/format";
import { ink } from "../../shared/theme";
import { useUnits } from "../../shared/units";
import { tickLabel, ticks } from "../../drawing/ticks";
import { ChartFrame } from "./ChartFrame";
import { logNormalShare } from "./logNormal";
import { type ScoreAxis, scoreText } from "./scoreAxis";

const W = 610;

export function WaysChart({ ways }: { ways: Reasons["ways"] }) {
  const most = Math.max(...ways.map((one) => one.count), 1);
  const first = ways[0];
  if (!first) return null;
  const height = ways.length * 42 + 4;
  return (
    <ChartFrame
      title="How it ended"
      says={
        first.count > 1
          ? `Most often: ${first.label.toLowerCase()}, ${first.count} times.`
          : "Each trial ended in a way of its own."
      }
      file="how-it-ended"
      head={["How", "Trials", "Who"]}
      rows={ways.map((one) => [one.label, String(one.count), one.names.join(", ")])}
    >
      <svg width="100%" viewBox={`0 0 ${W} ${height}`} role="img" aria-label="How trials ended">
        {ways.map((one, i) => (
          <g key={one.label}>
            {Array.from({ length: one.count }, (_, k) => (
              <rect
                key={k}
                x={k * Math.min(34, 300 / most)}
                y={i * 42 + 6}
                width={Math.min(34, 300 / most) - 4}
                height={24}
                fill={ink.ink}
              />
            ))}
            <text x={one.count * Math.min(34, 300 / most) + 8} y={i * 42 + 24} fontSize={16} fill={ink.ink}>
              <tspan fontWeight={700}>{one.label}</tspan>
              <tspan fill={ink.soft}>
                {" "}
                {one.names.join(", ").length > 34
                  ? `${one.names.join(", ").slice(0, 33)}…`
                  : one.names.join(", ")}
              </tspan>
            </text>
          </g>
        ))}
      </svg>
    </ChartFrame>
  );
}

export function RepeatsTable({
  repeated,
  axis,
  teams,
}: {
  repeated: Reasons["repeated"];
  axis: ScoreAxis;
  teams: ReadonlyMap<number, Team>;
}) {
  if (repeated.length === 0) return null;
  return (
    <section aria-label="Repeated trials">
      <Typography variant="h2">The same design again</Typography>
      {repeated.map((one) => (
        <Typography key={one.design}>
          <b>{teams.get(one.design)?.name}</b>:{" "}
          {one.marks.map((mark) => (mark.at_least ? "≥ " : "") + scoreText(mark.value, axis)).join(", ")}
          {one.mean.sd !== null && one.mean.low !== null && one.mean.high !== null && (
            <>
              ; mean {scoreText(one.mean.mean, axis)}, scatter {formatPercent(one.mean.sd / one.mean.mean)}.
              With {one.mean.n} trials the true mean may lie anywhere from{" "}
              {scoreText(Math.max(0, one.mean.low), axis)} to {scoreText(one.mean.high, axis)}.
            </>
          )}
        </Typography>
      ))}
    </section>
  );
}

const H = 250;
const M = { left: 52, right: 20, top: 12, bottom: 44 };

export function SurvivalChart({ reasons }: { reasons: Reasons }) {
  const units = useUnits();
  const { survival, fit } = reasons;
  if (survival.length < 2) return null;
  const unit = units === "us" ? POUND_KG : 1;
  const most = Math.max(...survival.map((one) => one.load_kg)) * 1.3;
  const x = (kg: number) => M.left + (kg / most) * (W - M.left - M.right);
  const y = (share: number) => M.top + (1 - share) * (H - M.top - M.bottom);
  const steps = survival.map((one) => `H${x(one.load_kg)}V${y(one.share)}`).join("");
  const curve =
    fit &&
    Array.from({ length: 81 }, (_, i) => (i / 80) * most)
      .map((kg, i) => `${i === 0 ? "M" : "L"}${x(kg)} ${y(1 - logNormalShare(kg, fit.mu, fit.sigma))}`)
      .join("");
  return (
    <ChartFrame
      title="Where designs of this class fail"
      says={
        <>
          {fit
            ? `Half of such designs fail below ${formatMass(Number(fit.median_kg.toPrecision(3)), units)} (somewhere from ${formatMass(Number(fit.median_low_kg.toPrecision(2)), units)} to ${formatMass(Number(fit.median_high_kg.toPrecision(2)), units)}). `
            : ""}
          {reasons.fit_says}
        </>
      }
      file="where-they-fail"
      head={["Load", "Share still standing"]}
      rows={survival.map((one) => [formatMass(one.load_kg, units), formatPercent(one.share)])}
    >
      <svg
        width="100%"
        viewBox={`0 0 ${W} ${H}`}
        role="img"
        aria-label="Share of designs that stands under rising load"
      >
        {[0, 0.5, 1].map((share) => (
          <g key={share}>
            <path d={`M${M.left} ${y(share)}H${W - M.right}`} stroke={ink.line} strokeWidth={1.2} />
            <text x={M.left - 8} y={y(share) + 5} textAnchor="end" fontSize={15} fill={ink.soft}>
              {share === 0 ? "none" : share === 1 ? "all" : "half"}
            </text>
          </g>
        ))}
        {ticks(most / unit, 6).map((value) => (
          <text
            key={value}
            x={x(value * unit)}
            y={H - M.bottom + 20}
            textAnchor="middle"
            fontSize={15}
            fontWeight={600}
          >
            {tickLabel(value)}
          </text>
        ))}
        <text x={W - M.right} y={H - 6} textAnchor="end" fontSize={15} fill={ink.soft}>
          load, {units === "us" ? "lb" : "kg"}
        </text>
        <path d={`M${x(0)} ${y(1)}${steps}`} fill="none" stroke={ink.held} strokeWidth={3.5} />
        {curve && <path d={curve} fill="none" stroke={ink.ink} strokeWidth={2} strokeDasharray="7 5" />}
      </svg>
      <p style={{ margin: 0, color: ink.soft }}>
        Steps: the designs themselves.{fit && " Dashed: the fitted curve."}
      </p>
    </ChartFrame>
  );
}
