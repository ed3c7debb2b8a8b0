/** One circuit as one horizontal line: panel, breaker, run, disconnect, unit. The same on screen and in print. */
import type { KeyboardEvent, ReactNode } from "react";

import { font, ink } from "./ink";
import { AXIS_Y, BUS_X, HEIGHT, type Layout, layoutOf, type Placed, weight } from "./layout";
import { gravest, type Line, type Part, say, saySize, words } from "./parts";

interface Props {
  line: Line;
  width: number;
  selected?: string | null;
  onSelect?: (part: string) => void;
  onKey?: (event: KeyboardEvent, part: string) => void;
}

export function LineDrawing({ line, width, selected, onSelect, onKey }: Props) {
  const layout = layoutOf(line, width);
  return (
    <svg
      xmlns="http://www.w3.org/2000/svg"
      viewBox={`0 0 ${layout.width} ${HEIGHT}`}
      width={layout.width}
      height={HEIGHT}
      fontFamily={font}
      role="group"
      aria-label={`Line ${line.circuitId}, from source to unit`}
    >
      <rect x={BUS_X - 9} y={0} width={9} height={HEIGHT} fill={ink.ink} />
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

interface ShapeProps {
  line: Line;
  layout: Layout;
  placed: Placed;
  selected: boolean;
  onSelect?: (part: string) => void;
  onKey?: (event: KeyboardEvent, part: string) => void;
}

function PartShape({ line, layout, placed, selected, onSelect, onKey }: ShapeProps) {
  const { part, x0, x1 } = placed;
  const Draw = { source: SourceShape, ocpd: Breaker, segment: Conductor, disconnect: Disconnect, unit: UnitShape }[part.kind];
  const interactive = onSelect
    ? {
        role: "button",
        tabIndex: selected ? 0 : -1,
        "data-part": part.id,
        "aria-pressed": selected,
        "aria-label": label(line, part),
        onClick: () => onSelect(part.id),
        onKeyDown: (event: KeyboardEvent) => onKey?.(event, part.id),
        style: { cursor: "pointer" },
      }
    : {};
  const left = part.kind === "source" ? 0 : x0 + 1;
  return (
    <g {...interactive}>
      {selected && onSelect && (
        <>
          <rect x={left} y={6} width={Math.max(20, x1 - left)} height={HEIGHT - 10} fill={ink.sheet} />
          <rect x={left} y={HEIGHT - 6} width={Math.max(20, x1 - left)} height={3} fill={ink.copper} />
        </>
      )}
      <rect className="frame" x={left} y={4} width={Math.max(20, x1 - left)} height={HEIGHT - 8} fill="transparent" />
      <Draw line={line} layout={layout} placed={placed} colour={selected ? ink.copper : ink.ink} />
    </g>
  );
}

interface DrawProps {
  line: Line;
  layout: Layout;
  placed: Placed;
  colour: string;
}

function label(line: Line, part: Part): string {
  const grave = gravest(part.findings);
  const findings = grave ? `, ${part.findings.length} ${grave}: ${part.findings.map((f) => f.message).join(" ")}` : "";
  const { circuit, unit } = line;
  const what = {
    source: `Source ${line.source?.name ?? "not chosen"}`,
    ocpd: `${words(circuit.ocpd?.type ?? "device")} ${say(circuit.ocpd?.rating_a, "A")}`,
    segment: `${part.name}: ${saySize(part.segment?.conductor)} ${part.segment?.method ?? "method not known"}, ${say(part.segment?.length_ft, "ft")}`,
    disconnect: `Disconnect ${say(circuit.disconnect?.rating_a, "A")}`,
    unit: `Unit ${circuit.equipment ?? ""}, MCA ${say(unit?.nameplate?.mca_a, "A")}`,
  }[part.kind];
  return what + findings;
}

function fed(layout: Layout, x: number): boolean {
  return layout.cutAt === null || x <= layout.cutAt;
}

function Text(props: { x: number; y: number; size?: number; bold?: boolean; fill?: string; anchor?: "middle" | "end"; narrow?: boolean; children: ReactNode }) {
  return (
    <text
      x={props.x}
      y={props.y}
      fontSize={props.size ?? 14}
      fontWeight={props.bold ? 650 : 400}
      fontStretch={props.narrow === false ? "100%" : "88%"}
      fill={props.fill ?? ink.ink}
      textAnchor={props.anchor}
    >
      {props.children}
    </text>
  );
}

/** A stretch of line: fed solid, beyond a stop drawn unfed, unknown dashed; a warning bends it. */
function Stretch(props: { layout: Layout; x0: number; x1: number; stroke: number; colour: string; unknown?: boolean; bent?: boolean; wavy?: boolean }) {
  const { layout, x0, x1, stroke, colour } = props;
  const cut = layout.cutAt;
  if (cut !== null && cut > x0 && cut < x1) {
    return (
      <>
        <Stretch {...props} x1={cut - 9} layout={{ ...layout, cutAt: null }} />
        <Stretch {...props} x0={cut + 9} layout={{ ...layout, cutAt: x0 }} bent={false} />
      </>
    );
  }
  if (!fed(layout, x0)) {
    return <path d={`M${x0} ${AXIS_Y}H${x1}`} stroke={ink.faint} strokeWidth={Math.max(5, stroke)} strokeDasharray="2 5" fill="none" />;
  }
  const dash = props.unknown ? "9 7" : undefined;
  return <path d={track(x0, x1, props.bent, props.wavy)} stroke={colour} strokeWidth={stroke} strokeDasharray={dash} fill="none" strokeLinejoin="round" />;
}

function track(x0: number, x1: number, bent?: boolean, wavy?: boolean): string {
  if (bent) {
    const m = x0 + Math.min(40, (x1 - x0) / 3);
    return `M${x0} ${AXIS_Y}H${m}l7 -14h13l7 14H${x1}`;
  }
  if (wavy) {
    const waves = Math.max(2, Math.floor((x1 - x0 - 24) / 22));
    const step = (x1 - x0 - 24) / waves;
    const curve = Array.from({ length: waves }, (_, i) => `q${step / 2} ${i % 2 ? 12 : -12} ${step} 0`).join("");
    return `M${x0} ${AXIS_Y}H${x0 + 12}${curve}H${x1}`;
  }
  return `M${x0} ${AXIS_Y}H${x1}`;
}

const NEXT_WEIGHT = (line: Line, index: number) => weight(line.result?.segments[index]?.area_cmil);

/** The conductor's weight where a part that is not conductor stands: that of the run beside it. */
function besideWeight(line: Line, part: Part): number {
  const segments = line.parts.filter((p) => p.kind === "segment");
  const here = line.parts.indexOf(part);
  const before = line.parts.slice(0, here).filter((p) => p.kind === "segment").length;
  return NEXT_WEIGHT(line, Math.min(Math.max(0, before - 1), Math.max(0, segments.length - 1)));
}

function SourceShape({ line, colour }: DrawProps) {
  const { source } = line;
  return (
    <>
      <rect x={BUS_X - 9} y={0} width={9} height={HEIGHT} fill={colour} />
      <g transform={`translate(${BUS_X + 8} 18)`}>
        <Text x={0} y={0} size={13} bold fill={colour}>
          {source?.name ?? "No source yet"}
        </Text>
        {source && (
          <Text x={0} y={16} size={13} fill={ink.soft}>
            {source.volts ? `${source.volts} V` : "volts not known"}
            {source.phase ? `, ${source.phase} phase` : ""}
          </Text>
        )}
      </g>
    </>
  );
}

function Breaker({ line, layout, placed, colour }: DrawProps) {
  const { circuit } = line;
  const { x0, x1, part } = placed;
  const x = x0 + 48;
  const stroke = besideWeight(line, part);
  const known = circuit.ocpd?.rating_a != null;
  const spaces = circuit.ocpd?.spaces;
  const on = fed(layout, x);
  return (
    <>
      <Stretch layout={{ ...layout, cutAt: null }} x0={x0} x1={x} stroke={stroke} colour={ink.ink} bent={gravest(part.findings) === "warning"} />
      <Stretch layout={layout} x0={x + 34} x1={x1} stroke={stroke} colour={ink.ink} unknown={!known} />
      <rect x={x} y={AXIS_Y - 17} width={34} height={34} fill={ink.sheet} stroke={colour} strokeWidth={known ? 3 : 2} strokeDasharray={known ? undefined : "5 4"} />
      {circuit.ocpd?.type === "fuse" ? (
        <path d={`M${x + 7} ${AXIS_Y}h20`} stroke={colour} strokeWidth={2} />
      ) : (
        <path d={`M${x + 10} ${AXIS_Y + 8}L${x + 24} ${AXIS_Y - 8}`} stroke={on ? colour : ink.soft} strokeWidth={3} />
      )}
      <Text x={x - 2} y={AXIS_Y + 38} size={16} bold fill={colour}>
        {known ? say(circuit.ocpd?.rating_a, "A") : "A not known"}
      </Text>
      <Text x={x - 2} y={AXIS_Y + 55} size={13} fill={ink.soft}>
        {spaces?.length ? `spaces ${spaces.join(", ")}` : "no spaces yet"}
      </Text>
    </>
  );
}

function Conductor({ line, layout, placed, colour }: DrawProps) {
  const { part, x0, x1 } = placed;
  const { segment } = part;
  const index = line.parts.filter((p) => p.kind === "segment").indexOf(part);
  const grave = gravest(part.findings);
  const previous = line.parts[line.parts.indexOf(part) - 1];
  const wall = previous?.kind === "segment" && previous.segment?.place !== segment?.place;
  const stop = grave === "stop";
  const size = segment?.conductor ?? line.result?.segments[index]?.conductor;
  const flexible = ["LFNC", "LFMC", "FMC"].includes(segment?.raceway ?? "");
  return (
    <>
      <Stretch
        layout={layout}
        x0={x0}
        x1={x1}
        stroke={NEXT_WEIGHT(line, index)}
        colour={colour}
        unknown={!segment?.conductor || !segment.method}
        bent={grave === "warning"}
        wavy={flexible}
      />
      {wall && <path d={`M${x0} ${AXIS_Y - 20}V${AXIS_Y + 20}`} stroke={ink.soft} strokeWidth={1.5} />}
      <Text x={x0 + 12} y={AXIS_Y - 26} size={13} fill={ink.soft}>
        {segment?.name ?? words(segment?.place ?? "place not known")}
      </Text>
      <Text x={x0 + 12} y={AXIS_Y + 36} bold fill={stop ? ink.stop : colour}>
        {size ? saySize(size) : "not chosen"} {segment?.method ?? ""}
      </Text>
      <Text x={x0 + 12} y={AXIS_Y + 53} size={13} fill={ink.soft}>
        {say(segment?.length_ft, "ft")}
        {segment?.raceway ? ` in ${segment.raceway}` : ""}
      </Text>
    </>
  );
}

function Disconnect({ line, layout, placed, colour }: DrawProps) {
  const { part, x0, x1 } = placed;
  const { disconnect } = line.circuit;
  const stroke = besideWeight(line, part);
  const known = disconnect?.rating_a != null;
  const left = (x0 + x1) / 2 - 20;
  const right = left + 40;
  const live = fed(layout, left) ? colour : ink.soft;
  const grave = gravest(part.findings);
  return (
    <>
      <Stretch layout={layout} x0={x0} x1={left} stroke={stroke} colour={ink.ink} bent={grave === "warning"} />
      <Stretch layout={layout} x0={right} x1={x1} stroke={stroke} colour={ink.ink} />
      <path d={`M${left} ${AXIS_Y}L${right - 5} ${AXIS_Y - 17}`} stroke={live} strokeWidth={3.5} strokeDasharray={known ? undefined : "5 4"} />
      <circle cx={left} cy={AXIS_Y} r={5.5} fill={known ? live : ink.sheet} stroke={live} strokeWidth={2} />
      <circle cx={right} cy={AXIS_Y} r={5.5} fill={known ? live : ink.sheet} stroke={live} strokeWidth={2} />
      <Text x={left - 26} y={AXIS_Y + 36} bold fill={grave === "stop" ? ink.stop : colour}>
        {known ? `${say(disconnect.rating_a, "A")} ${disconnect.type === "fused" ? "fused" : "off-switch"}` : "off-switch?"}
      </Text>
      <Text x={left - 26} y={AXIS_Y + 53} size={13} fill={ink.soft}>
        {disconnect?.in_sight === false ? "out of sight" : disconnect?.in_sight ? "in sight" : "sight not known"}
        {disconnect?.distance_ft != null ? `, ${say(disconnect.distance_ft, "ft")}` : ""}
      </Text>
    </>
  );
}

function UnitShape({ line, layout, placed, colour }: DrawProps) {
  const { x0, x1 } = placed;
  const plate = line.unit?.nameplate;
  const known = plate?.mca_a != null;
  const on = fed(layout, x0);
  const edge = on ? colour : ink.soft;
  return (
    <>
      <rect x={x0} y={AXIS_Y - 32} width={x1 - x0 - 2} height={64} fill={ink.sheet} stroke={edge} strokeWidth={known ? 3 : 2} strokeDasharray={known ? undefined : "7 5"} />
      <Text x={x0 + 14} y={AXIS_Y - 6} size={17} bold fill={edge}>
        {known ? `${say(plate.mca_a, "A", 2)} MCA` : "no plate yet"}
      </Text>
      <Text x={x0 + 14} y={AXIS_Y + 16} size={13} fill={ink.soft}>
        {known ? `max ${say(plate.max_ocpd_a, "A")}, ${plate.volts ?? "?"} V` : "type what it says"}
      </Text>
      <Text x={x0 + 4} y={AXIS_Y - 42} size={13} fill={ink.soft}>
        {[line.circuit.equipment ?? "no unit yet", line.unit?.place].filter(Boolean).join(", ")}
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
