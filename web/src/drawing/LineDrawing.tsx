/** One circuit as one horizontal line: panel, breaker, run, disconnect, unit. The same on screen and in print. */
import type { KeyboardEvent } from "react";

import { font, ink } from "./ink";
import { AXIS_Y, BUS_X, HEIGHT, type Layout, layoutOf, type Placed, weight } from "./layout";
import { type Caption, captionOf, gravest, type Line, type Part, runIndex, say, spoken } from "./parts";

interface Handlers {
  onSelect?: (part: string) => void;
  onKey?: (event: KeyboardEvent, part: string) => void;
}

interface Props extends Handlers {
  line: Line;
  width: number;
  selected?: string | null;
}

export function LineDrawing({ line, width, selected, onSelect, onKey }: Props) {
  const layout = layoutOf(line, width);
  const name = `Line ${line.circuitId}, from source to unit`;
  // Where no part can be asked by itself, the whole says them all.
  const all = () => `${name}: ${layout.placed.map(({ part }) => spoken(line, part)).join("; ")}`;
  return (
    <svg
      xmlns="http://www.w3.org/2000/svg"
      viewBox={`0 0 ${layout.width} ${HEIGHT}`}
      width={layout.width}
      height={HEIGHT}
      fontFamily={font}
      role={onSelect ? "group" : "img"}
      aria-label={onSelect ? name : all()}
    >
      {layout.placed.map((placed) => (
        <PartShape
          key={placed.part.id}
          line={line}
          layout={layout}
          placed={placed}
          selected={selected === placed.part.id}
          onSelect={onSelect}
          onKey={onKey}
        />
      ))}
      <Cut layout={layout} />
      <DropFigure line={line} layout={layout} />
    </svg>
  );
}

interface ShapeProps extends Handlers {
  line: Line;
  layout: Layout;
  placed: Placed;
  selected: boolean;
}

/** The panel's name hangs in the corner above the breaker; every other part has its stretch of the line. */
const CORNER = { x: 9, y: 2, width: 118, height: 42 };

function frameOf({ part, x0, x1 }: Placed) {
  if (part.kind === "source") return CORNER;
  const y = part.kind === "ocpd" ? CORNER.y + CORNER.height + 2 : 4;
  return { x: x0 + 1, y, width: x1 - x0 - 1, height: HEIGHT - 4 - y };
}

const SHAPES = { source: Bus, ocpd: Breaker, segment: Conductor, disconnect: Disconnect, unit: UnitBox };

function PartShape({ line, layout, placed, selected, onSelect, onKey }: ShapeProps) {
  const { part } = placed;
  const Shape = SHAPES[part.kind];
  const frame = frameOf(placed);
  const interactive = onSelect
    ? {
        role: "button",
        tabIndex: selected ? 0 : -1,
        "data-part": part.id,
        "aria-pressed": selected,
        "aria-label": spoken(line, part),
        onClick: () => onSelect(part.id),
        onKeyDown: (event: KeyboardEvent) => onKey?.(event, part.id),
        style: { cursor: "pointer" },
      }
    : {};
  return (
    <g {...interactive}>
      {selected && <rect {...frame} fill={ink.sheet} />}
      {selected && <rect {...frame} y={frame.y + frame.height - 3} height={3} fill={ink.copper} />}
      <rect className="frame" {...frame} fill="transparent" />
      <Shape
        line={line}
        layout={layout}
        placed={placed}
        caption={captionOf(line, part)}
        colour={selected ? ink.copper : ink.ink}
      />
    </g>
  );
}

interface DrawProps {
  line: Line;
  layout: Layout;
  placed: Placed;
  caption: Caption;
  colour: string;
}

interface TextProps {
  x: number;
  y: number;
  size?: number;
  bold?: boolean;
  fill?: string;
  anchor?: "middle" | "end";
  children: string;
}

function Text({ x, y, size = 14, bold, fill = ink.ink, anchor, children }: TextProps) {
  return (
    <text x={x} y={y} fontSize={size} fontWeight={bold ? 650 : 400} fontStretch="88%" fill={fill} textAnchor={anchor}>
      {/* The space parts one label from the next where they are read in a row. */}
      {`${children} `}
    </text>
  );
}

