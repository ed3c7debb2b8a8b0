/** The drawings for paper: reads a plan and its results on standard input, writes one SVG for each line. */
import { renderToStaticMarkup } from "react-dom/server";

import type { PlanDoc, PlanOut } from "../api/client";
import { LineDrawing } from "./LineDrawing";
import { lineOf } from "./parts";

interface Input {
  document: PlanDoc;
  result: PlanOut["result"];
  width: number;
}

const chunks: Buffer[] = [];
for await (const chunk of process.stdin) chunks.push(chunk as Buffer);
const { document, result, width } = JSON.parse(Buffer.concat(chunks).toString("utf8")) as Input;
const drawn = Object.entries(document.circuits ?? {}).map(([id, circuit]) => {
  const findings = result.findings.filter(
    (f) =>
      f.about.startsWith(`circuits/${id}/`) ||
      f.about.startsWith(`equipment/${circuit.equipment ?? " "}/`) ||
      f.about.startsWith(`sources/${circuit.source ?? " "}/`),
  );
  return {
    id,
    svg: renderToStaticMarkup(
      <LineDrawing line={lineOf(document, id, circuit, result.circuits[id], findings)} width={width} />,
    ),
  };
});
process.stdout.write(JSON.stringify(drawn));
