/**
 * The drawings for paper. The first line on standard input is a plan with its results; for each further one, of what is
 * wanted, a line of SVGs is written.
 */
import { createInterface } from "node:readline";

import { renderToStaticMarkup } from "react-dom/server";

import type { CableView, PlanDoc, PlanOut, Rail, StartPicture } from "../api/client";
import { layoutRail } from "./bench";
import { BenchDrawing } from "./BenchDrawing";
import { LandingDrawing } from "./LandingDrawing";
import { layoutLandings } from "./landings";
import { LineDrawing } from "./LineDrawing";
import { type Bounded, ReadingScale } from "./ReadingScale";
import { StartDrawing, type StartLoad } from "./StartDrawing";
import { lineOf } from "./parts";
import { findingsAt } from "../api/findings";

/** On paper nothing is taken hold of between the strips: the conductors need less room. */
const PAPER_SPAN = 116;

interface Input {
  what: "lines" | "landings" | "bench" | "starts" | "readings";
  document: PlanDoc;
  result: PlanOut["result"];
  width: number;
  /** Which cables or lines, where not all of them are wanted. */
  only?: string[];
  /** Landings among many, where what is below a terminal's label could not be read. */
  bare?: boolean;
  /** The supplies of a control system, for the bench's drawing. */
  rails?: Rail[];
  /** The starts of sources, each with its loads and when they are called. */
  pictures?: Record<string, { picture: StartPicture; loads: StartLoad[] }>;
  /** Readings with their bounds and what was read. */
  readings?: (Bounded & { key: string; value: number })[];
}

const makers = { lines, landings, bench, starts, readings };
let plan: Pick<Input, "document" | "result"> | undefined;
for await (const line of createInterface({ input: process.stdin, crlfDelay: Infinity })) {
  const read = JSON.parse(line) as Input;
  if (plan) process.stdout.write(`${JSON.stringify(makers[read.what]({ ...read, ...plan }))}\n`);
  else plan = read;
}

function bench({ rails = [], width }: Input) {
  return rails.map((rail) => {
    const layout = layoutRail(
      rail,
      width,
      (_, lane) => !lane.sneaks,
      () => rail.line,
    );
    return {
      id: rail.key,
      svg: renderToStaticMarkup(<BenchDrawing layout={layout} rail={rail} frame={null} title={rail.title} />),
    };
  });
}

function readings({ readings = [] }: Input) {
  return readings.map(({ key, value, ...point }) => ({
    id: key,
    svg: renderToStaticMarkup(<ReadingScale point={point} value={value} />),
  }));
}

function starts({ pictures = {} }: Input) {
  return Object.entries(pictures).map(([id, { picture, loads }]) => ({
    id,
    svg: renderToStaticMarkup(<StartDrawing picture={picture} loads={loads} failsAt={null} title={id} />),
  }));
}

function landings({ document, result, width, only, bare = false }: Input) {
  return Object.values(result.wiring.cables).flatMap((view) => {
    const cable = document.cables?.[view.id];
    if (!cable || view.conductors.length === 0 || (only && !only.includes(view.id))) return [];
    const against = (address: string) => findingsAt(result, address);
    const layout = layoutLandings(view, cable, result.wiring, against, width, { mostSpan: PAPER_SPAN, bare });
    return [
      {
        id: view.id,
        svg: renderToStaticMarkup(<LandingDrawing layout={layout} title={landed(view)} ground="#ffffff" />),
      },
    ];
  });
}

/** A cable in words: each conductor with where both its ends are. */
function landed(view: CableView) {
  const at = (end: CableView["conductors"][number]["a"]) =>
    end.terminal?.split(".").join(" ") ?? (end.state === "capped" ? "capped" : "nowhere");
  const wires = view.conductors.map((wire) => `${wire.colour} from ${at(wire.a)} to ${at(wire.b)}`);
  return `${view.title}: ${wires.join("; ")}`;
}

function lines({ document, result, width, only }: Input) {
  const wanted = Object.entries(document.circuits ?? {}).filter(([id]) => !only || only.includes(id));
  return wanted.map(([id, circuit]) => {
    const line = lineOf(document, id, circuit, result);
    return { id, svg: renderToStaticMarkup(<LineDrawing line={line} width={width} />) };
  });
}