/** What is written above and below a part of the line. */
function Labels({ x, caption, colour, size }: { x: number; caption: Caption; colour: string; size?: number }) {
  return (
    <>
      {caption.top && (
        <Text x={x} y={AXIS_Y - 26} size={13} fill={ink.soft}>
          {caption.top}
        </Text>
      )}
      <Text x={x} y={AXIS_Y + 37} size={size} bold fill={colour}>
        {caption.main}
      </Text>
      <Text x={x} y={AXIS_Y + 54} size={13} fill={ink.soft}>
        {caption.sub}
      </Text>
    </>
  );
}

function fed(layout: Layout, x: number): boolean {
  return layout.cutAt === null || x <= layout.cutAt;
}

interface StretchProps {
  layout: Layout;
  x0: number;
  x1: number;
  stroke: number;
  colour: string;
  unknown?: boolean;
  bent?: boolean;
  wavy?: boolean;
}

/** A stretch of line: fed solid, beyond a stop drawn unfed, unknown dashed; a warning bends it. */
function Stretch(props: StretchProps) {
  const { layout, x0, x1, stroke, colour } = props;
  const cut = layout.cutAt;
  if (cut !== null && cut > x0 && cut < x1) {
    return (
      <>
        <Stretch {...props} x1={cut - 9} layout={{ ...layout, cutAt: null }} bent={false} />
        <Stretch {...props} x0={cut + 9} layout={{ ...layout, cutAt: x0 }} />
      </>
    );
  }
  if (!fed(layout, x0)) {
    return (
      <path
        d={`M${x0} ${AXIS_Y}H${x1}`}
        stroke={ink.faint}
        strokeWidth={Math.max(5, stroke)}
        strokeDasharray="2 5"
        fill="none"
      />
    );
  }
  const dash = props.unknown ? "9 7" : undefined;
  return (
    <path
      d={track(x0, x1, props.bent, props.wavy)}
      stroke={colour}
      strokeWidth={stroke}
      strokeDasharray={dash}
      fill="none"
      strokeLinejoin="round"
    />
  );
}

function track(x0: number, x1: number, bent?: boolean, wavy?: boolean): string {
  if (bent) {
    const bend = x0 + Math.min(38, (x1 - x0 - 30) / 2);
    return `M${x0} ${AXIS_Y}H${bend}l7 -14h13l7 14H${x1}`;
  }
  if (wavy) {
    const waves = Math.max(2, Math.floor((x1 - x0 - 24) / 22));
    const step = (x1 - x0 - 24) / waves;
    const curve = Array.from({ length: waves }, (_, i) => `q${step / 2} ${i % 2 ? 12 : -12} ${step} 0`).join("");
    return `M${x0} ${AXIS_Y}H${x0 + 12}${curve}H${x1}`;
  }
  return `M${x0} ${AXIS_Y}H${x1}`;
}

function weightAt(line: Line, index: number): number {
  return weight(line.result?.segments[index]?.area_cmil);
}

/** The conductor's weight where a part that is not conductor stands: that of the run before it. */
function weightBeside(line: Line, part: Part): number {
  const before = line.parts.slice(0, line.parts.indexOf(part)).filter((entry) => entry.kind === "segment").length;
  return weightAt(line, Math.max(0, before - 1));
}

function Bus({ caption, colour }: DrawProps) {
  return (
    <>
      <rect x={0} y={0} width={BUS_X} height={HEIGHT} fill={colour} />
      <Text x={BUS_X + 8} y={18} size={14} bold fill={colour}>
        {caption.main}
      </Text>
      <Text x={BUS_X + 8} y={34} size={13} fill={ink.soft}>
        {caption.sub}
      </Text>
    </>
  );
}

