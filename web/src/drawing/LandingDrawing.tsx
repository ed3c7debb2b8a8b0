/** Both ends of a cable as they are seen, and every conductor between them; the same on screen and on paper. */
import type { KeyboardEvent, PointerEvent, ReactNode } from "react";

import { font, ink } from "./ink";
import { insulation, strokeOf, STROKES } from "./insulation";
import { type Block, type DrawnWire, type EndName, ENDS, type LandingLayout, type Slot, wirePath } from "./landings";

export interface Handlers {
  selected: string | null;
  /** The end that has been taken up and waits for a terminal, and the terminal now under it. */
  held: { wire: string; end: EndName; over: string | null } | null;
  pointer: { x: number; y: number } | null;
  onEndKey: (event: KeyboardEvent, wire: string, end: EndName) => void;
  onEndDown: (event: PointerEvent, wire: string, end: EndName) => void;
  onSlot: (slot: Slot) => void;
  onShelf: (end: EndName) => void;
  onDevice: (device: string) => void;
}

interface Props {
  layout: LandingLayout;
  title: string;
  on?: Handlers | undefined;
  /** The colour on which it is drawn: crossings and names are freed in it. */
  ground?: string;
  /** Which terminals are live: their conductors are drawn in copper, and heavy. */
  live?: ((ref: string) => boolean) | undefined;
}

export function LandingDrawing({ layout, title, on, ground = ink.paper, live }: Props) {
  const { width, height, wires } = layout;
  const last = on?.held?.wire ?? on?.selected;
  const order = [...wires].sort((one, two) => Number(one.id === last) - Number(two.id === last));
  return (
    <svg
      viewBox={`0 0 ${width} ${height + 26}`}
      width={width}
      height={height + 26}
      role="group"
      aria-label={title}
      fontFamily={font}
      fill={ink.ink}
      style={{ display: "block", maxWidth: "100%", height: "auto", touchAction: "pan-y" }}
    >
      {layout.blocks.map((block) => (
        <Strip key={`${block.end} ${block.device} ${block.strip}`} block={block} layout={layout} on={on} />
      ))}
      {layout.shelf && <Shelf layout={layout} on={on} />}
      {order.map((wire) => (
        <Wire key={wire.id} wire={wire} layout={layout} on={on} ground={ground} live={live} />
      ))}
      {order.map((wire) => (
        <Names key={wire.id} wire={wire} layout={layout} chosen={wire.id === last} ground={ground} />
      ))}
      {on && wires.map((wire) => ENDS.map((end) => <Grip key={`${wire.id} ${end}`} {...{ wire, end, layout, on }} />))}
      <Key wires={wires} y={height + 14} />
    </svg>
  );
}

function boxTop(layout: LandingLayout, end: EndName): number {
  return end === "a" ? layout.top - layout.box : layout.bottom;
}

function Strip({ block, layout, on }: { block: Block; layout: LandingLayout; on: Handlers | undefined }) {
  const y = boxTop(layout, block.end);
  const height = layout.box;
  const nameY = block.end === "a" ? y - 28 : y + height + 24;
  const most = Math.max(8, Math.floor(Math.max(block.width, 190) / 7.4));
  return (
    <g>
      {block.first && (
        <text
          x={block.x}
          y={nameY}
          fontSize={15}
          fontWeight={700}
          fill={ink.ink}
          style={on ? { cursor: "pointer" } : undefined}
          onClick={on && (() => on.onDevice(block.device))}
        >
          {short(`${block.device} ${block.title}`, most)}
        </text>
      )}
      <text x={block.x} y={nameY + 17} fontSize={12.5} fill={ink.soft}>
        {short(block.strip, most)}
      </text>
      {block.slots.map((slot) => (
        <Box key={slot.key} slot={slot} y={y} height={height} layout={layout} on={on} />
      ))}
    </g>
  );
}

interface BoxProps {
  slot: Slot;
  y: number;
  height: number;
  layout: LandingLayout;
  on: Handlers | undefined;
}

