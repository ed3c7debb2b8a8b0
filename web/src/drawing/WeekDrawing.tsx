/** The crew's week: each person a line, tasks as stretches of it, waits dashed; a house's power as a line with gaps. */
import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";

import type { WeekOut, WeekPart } from "../api/client";
import { sayDay } from "../ui/when";
import { font, ink } from "./ink";
import { clockOf, minuteOf, scaleOf, staysOf, WEEK, type WeekScale } from "./week";

// What is shorter than a finger is grabbed beside it.
const GRIP = 22;

interface Place {
  day: string;
  minute: number;
  person: string;
}

interface Props {
  week: WeekOut;
  days: readonly string[];
  width: number;
  selected: string | null;
  onSelect: (id: string | null) => void;
  /** A task put elsewhere: on a day at an hour, from the line of one person to that of another. */
  onMove?: ((part: WeekPart, to: Place, from: string) => void) | undefined;
}

export function WeekDrawing({ week, days, width, selected, onSelect, onMove }: Props) {
  const scale = scaleOf(week, days, width);
  const people = week.wishes.people;
  const powered = week.sites.filter((site) => site.off);
  const top = WEEK.head + powered.length * 34;
  const height = top + people.length * WEEK.row + WEEK.pad;
  const drawing = useRef<SVGSVGElement>(null);
  const [drag, setDrag] = useState<{ id: string; from: string; grip: number; to: Place; moved: boolean } | null>(null);
  const y = (index: number) => top + index * WEEK.row + WEEK.row / 2 + 6;

  function placed(event: PointerEvent, grip: number): Place {
    const box = drawing.current?.getBoundingClientRect();
    const [left, above, across] = [box?.left ?? 0, box?.top ?? 0, box?.width ?? width];
    const factor = width / across;
    const { day, minute } = scale.at((event.clientX - left) * factor - grip);
    const row = Math.floor(((event.clientY - above) * factor - top) / WEEK.row);
    return { day, minute, person: people[Math.min(people.length - 1, Math.max(0, row))]?.id ?? "" };
  }
  function begin(event: PointerEvent<SVGGElement>, part: WeekPart, person: string) {
    onSelect(part.id);
    if (!onMove) return;
    const box = drawing.current?.getBoundingClientRect();
    const factor = width / (box?.width ?? width);
    const grip = (event.clientX - (box?.left ?? 0)) * factor - scale.x(part.day, minuteOf(part.from));
    event.currentTarget.setPointerCapture(event.pointerId);
    const to = { day: part.day, minute: minuteOf(part.from), person };
    setDrag({ id: part.id, from: person, grip, to, moved: false });
  }
  function move(event: PointerEvent) {
    if (!drag) return;
    const to = placed(event, drag.grip);
    const moved = drag.moved || to.day !== drag.to.day || to.minute !== drag.to.minute || to.person !== drag.to.person;
    if (moved) setDrag({ ...drag, to, moved });
  }
  function end(part: WeekPart) {
    if (drag?.moved) onMove?.(part, drag.to, drag.from);
    setDrag(null);
  }
  return (
    <svg
      ref={drawing}
      viewBox={`0 0 ${String(width)} ${String(height)}`}
      width={width}
      height={height}
      className="block max-w-full touch-pan-y select-none"
      role="group"
      aria-label="The week"
      fontFamily={font}
    >
      {days.map((day) => (
        <DayHead key={day} day={day} wet={week.wishes.wet.includes(day)} scale={scale} height={height - WEEK.pad} />
      ))}
      {powered.map((site, index) => (
        <Power key={site.id} site={site} scale={scale} y={WEEK.head + index * 34 + 14} />
      ))}
      {people.map((one, index) => (
        <g key={one.id}>
          <text x={4} y={y(index) + 5} fontSize={15} fontWeight={700} fill={ink.ink}>
            {one.name.split(" ")[0]}
          </text>
          <text x={4} y={y(index) + 20} fontSize={12} fill={ink.soft}>
            {one.skills.includes("licensed") ? "licensed" : (one.skills[0] ?? "")}
          </text>
          {days.map((day) => (
            <Line key={day} day={day} off={one.off} scale={scale} y={y(index)} />
          ))}
          {staysOf(week.parts, one.id)
            .filter((stay) => days.includes(stay.day))
            .map((stay) => (
              <text
                key={`${stay.day} ${String(stay.from)}`}
                x={scale.x(stay.day, stay.from) + 1}
                y={y(index) - 13}
                fontSize={12}
                fill={ink.soft}
              >
                {fitted(
                  week.sites.find((site) => site.id === stay.site)?.name ?? "",
                  scale.x(stay.day, stay.to) - scale.x(stay.day, stay.from),
                )}
              </text>
            ))}
          {week.parts
            .filter((part) => part.people.includes(one.id) && days.includes(part.day))
            .map((part) => (
              <Task
                key={part.id}
                part={part}
                scale={scale}
                y={y(index)}
                chosen={selected === part.id}
                movable={onMove !== undefined}
                onBegin={(event) => begin(event, part, one.id)}
                onDrag={move}
                onEnd={() => end(part)}
                onSelect={() => onSelect(part.id)}
              />
            ))}
        </g>
      ))}
      {drag?.moved &&
        week.parts
          .filter((part) => part.id === drag.id)
          .map((part) => {
            const length = minuteOf(part.to) - minuteOf(part.from);
            const at = y(people.findIndex((one) => one.id === drag.to.person));
            return (
              <g key={part.id} pointerEvents="none">
                <line
                  x1={scale.x(drag.to.day, drag.to.minute)}
                  x2={scale.x(drag.to.day, drag.to.minute + length)}
                  y1={at}
                  y2={at}
                  stroke={ink.copper}
                  strokeWidth={18}
                  opacity={0.7}
                />
                <text
                  x={scale.x(drag.to.day, drag.to.minute)}
                  y={at + 26}
                  fontSize={13}
                  fill={ink.copper}
                  fontWeight={700}
                >
                  {clockOf(drag.to.minute)}
                </text>
              </g>
            );
          })}
    </svg>
  );
}