function Breaker({ line, layout, placed, caption, colour }: DrawProps) {
  const { circuit } = line;
  const { x0, x1, part } = placed;
  const x = x0 + 48;
  const stroke = weightBeside(line, part);
  const known = circuit.ocpd?.rating_a != null;
  return (
    <>
      <Stretch layout={{ ...layout, cutAt: null }} x0={x0} x1={x} stroke={stroke} colour={ink.ink} />
      <Stretch
        layout={layout}
        x0={x + 34}
        x1={x1}
        stroke={stroke}
        colour={ink.ink}
        unknown={!known}
        bent={gravest(part.findings) === "warning"}
      />
      <rect
        x={x}
        y={AXIS_Y - 17}
        width={34}
        height={34}
        fill={ink.sheet}
        stroke={colour}
        strokeWidth={known ? 3 : 2}
        strokeDasharray={known ? undefined : "5 4"}
      />
      {circuit.ocpd?.type === "fuse" ? (
        <path d={`M${x + 7} ${AXIS_Y}h20`} stroke={colour} strokeWidth={2} />
      ) : (
        <path d={`M${x + 10} ${AXIS_Y + 8}L${x + 24} ${AXIS_Y - 8}`} stroke={colour} strokeWidth={3} />
      )}
      <Labels x={x - 2} caption={caption} size={16} colour={gravest(part.findings) === "stop" ? ink.stop : colour} />
    </>
  );
}

function Conductor({ line, layout, placed, caption, colour }: DrawProps) {
  const { part, x0, x1 } = placed;
  const { segment } = part;
  const grave = gravest(part.findings);
  const previous = line.parts[line.parts.indexOf(part) - 1];
  const wall = previous?.kind === "segment" && previous.segment?.place !== segment?.place;
  return (
    <>
      <Stretch
        layout={layout}
        x0={x0}
        x1={x1}
        stroke={weightAt(line, runIndex(line, part))}
        colour={colour}
        unknown={!segment?.conductor || !segment.method}
        bent={grave === "warning"}
        wavy={part.flexible}
      />
      {wall && <path d={`M${x0} ${AXIS_Y - 20}V${AXIS_Y + 20}`} stroke={ink.soft} strokeWidth={1.5} />}
      <Labels x={x0 + 12} caption={caption} colour={grave === "stop" ? ink.stop : colour} />
    </>
  );
}

function Disconnect({ line, layout, placed, caption, colour }: DrawProps) {
  const { part, x0, x1 } = placed;
  const stroke = weightBeside(line, part);
  if (line.unit?.cord_connected) return <Plug {...{ line, layout, placed, caption, colour }} />;
  const known = line.circuit.disconnect?.rating_a != null;
  const drawn = line.parts.some((entry) => entry.kind === "segment");
  const left = (x0 + x1) / 2 - 20;
  const right = left + 40;
  const live = fed(layout, left) ? colour : ink.soft;
  const grave = gravest(part.findings);
  return (
    <>
      <Stretch
        layout={layout}
        x0={x0}
        x1={left}
        stroke={stroke}
        colour={ink.ink}
        bent={grave === "warning"}
        unknown={!drawn}
      />
      <Stretch layout={layout} x0={right} x1={x1} stroke={stroke} colour={ink.ink} />
      <path
        d={`M${left} ${AXIS_Y}L${right - 5} ${AXIS_Y - 17}`}
        stroke={live}
        strokeWidth={3.5}
        strokeDasharray={known ? undefined : "5 4"}
      />
      <circle cx={left} cy={AXIS_Y} r={5.5} fill={known ? live : ink.sheet} stroke={live} strokeWidth={2} />
      <circle cx={right} cy={AXIS_Y} r={5.5} fill={known ? live : ink.sheet} stroke={live} strokeWidth={2} />
      <Labels x={left - 28} caption={caption} colour={grave === "stop" ? ink.stop : colour} />
    </>
  );
}

