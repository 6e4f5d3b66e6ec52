/** Figures as a table, folded away until they are asked for; a table of records. */
import { Box, Typography } from "@mui/material";
import type { ReactNode } from "react";
import { ink } from "./theme";

interface TableProps {
  head: readonly ReactNode[];
  rows: readonly (readonly ReactNode[])[];
}

/** A plain table: a line under each row, words to the left. */
export function PlainTable({ head, rows }: TableProps) {
  return (
    // A wide table scrolls by itself, and takes no page along.
    <Box sx={{ overflowX: "auto" }}>
      <Box
        component="table"
        sx={{
          borderCollapse: "collapse",
          "& th, & td": {
            textAlign: "left",
            pr: 2.5,
            py: 0.35,
            borderBottom: `1px solid ${ink.line}`,
            verticalAlign: "top",
          },
        }}
      >
        <thead>
          <tr>
            {head.map((cell, i) => (
              <th key={i}>{cell}</th>
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
      </Box>
    </Box>
  );
}

export function Figures(props: TableProps) {
  return (
    <Box component="details" sx={{ mt: 0.5 }}>
      <Typography component="summary" variant="body2" sx={{ fontWeight: 600, cursor: "pointer" }}>
        The figures as a table
      </Typography>
      <Box sx={{ mt: 0.5, overflowX: "auto" }}>
        <PlainTable {...props} />
      </Box>
    </Box>
  );
}