/** As much of a name as stands over a stay. */
function fitted(name: string, room: number): string {
  const most = Math.floor(room / 6.6);
  return name.length <= most ? name : most > 3 ? `${name.slice(0, most - 1)}…` : "";
}

interface HeadProps {
  day: string;
  wet: boolean;
  scale: WeekScale;
  height: number;
}

function DayHead({ day, wet, scale, height }: HeadProps) {
  const at = scale.x(day, scale.from);
  const named = sayDay(day, { weekday: "short", day: "numeric" });
  const hours = [8, 10, 12, 14].map((hour) => hour * 60).filter((minute) => minute > scale.from && minute < scale.to);
  return (
    <g>
      <text x={at} y={16} fontSize={15} fontWeight={700} fill={ink.ink}>
        {named}
        {wet && (
          <tspan fontWeight={400} fontSize={12} fill={ink.soft}>
            {scale.column > 190 ? "  wet: nothing outdoors" : "  wet"}
          </tspan>
        )}
      </text>
      {hours.map((minute) => (
        <g key={minute}>
          <line x1={scale.x(day, minute)} x2={scale.x(day, minute)} y1={36} y2={height} stroke={ink.rule} />
          {scale.column > 150 && (
            <text x={scale.x(day, minute)} y={32} textAnchor="middle" fontSize={11} fill={ink.soft}>
              {minute / 60}
            </text>
          )}
        </g>
      ))}
    </g>
  );
}