/** A receptacle with the plug in it: two half frames that meet. */
function Plug({ line, layout, placed, caption, colour }: DrawProps) {
  const { part, x0, x1 } = placed;
  const stroke = weightBeside(line, part);
  const known = line.circuit.receptacle_a != null;
  const middle = (x0 + x1) / 2;
  const grave = gravest(part.findings);
  const dash = known ? undefined : "5 4";
  return (
    <>
      <Stretch
        layout={layout}
        x0={x0}
        x1={middle - 14}
        stroke={stroke}
        colour={ink.ink}
        bent={grave === "warning"}
        unknown={!line.parts.some((entry) => entry.kind === "segment")}
      />
      <Stretch layout={layout} x0={middle + 14} x1={x1} stroke={Math.min(stroke, 3)} colour={ink.ink} />
      <path
        d={`M${middle - 3} ${AXIS_Y - 14}h-11v28h11`}
        fill="none"
        stroke={colour}
        strokeWidth={3}
        strokeDasharray={dash}
      />
      <path d={`M${middle + 3} ${AXIS_Y - 9}h11v18h-11`} fill="none" stroke={colour} strokeWidth={3} />
      <Labels x={middle - 48} caption={caption} colour={grave === "stop" ? ink.stop : colour} />
    </>
  );
}

/** The far end of a feeder: the spine of the panel that it feeds. */
function FedPanel({ layout, placed, caption, colour }: DrawProps) {
  const { x0 } = placed;
  const edge = fed(layout, x0) ? colour : ink.soft;
  return (
    <>
      <rect x={x0} y={AXIS_Y - 40} width={BUS_X} height={80} fill={edge} />
      {[-24, 0, 24].map((y) => (
        <path key={y} d={`M${x0 + BUS_X} ${AXIS_Y + y}h16`} stroke={edge} strokeWidth={2.5} />
      ))}
      <Text x={x0 + 34} y={AXIS_Y - 26} size={13} fill={ink.soft}>
        {caption.top}
      </Text>
      <Text x={x0 + 34} y={AXIS_Y - 4} size={16} bold fill={edge}>
        {caption.main}
      </Text>
      <Text x={x0 + 34} y={AXIS_Y + 16} size={13} fill={ink.soft}>
        {caption.sub}
      </Text>
    </>
  );
}

function UnitBox({ line, layout, placed, caption, colour }: DrawProps) {
  const { x0, x1 } = placed;
  if (line.circuit.feeds) return <FedPanel {...{ line, layout, placed, caption, colour }} />;
  const known = line.result?.min_ampacity_a != null || line.unit?.nameplate?.mca_a != null;
  const edge = fed(layout, x0) ? colour : ink.soft;
  return (
    <>
      <rect
        x={x0}
        y={AXIS_Y - 32}
        width={x1 - x0 - 2}
        height={64}
        fill={ink.sheet}
        stroke={edge}
        strokeWidth={known ? 3 : 2}
        strokeDasharray={known ? undefined : "7 5"}
      />
      <Text x={x0 + 4} y={AXIS_Y - 42} size={13} fill={ink.soft}>
        {caption.top}
      </Text>
      <Text x={x0 + 14} y={AXIS_Y - 6} size={17} bold fill={edge}>
        {caption.main}
      </Text>
      <Text x={x0 + 14} y={AXIS_Y + 16} size={13} fill={ink.soft}>
        {caption.sub}
      </Text>
    </>
  );
}

/** A stop cuts the line where it would do the harm. */
function Cut({ layout }: { layout: Layout }) {
  if (layout.cutAt === null) return null;
  const x = layout.cutAt;
  return (
    <path
      d={`M${x - 13} ${AXIS_Y - 15}l9 30M${x + 5} ${AXIS_Y - 15}l9 30`}
      stroke={ink.stop}
      strokeWidth={5}
      pointerEvents="none"
      data-cut="true"
    />
  );
}

function DropFigure({ line, layout }: { line: Line; layout: Layout }) {
  const pct = line.result?.voltage_drop_pct;
  if (pct == null) return null;
  const x = layout.width - 2;
  return (
    <g pointerEvents="none">
      <Text x={x} y={AXIS_Y - 2} anchor="end" bold fill={ink.soft}>
        {say(pct, "%")}
      </Text>
      <Text x={x} y={AXIS_Y + 14} anchor="end" size={13} fill={ink.soft}>
        drop
      </Text>
    </g>
  );
}
