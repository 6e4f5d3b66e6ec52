/** A chart with its answer in words, the same figures as a table, and the drawing to take along as SVG. */
import { Box, Button, Typography } from "@mui/material";
import { type ReactNode, useRef } from "react";
import { ink, text } from "../../app/theme";

interface Props {
  title: string;
  says: ReactNode;
  children: ReactNode;
  /** The figures behind the drawing: a head and rows of text. */
  head: readonly string[];
  rows: readonly (readonly string[])[];
  file: string;
}

/** The drawing as a file of its own: with a name space, a ground, and the font it asks for. */
function saveSvg(drawing: SVGSVGElement, file: string) {
  const copy = drawing.cloneNode(true) as SVGSVGElement;
  const { width, height } = drawing.viewBox.baseVal;
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  copy.setAttribute("width", String(width));
  copy.setAttribute("height", String(height));
  copy.setAttribute("font-family", text);
  const ground = document.createElementNS("http://www.w3.org/2000/svg", "rect");
  ground.setAttribute("width", "100%");
  ground.setAttribute("height", "100%");
  ground.setAttribute("fill", ink.paper);
  copy.prepend(ground);
  const url = URL.createObjectURL(
    new Blob([new XMLSerializer().serializeToString(copy)], { type: "image/svg+xml" }),
  );
  const link = document.createElement("a");
  link.href = url;
  link.download = `${file}.svg`;
  link.click();
  URL.revokeObjectURL(url);
}

export function ChartFrame({ title, says, children, head, rows, file }: Props) {
  const box = useRef<HTMLDivElement>(null);
  return (
    <Box component="section" aria-label={title} sx={{ minWidth: 0, mb: 3 }}>
      <Typography variant="h2">{title}</Typography>
      <Typography component="div" sx={{ mb: 0.5 }}>
        {says}
      </Typography>
      <Box ref={box}>{children}</Box>
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
        <Button
          size="small"
          sx={{ px: 0 }}
          onClick={() => {
            const drawing = box.current?.querySelector("svg");
            if (drawing) saveSvg(drawing, file);
          }}
        >
          Save the drawing (SVG)
        </Button>
      </Box>
    </Box>
  );
}