function Box({ slot, y, height, layout, on }: BoxProps) {
  const { pitch, narrow, bare } = layout;
  const width = pitch - Math.min(8, pitch * 0.12);
  const held = on?.held;
  const target = held?.end === slot.end;
  const over = target && held.over === slot.ref;
  const says = slot.says;
  return (
    <g data-terminal={slot.ref} style={target ? { cursor: "copy" } : undefined} onClick={on && (() => on.onSlot(slot))}>
      <rect
        x={slot.x - width / 2}
        y={y}
        width={width}
        height={height}
        fill={over ? ink.copper : ink.sheet}
        stroke={target ? ink.copper : ink.ink}
        strokeWidth={target ? 2.5 : 2}
      />
      <g fill={over ? ink.sheet : ink.ink}>
        {narrow ? (
          <text
            transform={`translate(${slot.x + 5} ${y + height / 2}) rotate(-90)`}
            textAnchor="middle"
            fontSize={14}
            fontWeight={700}
          >
            {slot.label}
            {says ? (
              <tspan fontSize={11} fontWeight={400}>{`  ${short(says, Math.max(3, 11 - slot.label.length))}`}</tspan>
            ) : null}
          </text>
        ) : (
          <>
            <text
              x={slot.x}
              y={bare ? y + height / 2 + 6 : y + 21}
              textAnchor="middle"
              fontSize={slot.label.length > 5 ? 12.5 : 16}
              fontWeight={700}
            >
              {slot.label}
            </text>
            {!bare && (
              <text
                x={slot.x}
                y={y + 38}
                textAnchor="middle"
                fontSize={width < 60 ? 10.5 : 11.5}
                fill={over ? ink.sheet : ink.soft}
              >
                {short(says, Math.floor((width - 5) / (width < 60 ? 5.7 : 6.1)))}
              </text>
            )}
          </>
        )}
      </g>
    </g>
  );
}

/** Where conductors end that land nowhere: capped, or loose. */
function Shelf({ layout, on }: { layout: LandingLayout; on: Handlers | undefined }) {
  const { shelf } = layout;
  if (!shelf) return null;
  return (
    <>
      {ENDS.map((end) => {
        const y = end === "a" ? layout.top - 22 : layout.bottom + 22;
        return (
          <g
            key={end}
            style={on?.held?.end === end ? { cursor: "copy" } : undefined}
            onClick={on && (() => on.onShelf(end))}
          >
            <rect
              x={shelf.x}
              y={end === "a" ? layout.top - 48 : layout.bottom}
              width={shelf.width}
              height={48}
              fill="transparent"
            />
            <path d={`M${shelf.x} ${y}h${shelf.width}`} stroke={ink.faint} strokeWidth={1.5} strokeDasharray="3 4" />
            <text x={shelf.x} y={end === "a" ? y - 8 : y + 18} fontSize={12.5} fill={ink.soft}>
              lands nowhere
            </text>
          </g>
        );
      })}
    </>
  );
}

interface WireProps {
  wire: DrawnWire;
  layout: LandingLayout;
  on: Handlers | undefined;
  ground: string;
  live: ((ref: string) => boolean) | undefined;
}

