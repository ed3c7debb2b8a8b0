/** A device of one's own as it is being described, and as the catalogue has it. */
import vocabulary from "../../api/vocabulary.json";

export const PARTS = ["coil", "load", "contact", "transformer", "fuse", "jumper"] as const;
export type PartType = (typeof PARTS)[number];

export interface StripDraft {
  name: string;
  /** The terminals as printed, left to right, with a space between them. */
  labels: string;
  /** What its terminals take, AWG, and how they are turned, in-lb; "" where nothing is said. */
  thinnest: string;
  thickest: string;
  torque: string;
}

/** A strip with nothing on it yet. */
export function newStrip(name: string): StripDraft {
  return { name, labels: "", thinnest: "", thickest: "", torque: "" };
}

export interface PartDraft {
  type: PartType;
  name: string;
  /** Where its ends are, in the order of `ENDS_SAY`. */
  ends: string[];
  figures: Record<string, string>;
  /** What moves a contact; what a load does. */
  by: string;
}

export interface Draft {
  name: string;
  maker: string;
  model: string;
  group: string;
  strips: StripDraft[];
  /** What a terminal is for, where it is not the usual for its label; "" for nothing of its own. */
  functions: Record<string, string>;
  parts: PartDraft[];
}

/** How the ends of a part are asked for, in order. */
export const ENDS_SAY: Record<PartType, readonly string[]> = {
  coil: ["from", "to"],
  load: ["from", "to"],
  contact: ["from", "to"],
  fuse: ["from", "to"],
  jumper: ["from", "to"],
  transformer: ["primary from", "to", "secondary from", "to"],
};
export const FIGURES_OF: Record<PartType, readonly [key: string, unit: string, usual: string][]> = {
  coil: [["va", "VA", "6"]],
  load: [
    ["va", "VA", ""],
    ["rated_volts", "V", "24"],
  ],
  contact: [],
  fuse: [["amps", "A", "3"]],
  jumper: [],
  transformer: [
    ["volts", "V primary", "240"],
    ["va", "VA", "40"],
  ],
};
const LETTER: Record<PartType, string> = {
  coil: "K",
  load: "L",
  contact: "C",
  transformer: "T",
  fuse: "F",
  jumper: "J",
};
export const INNER = ["_1", "_2", "_3", "_4"] as const;

export const EMPTY: Draft = {
  name: "",
  maker: "",
  model: "",
  group: "relay",
  strips: [newStrip("terminals")],
  functions: {},
  parts: [],
};

export function newPart(type: PartType): PartDraft {
  const figures = Object.fromEntries(FIGURES_OF[type].map(([key, , usual]) => [key, usual]));
  return { type, name: "", ends: ENDS_SAY[type].map(() => ""), figures, by: "" };
}

export const labelsOf = (strip: StripDraft) => strip.labels.split(/[\s,]+/).filter(Boolean);

/** A name as an id: letters, digits and hyphens. */
export function idOf(text: string, otherwise: string): string {
  const plain = text
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-+|-+$/g, "")
    .slice(0, 32);
  return plain || otherwise;
}

const terminalId = (label: string, index: number) =>
  label.replace(/[^A-Za-z0-9_-]/g, "").slice(0, 32) || `t${index + 1}`;

export interface TerminalDraft {
  ref: string;
  label: string;
  function: string;
}

const usual: Record<string, string> = vocabulary.usual_functions;

/** Every terminal with what it is for: as chosen, else as it usually is under that label. */
export function terminalsOf(draft: Draft): TerminalDraft[] {
  return draft.strips.flatMap((strip, number) =>
    labelsOf(strip).map((label, index) => {
      const ref = `s${number + 1}.${terminalId(label, index)}`;
      return { ref, label, function: draft.functions[ref] ?? usual[label.toUpperCase()] ?? "" };
    }),
  );
}

/** Ids of the parts, in order: K1, K2, L1 … */
export function partIds(parts: readonly PartDraft[]): string[] {
  const seen = new Map<string, number>();
  return parts.map(({ type }) => {
    const number = (seen.get(type) ?? 0) + 1;
    seen.set(type, number);
    return `${LETTER[type]}${number}`;
  });
}

const figure = (text: string | undefined) => {
  const number = Number((text ?? "").replace(",", "."));
  return text?.trim() && Number.isFinite(number) ? number : text?.trim() || undefined;
};

/** Parts whose ends are not all chosen: they lie nowhere yet. */
export function unfinished(parts: readonly PartDraft[]): string[] {
  const ids = partIds(parts);
  return parts.flatMap((part, index) => (part.ends.every(Boolean) ? [] : [ids[index] ?? ""]));
}

/** The device as a file of the catalogue has it; what was left empty is left out, and what lies nowhere yet. */
export function deviceOf(draft: Draft): Record<string, unknown> {
  const terminals = terminalsOf(draft);
  const ids = partIds(draft.parts);
  return {
    id: idOf(draft.name, "own"),
    name: draft.name.trim() || "device of one's own",
    ...(draft.maker.trim() && { maker: draft.maker.trim() }),
    ...(draft.model.trim() && { model: draft.model.trim() }),
    group: draft.group,
    strips: draft.strips.map((strip, number) => ({
      id: `s${number + 1}`,
      name: strip.name.trim() || `strip ${number + 1}`,
      ...(strip.thinnest && { awg_min: strip.thinnest }),
      ...(strip.thickest && { awg_max: strip.thickest }),
      ...(strip.torque.trim() && { torque_in_lb: figure(strip.torque) }),
      terminals: terminals
        .filter(({ ref }) => ref.startsWith(`s${number + 1}.`))
        .map(({ ref, label, function: meaning }) => {
          const id = ref.split(".")[1] ?? "";
          return { id, ...(label !== id && { label }), ...(meaning ? { function: meaning } : { kind: "dry" }) };
        }),
    })),
    inside: draft.parts.flatMap((part, index) => (part.ends.every(Boolean) ? [inside(part, ids[index] ?? "X")] : [])),
  };
}

/** A refusal in the words of the screen: the part by its id. */
export function inWords(problem: string, parts: readonly PartDraft[]): string {
  const ids = partIds(parts).filter((_, index) => parts[index]?.ends.every(Boolean));
  return problem.replace(
    /device\.inside\.(\d+)\.[a-z_]+\.(\w+)/g,
    (_, at: string, name: string) => `${ids[Number(at)]} ${name}`,
  );
}

function inside(part: PartDraft, id: string): Record<string, unknown> {
  const [one, two, three, four] = part.ends;
  const figures = Object.fromEntries(
    Object.entries(part.figures).flatMap(([key, text]) => {
      const value = figure(text);
      return value === undefined || key === "volts" ? [] : [[key, value]];
    }),
  );
  const base = { type: part.type, id, ...figures };
  if (part.type === "transformer")
    return {
      ...base,
      primary_common: one,
      primary_taps: [{ terminal: two, volts: figure(part.figures["volts"]) }],
      secondary_plus: three,
      secondary_minus: four,
      secondary_volts: 24,
    };
  const ends = { a: one, b: two };
  if (part.type === "contact") {
    const [normally, by] = part.by.startsWith("!") ? ["closed", part.by.slice(1)] : ["open", part.by];
    return { ...base, ...ends, normally, ...(by && { operated_by: by }) };
  }
  const named = part.name.trim() ? { name: part.name.trim() } : {};
  return { ...base, ...ends, ...named, ...(part.type === "load" && part.by ? { effect: part.by } : {}) };
}
