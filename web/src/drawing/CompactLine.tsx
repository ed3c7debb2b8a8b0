/** A line among many: one row, the same grammar as the large drawing, its figures beneath it. */
import { font, ink } from "./ink";
import { weight } from "./layout";
import { captionOf, gravest, type Line, type Part, runIndex, say, saySize } from "./parts";

export const COMPACT_HEIGHT = 62;
const AXIS = 20;
const BREAKER_X = 26;
const WIDE = 520;

/** Room for the unit and for the switch: less of it where the row is narrow. */
function ends(width: number): { unit: number; off: number } {
  return width < WIDE ? { unit: 104, off: 44 } : { unit: 168, off: 64 };
}

interface Placed {
  part: Part;
  x0: number;
  x1: number;
}

/** Where the parts stand: breaker at the spine, unit at the end, the run between them in proportion. */
export function placeCompact(line: Line, width: number): { placed: Placed[]; end: number } {
  const inner = line.parts.filter((part) => part.kind === "segment" || part.kind === "disconnect");
  const { unit, off } = ends(width);
  const end = width - unit;
  const from = BREAKER_X + 34;
  const offs = inner.filter((part) => part.kind === "disconnect").length;
  const runs = inner.length - offs;
  const share = (end - from - offs * off) / Math.max(1, runs);
  let x = from;
  const placed = inner.map((part): Placed => {
    const x0 = x;
    x += part.kind === "disconnect" ? off + (runs ? 0 : end - from - off) : share;
    return { part, x0, x1: x };
  });
  return { placed, end };
}

export function CompactLine({ line, width }: { line: Line; width: number }) {
  const { placed, end } = placeCompact(line, width);
  const stopped = cutAt(line, placed, end);
  const breaker = line.parts.find((part) => part.kind === "ocpd");
  const unit = line.parts.find((part) => part.kind === "unit");
  const rating = line.circuit.ocpd?.rating_a;
  const first = line.result?.segments[0]?.area_cmil;
  return (
    <svg viewBox={`0 0 ${width} ${COMPACT_HEIGHT}`} width={width} height={COMPACT_HEIGHT} fontFamily={font} aria-hidden>
      <Wire x0={0} x1={BREAKER_X} stroke={weight(first)} stopped={null} />
      <rect
        x={BREAKER_X}
        y={AXIS - 10}
        width={20}
        height={20}
        fill={ink.sheet}
        stroke={ink.ink}
        strokeWidth={2.2}
        strokeDasharray={rating == null ? "4 3" : undefined}
      />
      <path d={`M${BREAKER_X + 6} ${AXIS + 5}l8 -10`} stroke={ink.ink} strokeWidth={2.2} />
      <Small x={BREAKER_X - 2} bold colour={breaker && gravest(breaker.findings) === "stop" ? ink.stop : ink.ink}>
        {rating == null ? "rating?" : say(rating, "A")}
      </Small>
      <Wire x0={BREAKER_X + 20} x1={BREAKER_X + 34} stroke={weight(first)} stopped={stopped} />
      {placed.map(({ part, x0, x1 }) =>
        part.kind === "disconnect" ? (
          <Switch key={part.id} line={line} part={part} x0={x0} x1={x1} stopped={stopped} />
        ) : (
          <Run key={part.id} line={line} part={part} x0={x0} x1={x1} stopped={stopped} />
        ),
      )}
      {unit && <End line={line} unit={unit} x={end} width={ends(width).unit} live={stopped === null} />}
      {stopped !== null && (
        <path
          d={`M${stopped - 8} ${AXIS - 10}l6 20M${stopped + 3} ${AXIS - 10}l6 20`}
          stroke={ink.stop}
          strokeWidth={3.5}
          data-cut="true"
        />
      )}
    </svg>
  );
}

/** Where the first stop cuts the line, or null. */
function cutAt(line: Line, placed: Placed[], end: number): number | null {
  const part = line.parts.find((entry) => entry.id === line.cut);
  if (!part) return null;
  if (part.kind === "source") return 12;
  if (part.kind === "ocpd") return BREAKER_X + 30;
  if (part.kind === "unit") return end - 12;
  return (placed.find((entry) => entry.part === part)?.x0 ?? BREAKER_X) + 16;
}

function Wire({ x0, x1, stroke, stopped, unknown, bent }: WireProps) {
  if (stopped !== null && stopped > x0 && stopped < x1)
    return (
      <>
        <Wire x0={x0} x1={stopped - 6} stroke={stroke} stopped={null} unknown={unknown} />
        <Wire x0={stopped + 6} x1={x1} stroke={stroke} stopped={x0} />
      </>
    );
  const fed = stopped === null || x0 < stopped;
  const bend = x0 + Math.min(26, (x1 - x0) / 2);
  return (
    <path
      d={bent && fed ? `M${x0} ${AXIS}H${bend}l5 -9h9l5 9H${x1}` : `M${x0} ${AXIS}H${x1}`}
      stroke={fed ? ink.ink : ink.faint}
      strokeWidth={fed ? stroke * 0.7 : 4}
      strokeDasharray={fed ? (unknown ? "7 5" : undefined) : "2 4"}
      fill="none"
    />
  );
}