/** When a house can do without its power: the line with gaps. */
function Power({ site, scale, y }: { site: WeekOut["sites"][number]; scale: WeekScale; y: number }) {
  return (
    <g role="img" aria-label={`When the power of ${site.name} may be off`}>
      <text x={4} y={y + 5} fontSize={12} fill={ink.soft}>
        {fitted(site.name, WEEK.gutter - 8)}
      </text>
      {scale.days.map((day) => {
        const gaps = (site.off ?? [])
          .filter((gap) => gap.day === day)
          .map((gap) => [Math.max(scale.from, minuteOf(gap.from)), Math.min(scale.to, minuteOf(gap.to))] as const)
          .toSorted((a, b) => a[0] - b[0]);
        const edges = [scale.from, ...gaps.flat(), scale.to];
        return edges.flatMap((_, index) => {
          const [from, to] = [edges[index], edges[index + 1]];
          if (index % 2 || from === undefined || to === undefined || to <= from) return [];
          return [
            <line
              key={`${day} ${String(from)}`}
              x1={scale.x(day, from)}
              x2={scale.x(day, to)}
              y1={y}
              y2={y}
              stroke={ink.ink}
              strokeWidth={6}
            />,
          ];
        });
      })}
    </g>
  );
}

/** A person's day: a thin line, nothing where they are away. */
function Line({
  day,
  off,
  scale,
  y,
}: {
  day: string;
  off: WeekOut["wishes"]["people"][number]["off"] & object;
  scale: WeekScale;
  y: number;
}) {
  const away = off.filter((one) => one.day === day);
  return (
    <g>
      <line
        x1={scale.x(day, scale.from)}
        x2={scale.x(day, scale.to)}
        y1={y}
        y2={y}
        stroke={ink.faint}
        strokeWidth={2}
      />
      {away.map((one) => {
        const from = scale.x(day, Math.max(scale.from, minuteOf(one.from)));
        const to = scale.x(day, Math.min(scale.to, minuteOf(one.to)));
        return (
          <g key={one.from}>
            <rect x={from} y={y - 8} width={Math.max(0, to - from)} height={16} fill={ink.paper} />
            <text x={(from + to) / 2} y={y + 4} textAnchor="middle" fontSize={12} fill={ink.soft}>
              {to - from > 34 ? "away" : ""}
            </text>
          </g>
        );
      })}
    </g>
  );
}

interface TaskProps {
  part: WeekPart;
  scale: WeekScale;
  y: number;
  chosen: boolean;
  movable: boolean;
  onBegin: (event: PointerEvent<SVGGElement>) => void;
  onDrag: (event: PointerEvent) => void;
  onEnd: () => void;
  onSelect: () => void;
}

function Task({ part, scale, y, chosen, movable, onBegin, onDrag, onEnd, onSelect }: TaskProps) {
  const [from, to] = [minuteOf(part.from), minuteOf(part.to)];
  const [x1, x2] = [scale.x(part.day, from), scale.x(part.day, to)];
  const waits = Math.min(scale.to, to + part.wait_min);
  const colour = chosen ? ink.copper : ink.ink;
  return (
    <g
      role="button"
      tabIndex={0}
      aria-pressed={chosen}
      aria-label={`${part.text}, ${part.day} ${part.from} to ${part.to}${part.held ? ", held here" : ""}`}
      className={movable ? "cursor-grab" : "cursor-pointer"}
      onPointerDown={onBegin}
      onPointerMove={onDrag}
      onPointerUp={onEnd}
      onClick={onSelect}
      onKeyDown={(event: KeyboardEvent) => {
        if (event.key === "Enter" || event.key === " ") {
          event.preventDefault();
          onSelect();
        }
      }}
    >
      <title>{part.text}</title>
      <rect x={x1} y={y - 14} width={Math.max(GRIP, x2 - x1)} height={28} fill="transparent" />
      {waits > to && (
        <line
          x1={x2}
          x2={scale.x(part.day, waits)}
          y1={y}
          y2={y}
          stroke={colour}
          strokeWidth={3}
          strokeDasharray="4 4"
        />
      )}
      <line x1={x1 + 1} x2={Math.max(x1 + 3, x2 - 1)} y1={y} y2={y} stroke={colour} strokeWidth={chosen ? 17 : 11} />
      {part.held && <line x1={x1 + 1.5} x2={x1 + 1.5} y1={y - 14} y2={y + 14} stroke={colour} strokeWidth={3} />}
      {part.moved && <circle cx={(x1 + x2) / 2} cy={y} r={4} fill={ink.sheet} />}
    </g>
  );
}