function Wire({ wire, layout, on, ground, live }: WireProps) {
  const held = on?.held?.wire === wire.id ? on.held : null;
  const pulled = held ? on?.pointer : null;
  const d = held && pulled ? pulledPath(wire, held.end, pulled, layout) : wirePath(wire, layout.top, layout.bottom);
  const hot = live !== undefined && ENDS.some((end) => wire[end].ref !== null && live(wire[end].ref));
  const chosen = on?.selected === wire.id || held !== null || hot;
  const stroke = strokeOf(wire.kind);
  const scale = layout.narrow ? 0.62 : 1;
  const weight = stroke.width * scale;
  // Among many, the one in hand is followed by letting the others fade.
  const faded = layout.narrow && on?.selected != null;
  const dead = wire.a.state !== "landed" && wire.b.state !== "landed";
  return (
    <g data-wire={wire.id} fill="none" strokeLinecap="butt" opacity={chosen ? 1 : faded ? 0.3 : dead ? 0.75 : 1}>
      <path d={d} stroke={ground} strokeWidth={weight + 7} />
      <path d={d} stroke={chosen ? ink.copper : ink.ink} strokeWidth={weight + (chosen ? 5 : 2.4)} />
      <path d={d} stroke={insulation(wire.colour)} strokeWidth={weight} />
      {stroke.over && (
        <path
          d={d}
          stroke={stroke.over.colour === "ink" ? ink.ink : ink.sheet}
          strokeWidth={stroke.over.width * scale}
          strokeDasharray={stroke.over.dash}
        />
      )}
      {!pulled && ENDS.map((end) => <EndMark key={end} wire={wire} end={end} layout={layout} />)}
      {cutEnd(wire) && (
        <Cut ground={ground} x={wire[cutEnd(wire) ?? "b"].x} y={nearEnd(layout, cutEnd(wire) ?? "b", 36)} />
      )}
      {!wire.harm && wire.severity === "warning" && (
        <Bend ground={ground} x={wire[wire.severityEnd].x} y={nearEnd(layout, wire.severityEnd, 36)} />
      )}
    </g>
  );
}

/** Where a conductor is cut: at the end at which it does harm, or at the one that a stop names. */
function cutEnd(wire: DrawnWire): EndName | null {
  return wire.harm ?? (wire.severity === "stop" ? wire.severityEnd : null);
}

function nearEnd(layout: LandingLayout, end: EndName, by: number): number {
  return end === "a" ? layout.top + by : layout.bottom - by;
}

function pulledPath(wire: DrawnWire, end: EndName, to: { x: number; y: number }, layout: LandingLayout): string {
  const from = end === "a" ? { x: wire.b.x, y: layout.bottom } : { x: wire.a.x, y: layout.top };
  const half = (to.y - from.y) / 2;
  return `M${from.x} ${from.y} C${from.x} ${from.y + half} ${to.x} ${to.y - half} ${to.x} ${to.y}`;
}

/** What is at a conductor's end: on a terminal, under a cap, or bare; and the tape that marks it. */
function EndMark({ wire, end, layout }: { wire: DrawnWire; end: EndName; layout: LandingLayout }) {
  const { x, state, marked } = wire[end];
  const y = end === "a" ? layout.top : layout.bottom;
  const out = end === "a" ? -1 : 1;
  const weight = strokeOf(wire.kind).width * (layout.narrow ? 0.62 : 1) + 4;
  return (
    <>
      {marked && (
        <path
          d={`M${x} ${y - out * 8}v${-out * 12}`}
          stroke={insulation(marked)}
          strokeWidth={weight}
          data-marked={marked}
        />
      )}
      {state === "capped" && <path d={`M${x} ${y - out * 2}v${out * 16}`} stroke={ink.ink} strokeWidth={11} />}
      {state === "loose" && (
        <circle cx={x} cy={y + out * 6} r={5} fill={ink.paper} stroke={ink.warning} strokeWidth={2.5} />
      )}
    </>
  );
}

function Cut({ x, y, ground }: { x: number; y: number; ground: string }) {
  return (
    <g stroke={ink.stop} strokeWidth={4.5}>
      <path d={`M${x - 17} ${y - 2}l34 -9`} stroke={ground} strokeWidth={11} />
      <path d={`M${x - 17} ${y + 9}l34 -9`} stroke={ground} strokeWidth={11} />
      <path d={`M${x - 17} ${y - 3}l34 -9M${x - 17} ${y + 10}l34 -9`} />
    </g>
  );
}

function Bend({ x, y, ground }: { x: number; y: number; ground: string }) {
  const d = `M${x} ${y - 16}v6l9 4v12l-9 4v6`;
  return (
    <g>
      <path d={`M${x} ${y - 15}v30`} stroke={ground} strokeWidth={14} />
      <path d={d} stroke={ink.warning} strokeWidth={4.5} strokeLinejoin="round" />
    </g>
  );
}

const NAME_ROW = 15;