interface WireProps {
  x0: number;
  x1: number;
  stroke: number;
  stopped: number | null;
  unknown?: boolean;
  bent?: boolean;
}

interface StretchProps {
  line: Line;
  part: Part;
  x0: number;
  x1: number;
  stopped: number | null;
}

function Run({ line, part, x0, x1, stopped }: StretchProps) {
  const { segment } = part;
  const found = line.result?.segments[runIndex(line, part)];
  const size = segment?.conductor;
  const length = segment?.length_ft == null ? "length?" : say(segment.length_ft, "ft");
  const grave = gravest(part.findings);
  const room = x1 - x0;
  const words = [size ? saySize(size) : "size?", segment?.method].filter(Boolean).join(" ");
  return (
    <>
      <Wire
        x0={x0}
        x1={x1}
        stroke={weight(found?.area_cmil)}
        stopped={stopped}
        unknown={!segment?.conductor || !segment.method}
        bent={grave === "warning"}
      />
      <path d={`M${x0} ${AXIS - 8}v16`} stroke={ink.faint} strokeWidth={1} />
      <Small x={x0 + 8} bold colour={grave === "stop" ? ink.stop : ink.ink}>
        {room > 130 ? words : size ? saySize(size) : "size?"}
      </Small>
      <Small x={x0 + 8} second>
        {room > 130 ? `${length}, ${part.name}` : length}
      </Small>
    </>
  );
}

function Switch({ line, part, x0, x1, stopped }: StretchProps) {
  const middle = (x0 + x1) / 2;
  const { main } = captionOf(line, part);
  const cord = line.unit?.cord_connected;
  const known = cord ? line.circuit.receptacle_a != null : line.circuit.disconnect?.rating_a != null;
  const area = line.result?.segments.at(-1)?.area_cmil;
  return (
    <>
      <Wire x0={x0} x1={middle - 10} stroke={weight(area)} stopped={stopped} />
      <Wire x0={middle + 10} x1={x1} stroke={weight(area)} stopped={stopped} />
      {cord ? (
        <path
          d={`M${middle - 2} ${AXIS - 8}h-7v16h7M${middle + 2} ${AXIS - 5}h7v10h-7`}
          fill="none"
          stroke={ink.ink}
          strokeWidth={2}
        />
      ) : (
        <>
          <path
            d={`M${middle - 10} ${AXIS}l17 -10`}
            stroke={ink.ink}
            strokeWidth={2.2}
            strokeDasharray={known ? undefined : "4 3"}
          />
          {[-10, 10].map((shift) => (
            <circle
              key={shift}
              cx={middle + shift}
              cy={AXIS}
              r={3.5}
              fill={known ? ink.ink : ink.sheet}
              stroke={ink.ink}
              strokeWidth={1.6}
            />
          ))}
        </>
      )}
      <Small x={middle - 12}>{known ? (main.split(" ")[0] ?? main) : "none?"}</Small>
    </>
  );
}

function End({ line, unit, x, width, live }: { line: Line; unit: Part; x: number; width: number; live: boolean }) {
  const { main, sub } = captionOf(line, unit);
  const known = line.result?.min_ampacity_a != null;
  const edge = live ? ink.ink : ink.soft;
  const drop = line.result?.voltage_drop_pct;
  return (
    <>
      {line.circuit.feeds ? (
        <path
          d={`M${x + 4} ${AXIS - 17}v42M${x + 8} ${AXIS - 9}h9M${x + 8} ${AXIS + 4}h9M${x + 8} ${AXIS + 17}h9`}
          stroke={edge}
          strokeWidth={3}
        />
      ) : (
        <rect
          x={x}
          y={AXIS - 17}
          width={13}
          height={42}
          fill={ink.sheet}
          stroke={edge}
          strokeWidth={2.2}
          strokeDasharray={known ? undefined : "5 4"}
        />
      )}
      <text x={x + 24} y={AXIS - 1} fontSize={15} fontWeight={650} fontStretch="88%" fill={edge}>
        {main}
      </text>
      {width > 120 && (
        <text x={x + 24} y={AXIS + 16} fontSize={12.5} fontStretch="88%" fill={ink.soft}>
          {sub}
        </text>
      )}
      {drop != null && width > 120 && (
        <text x={x + width - 1} y={AXIS + 38} fontSize={12} fontStretch="88%" fill={ink.soft} textAnchor="end">
          {`${say(drop, "%")} drop`}
        </text>
      )}
    </>
  );
}

interface SmallProps {
  x: number;
  children: string;
  bold?: boolean;
  second?: boolean;
  colour?: string;
}

function Small({ x, children, bold, second, colour }: SmallProps) {
  return (
    <text
      x={x}
      y={second ? AXIS + 38 : AXIS + 24}
      fontSize={12.5}
      fontWeight={bold ? 650 : 400}
      fontStretch="88%"
      fill={colour ?? (second ? ink.soft : ink.ink)}
    >
      {children}
    </text>
  );
}
