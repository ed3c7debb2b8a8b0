/** What a meter reads between two terminals of a frame: the difference of what the core found at each. */
import type { Frame } from "../../api/client";

export interface MeterReading {
  words: string;
  detail: string;
}

export function reading(frame: Frame | null, one: string | null, two: string | null): MeterReading | null {
  if (!frame || !one || !two) return null;
  const a = frame.nodes[one];
  const b = frame.nodes[two];
  if (!a || !b) return { words: "—", detail: "A terminal is not in this system." };
  const kept = a.not_live ?? b.not_live;
  if (kept) return { words: "not live", detail: kept };
  if (a.part !== b.part) {
    const loose = !a.fed ? one : !b.fed ? two : null;
    const detail = loose
      ? `${named(loose)} floats: nothing feeds it. A meter may show a few ghost volts.`
      : "The two belong to supplies that nothing joins.";
    return { words: "floating", detail };
  }
  const volts = Math.hypot(a.re - b.re, a.im - b.im);
  const direct = a.dc != null && b.dc != null ? a.dc - b.dc : null;
  const parts = [];
  if (direct !== null && Math.abs(direct) >= 0.05) parts.push(`${direct.toFixed(1)} V DC`);
  if (volts >= 0.05 || !parts.length) parts.unshift(`${volts < 100 ? volts.toFixed(1) : volts.toFixed(0)} V AC`);
  return { words: parts.join(", "), detail: `${named(one)} to ${named(two)}` };
}

export function named(node: string): string {
  const [device, ...rest] = node.split(".");
  return `${device ?? ""} ${rest[rest.length - 1] ?? ""}`.trim();
}
