/** A chart with its answer in words, the same figures as a table, and the drawing to take along as SVG. */
import { Box, Typography } from "@mui/material";
import type { ReactNode } from "react";
import { ink } from "../../shared/theme";
import { SaveDrawing } from "./SaveDrawing";

interface Props {
  title: string;
  says: ReactNode;
  children: ReactNode;
  /** The figures behind the drawing: a head and rows of text. */
  head: readonly string[];
  rows: readonly (readonly string[])[];
  file: string;
}

export function ChartFrame({ title, says, children, head, rows, file }: Props) {
  return (
    <Box component="section" data-chart aria-label={title} sx={{ minWidth: 0, mb: 3 }}>
      <Typography variant="h2">{title}</Typography>
      <Typography component="div" sx={{ mb: 0.5 }}>
        {says}
      </Typography>
      {children}
      <Box
        component="details"
        sx={{
          "& table": { borderCollapse: "collapse", mt: 0.5 },
          "& th, & td": {
            textAlign: "left",
            pr: 2.5,
            py: 0.3,
            borderBottom: `1px solid ${ink.line}`,
            verticalAlign: "top",
          },
        }}
      >
        <Typography
          component="summary"
          variant="body2"
          sx={{ fontWeight: 600, cursor: "pointer", display: "inline-block" }}
        >
          As a table
        </Typography>
        <table>
          <thead>
            <tr>
              {head.map((cell) => (
                <th key={cell}>{cell}</th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((row, i) => (
              <tr key={i}>
                {row.map((cell, j) => (
                  <td key={j}>{cell}</td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
        <SaveDrawing file={file} />
      </Box>
    </Box>
  );
}