/** The colour's name beside each end; upright where there is little room. */
function Names({ wire, layout, chosen, ground }: NamesProps) {
  const weight = strokeOf(wire.kind).width;
  const text = (end: EndName): ReactNode => {
    const { x, marked, state, side, row } = wire[end];
    const words = `${wire.colour}${marked ? `, marked ${marked}` : ""}`;
    const upright = layout.narrow || state !== "landed";
    const down = upright ? 12 : (end === "a" ? 17 : 9) + row * NAME_ROW;
    const y = end === "a" ? layout.top + down : layout.bottom - down;
    const beside = weight / 2 + 6;
    const place = upright
      ? {
          transform: `translate(${x + 13} ${y}) rotate(-90)`,
          textAnchor: end === "a" ? ("end" as const) : ("start" as const),
        }
      : side === "left"
        ? { x: x - beside, y, textAnchor: "end" as const }
        : { x: x + beside, y };
    const look = { fontSize: layout.narrow ? 11.5 : 12.5, fontWeight: chosen ? 700 : 600 };
    // The halo is a text of its own: paper does not know the order of painting.
    return (
      <>
        <text {...place} {...look} fill={ground} stroke={ground} strokeWidth={3.5} aria-hidden>
          {words}
        </text>
        <text {...place} {...look} fill={chosen ? ink.copper : ink.soft}>
          {words}
        </text>
      </>
    );
  };
  return (
    <g pointerEvents="none">
      {text("a")}
      {text("b")}
    </g>
  );
}

interface NamesProps {
  wire: DrawnWire;
  layout: LandingLayout;
  chosen: boolean;
  ground: string;
}

/** The place where an end is taken hold of: by mouse, by finger, by keyboard. */
function Grip({ wire, end, layout, on }: { wire: DrawnWire; end: EndName; layout: LandingLayout; on: Handlers }) {
  const { x, state } = wire[end];
  const width = Math.max(22, Math.min(44, layout.pitch));
  const y = end === "a" ? layout.top - 2 : layout.bottom - 44;
  const held = on.held?.wire === wire.id && on.held.end === end;
  const where = state === "landed" ? `on ${wire[end].ref?.split(".").slice(1).join(" ") ?? ""}` : state;
  return (
    <g
      tabIndex={0}
      role="button"
      data-grip={`${wire.id} ${end}`}
      aria-pressed={held}
      aria-label={`${wire.colour}, ${end === "a" ? "upper" : "lower"} end, ${where}${wire.says ? `, ${wire.says}` : ""}`}
      style={{ cursor: "grab", touchAction: "none", outline: "none" }}
      className="grip"
      onKeyDown={(event) => on.onEndKey(event, wire.id, end)}
      onPointerDown={(event) => on.onEndDown(event, wire.id, end)}
    >
      <rect x={x - width / 2} y={y} width={width} height={46} rx={3} fill="transparent" stroke="transparent" />
    </g>
  );
}

/** What the strokes mean, for the sorts of voltage that this drawing holds. */
function Key({ wires, y }: { wires: readonly DrawnWire[]; y: number }) {
  const kinds = Object.keys(STROKES).filter((kind) => wires.some((wire) => (wire.kind ?? "none") === kind));
  let x = 4;
  return (
    <g fontSize={12} fill={ink.soft}>
      {kinds.map((kind) => {
        const stroke = strokeOf(kind);
        const at = x;
        x += 54 + stroke.words.length * 6.4;
        const d = `M${at} ${y - 4}h30`;
        return (
          <g key={kind} fill="none">
            <path d={d} stroke={ink.ink} strokeWidth={stroke.width + 2} />
            <path d={d} stroke={ink.faint} strokeWidth={stroke.width - 0.5} />
            {stroke.over && (
              <path
                d={d}
                stroke={stroke.over.colour === "ink" ? ink.ink : ink.sheet}
                strokeWidth={stroke.over.width}
                strokeDasharray={stroke.over.dash}
              />
            )}
            <text x={at + 37} y={y} fill={ink.soft}>
              {stroke.words}
            </text>
          </g>
        );
      })}
    </g>
  );
}

export function short(text: string, most: number): string {
  return text.length <= most ? text : `${text.slice(0, Math.max(1, most - 1)).trimEnd()}…`;
}
