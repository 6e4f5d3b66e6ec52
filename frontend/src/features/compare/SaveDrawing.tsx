/** Takes the drawing of the chart around it along, as an SVG file. */
import { Button } from "@mui/material";
import { ink, text } from "../../shared/theme";

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

/** A chart is whatever is marked `data-chart`. */
export function SaveDrawing({ file }: { file: string }) {
  return (
    <Button
      size="small"
      sx={{ px: 0, "@media print": { display: "none" } }}
      onClick={(event) => {
        const drawing = event.currentTarget.closest("[data-chart]")?.querySelector("svg");
        if (drawing) saveSvg(drawing, file);
      }}
    >
      Save the drawing (SVG)
    </Button>
  );
}
