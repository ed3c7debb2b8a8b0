/** A trial on paper as it is edited here: the open document of `leitung starting`. */

/** A number, a range, or nothing where it is not known. */
export type Figure = number | [number, number] | undefined;

export interface Aid {
  kind: "none" | "hard_start" | "soft_starter";
  start_s?: Figure;
  peak_a?: Figure;
  ramp_s?: Figure;
  lockout_s?: Figure;
}

export interface TrialLoad {
  id: string;
  leg: 1 | 2 | "both";
  steady_a?: Figure;
  fan?: { running_a?: Figure; inrush_a?: Figure; inrush_s?: Figure };
  compressor?: { running_a?: Figure; locked_rotor_a?: Figure; start_s?: Figure; power_factor?: Figure };
  aid?: Aid;
  compressor_after_s?: Figure;
}

export interface TrialCall {
  at_s: number;
  load: string;
  until_s?: number;
}

export interface Trial {
  supply: {
    kind: "panel" | "pedestal" | "generator" | "inverter";
    volts: Figure;
    legs: 1 | 2;
    breaker_a?: Figure;
    source_ohms?: Figure;
    generator?: Record<string, Figure | boolean>;
    inverter?: Record<string, unknown>;
  };
  loads: TrialLoad[];
  calls: TrialCall[];
}

const unit = (id: string): TrialLoad => ({
  id,
  leg: 1,
  fan: { running_a: 3.5, inrush_a: 8, inrush_s: 0.5 },
  compressor: { running_a: 12, locked_rotor_a: 60, start_s: 0.3, power_factor: 0.85 },
  aid: { kind: "none" },
  compressor_after_s: 3,
});

/** The exhibit trailer: two roof units and the oven that nobody counted, on one leg. */
export const EXAMPLE: Trial = {
  supply: { kind: "pedestal", volts: 120, legs: 1, breaker_a: 30, source_ohms: 0.08 },
  loads: [unit("front"), unit("rear"), { id: "microwave", leg: 1, steady_a: 12 }],
  calls: [
    { at_s: 0, load: "front" },
    { at_s: 0, load: "rear" },
    { at_s: 0, load: "microwave" },
  ],
};

/** What someone typed into a figure: a number, two with "to" between them, or nothing; null where it is none of these. */
export function readFigure(text: string): { figure: Figure } | null {
  const said = text.trim().replaceAll(",", ".");
  if (said === "") return { figure: undefined };
  const parts = said.split(/\s*(?:to|…|–)\s*/);
  const numbers = parts.map(Number);
  if (numbers.length > 2 || parts.includes("") || numbers.some((value) => !Number.isFinite(value))) return null;
  const [low, high] = numbers;
  if (low === undefined) return null;
  return { figure: high === undefined ? low : [low, high] };
}

export function sayFigure(figure: Figure): string {
  if (figure === undefined) return "";
  return typeof figure === "number" ? String(figure) : figure.join(" to ");
}

/** A load called at another moment: its first call moves, and with it what switches it off. */
export function moved(trial: Trial, load: string, at: number): Trial {
  const first = trial.calls.findIndex((call) => call.load === load);
  const calls = trial.calls.map((call, index) => {
    if (index !== first) return call;
    const by = at - call.at_s;
    return { ...call, at_s: at, ...(call.until_s === undefined ? {} : { until_s: call.until_s + by }) };
  });
  return { ...trial, calls };
}
