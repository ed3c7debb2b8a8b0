/** A conductor's end that has been taken up: by mouse, finger or key. It is put down on a terminal, or capped. */
import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from "react";

import type { EndName, LandingLayout, Slot } from "../../drawing/landings";

export interface Held {
  wire: string;
  end: EndName;
  over: string | null;
}

interface Drag {
  held: Held;
  x: number;
  y: number;
  moved: boolean;
  svg: SVGSVGElement;
}

const SLOP = 5;

export function useHeld(
  layout: LandingLayout | null,
  readOnly: boolean,
  onSelect: (wire: string | null) => void,
  onLand: (wire: string, end: EndName, ref: string | null) => void,
) {
  const [held, setHeld] = useState<Held | null>(null);
  const [pointer, setPointer] = useState<{ x: number; y: number } | null>(null);
  const drag = useRef<Drag | null>(null);

  function slots(end: EndName): Slot[] {
    return layout?.blocks.flatMap((block) => (block.end === end ? block.slots : [])) ?? [];
  }
  function take(wire: string, end: EndName) {
    const ref = layout?.wires.find((entry) => entry.id === wire)?.[end].ref ?? null;
    onSelect(wire);
    if (!readOnly) setHeld({ wire, end, over: ref ?? slots(end)[0]?.ref ?? null });
  }
  function land(where: Held, ref: string | null) {
    setHeld(null);
    setPointer(null);
    const now = layout?.wires.find((entry) => entry.id === where.wire)?.[where.end];
    if (now && (now.ref ?? null) === ref && (ref !== null || now.state === "capped")) return;
    onLand(where.wire, where.end, ref);
  }
  function drop() {
    setHeld(null);
    setPointer(null);
  }

  function onEndKey(event: KeyboardEvent, wire: string, end: EndName) {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const mine = held?.wire === wire && held.end === end ? held : null;
    const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (step && mine) {
      const row = slots(end);
      const at = row.findIndex((slot) => slot.ref === mine.over);
      const next = row[Math.min(row.length - 1, Math.max(0, at + step))];
      if (next?.ref) setHeld({ ...mine, over: next.ref });
    } else if (step) focusBeside(wire, end, step);
    else if (event.key === "ArrowUp" || event.key === "ArrowDown") {
      if (!mine) focusGrip(wire, event.key === "ArrowUp" ? "a" : "b");
    } else if (event.key === "Enter" || event.key === " ") {
      if (mine) land(mine, mine.over);
      else take(wire, end);
    } else if (event.key.toLowerCase() === "c" && !readOnly) {
      onSelect(wire);
      land({ wire, end, over: null }, null);
    } else if (event.key === "Escape") {
      drop();
      if (!mine) onSelect(null);
    } else return;
    event.preventDefault();
    event.stopPropagation();
  }
  function focusBeside(wire: string, end: EndName, step: number) {
    const row = [...(layout?.wires ?? [])].sort((one, two) => one[end].x - two[end].x);
    const next = row[row.findIndex((entry) => entry.id === wire) + step];
    if (next) focusGrip(next.id, end);
  }

  function onEndDown(event: PointerEvent, wire: string, end: EndName) {
    const svg = event.currentTarget.closest("svg");
    if (event.button !== 0 || !svg) return;
    drag.current = { held: { wire, end, over: null }, x: event.clientX, y: event.clientY, moved: false, svg };
    event.stopPropagation();
  }
  useEffect(() => {
    function move(event: globalThis.PointerEvent) {
      const now = drag.current;
      if (!now || readOnly || !layout) return;
      if (!now.moved && Math.hypot(event.clientX - now.x, event.clientY - now.y) < SLOP) return;
      now.moved = true;
      const at = inDrawing(now.svg, event);
      const over = slots(now.held.end).find(
        (slot) => Math.abs(slot.x - at.x) <= layout.pitch / 2 && near(layout, now.held.end, at.y),
      );
      onSelect(now.held.wire);
      setHeld({ ...now.held, over: over?.ref ?? null });
      setPointer(at);
    }
    function up(event: globalThis.PointerEvent) {
      const now = drag.current;
      drag.current = null;
      if (!now || !layout) return;
      if (!now.moved) {
        if (held?.wire === now.held.wire && held.end === now.held.end) drop();
        else take(now.held.wire, now.held.end);
        return;
      }
      const at = inDrawing(now.svg, event);
      const over = slots(now.held.end).find(
        (slot) => Math.abs(slot.x - at.x) <= layout.pitch / 2 && near(layout, now.held.end, at.y),
      );
      const right = Math.max(...layout.blocks.map((block) => block.x + block.width));
      if (over?.ref) land(now.held, over.ref);
      else if (at.x > right && near(layout, now.held.end, at.y)) land(now.held, null);
      else drop();
    }
    window.addEventListener("pointermove", move);
    window.addEventListener("pointerup", up);
    window.addEventListener("pointercancel", drop);
    return () => {
      window.removeEventListener("pointermove", move);
      window.removeEventListener("pointerup", up);
      window.removeEventListener("pointercancel", drop);
    };
  });

  return {
    held,
    pointer,
    onEndKey,
    onEndDown,
    onSlot: (slot: Slot) => {
      if (held?.end === slot.end && slot.ref) land(held, slot.ref);
    },
    onShelf: (end: EndName) => {
      if (held?.end === end) land(held, null);
    },
    drop,
    cap: () => held && land(held, null),
  };
}

function near(layout: LandingLayout, end: EndName, y: number): boolean {
  return end === "a" ? y < layout.top + 50 : y > layout.bottom - 50;
}

function inDrawing(svg: SVGSVGElement, event: { clientX: number; clientY: number }): { x: number; y: number } {
  const box = svg.getBoundingClientRect();
  const scale = svg.viewBox.baseVal.width / box.width;
  return { x: (event.clientX - box.left) * scale, y: (event.clientY - box.top) * scale };
}

function focusGrip(wire: string, end: EndName) {
  document.querySelector<SVGGElement>(`[data-grip="${CSS.escape(wire)} ${end}"]`)?.focus();
}
