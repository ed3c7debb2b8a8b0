/** What stands on the spaces of a panel, and where a circuit can be moved to. */
import type { PanelResult, PlanResult, PlanDoc } from "../../api/client";
import { say } from "../../drawing/parts";

/** Height of a row of spaces, px: a finger's width. */
export const ROW = 44;

export interface Block {
  id: string;
  /** The circuit of this install, or null for what is there already. */
  circuit: string | null;
  spaces: number[];
  text: string;
  rating: string;
  stop: boolean;
}

export function blocksOf(
  document: PlanDoc | undefined,
  source: string,
  panel: PanelResult,
  drawn: PlanResult["drawn"],
): Block[] {
  const found = document?.sources?.[source];
  const old = Object.entries(found?.existing ?? {}).flatMap(([id, entry]): Block[] => {
    const rating = entry.rating_a == null ? "" : say(entry.rating_a, "A");
    const spaces = [...(entry.spaces ?? [])].sort((a, b) => a - b);
    return spaces.length
      ? [{ id: `existing ${id}`, circuit: null, spaces, text: entry.name ?? id, rating, stop: false }]
      : [];
  });
  const mine = Object.entries(document?.circuits ?? {}).flatMap(([id, circuit]): Block[] => {
    const spaces = circuit.source === source ? [...(circuit.ocpd?.spaces ?? [])].sort((a, b) => a - b) : [];
    if (spaces.length === 0) return [];
    return [
      {
        id,
        circuit: id,
        spaces,
        text: circuit.name ?? "",
        rating: circuit.ocpd?.rating_a == null ? "rating?" : say(circuit.ocpd.rating_a, "A"),
        stop: false,
      },
    ];
  });
  const most = panel.spaces.length;
  for (const block of mine)
    block.stop =
      block.spaces.some((space) => space > most) ||
      drawn[block.id]?.parts.some((part) => part.id === "ocpd" && part.worst === "stop") === true;
  return [...old, ...mine];
}

/** The spaces of a block when its first one lies at `first`. */
export function moved(block: Block, first: number): number[] {
  return block.spaces.map((_, index) => first + index * 2);
}

/** Whether the block may lie on these spaces: they are there, and nothing else has them. */
export function target(
  blocks: readonly Block[],
  block: Block | null | undefined,
  spaces: number[],
  most: number,
): boolean {
  if (!block) return false;
  const others = new Set(blocks.filter((other) => other !== block).flatMap((other) => other.spaces));
  return spaces.every((space) => space >= 1 && space <= most && !others.has(space));
}

/** Where an arrow key takes a block: the next place that way in which it fits, or null. */
export function step(block: Block, key: string, most: number, blocks: readonly Block[]): number[] | null {
  const by = { ArrowUp: -2, ArrowDown: 2, ArrowLeft: -1, ArrowRight: 1 }[key];
  const first = block.spaces[0];
  if (!by || first === undefined) return null;
  if (by === 1 || by === -1) {
    if ((first % 2 === 1) !== (by === 1)) return null;
    const across = moved(block, first + by);
    return target(blocks, block, across, most) ? across : null;
  }
  for (let at = first + by; at >= 1 && at <= most; at += by) {
    const next = moved(block, at);
    if (target(blocks, block, next, most)) return next;
  }
  return null;
}
