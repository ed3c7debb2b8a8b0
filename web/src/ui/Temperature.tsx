/** A temperature that the plan keeps in °C: shown and read in °F, or in °C where metric is chosen; either may be typed. */
import { Edit, type Entry } from "./Edit";
import { asText } from "./text";
import { useMetric } from "./units";

export interface TemperatureProps {
  label: string;
  path: string;
  /** In °C; a text stands as it was typed until it is read. */
  celsius: number | string | null | undefined;
  onCommit: (value: unknown, entry: Entry) => void;
  error?: Parameters<typeof Edit>[0]["error"];
  readOnly?: boolean;
  onForget?: () => void;
}

const WRITTEN = /^([-+]?\d+(?:[.,]\d+)?)\s*°?\s*([fc])?$/i;

/** What was typed, in °C to a hundredth; a bare figure is in the unit shown. As it is where it is no temperature. */
export function toCelsius(text: unknown, metric: boolean): unknown {
  if (typeof text !== "string") return text;
  const found = WRITTEN.exec(text.trim());
  if (!found) return text;
  const figure = Number((found[1] ?? "").replace(",", "."));
  const unit = found[2]?.toLowerCase() ?? (metric ? "c" : "f");
  return unit === "c" ? figure : Math.round(((figure - 32) * 500) / 9) / 100;
}

const tenth = (figure: number) => String(Math.round(figure * 10) / 10);

export function Temperature({ celsius, onCommit, ...common }: TemperatureProps) {
  const metric = useMetric();
  const both = typeof celsius !== "number" ? null : [tenth((celsius * 9) / 5 + 32), tenth(celsius)];
  const [unit, other] = metric ? ["°C", "°F"] : ["°F", "°C"];
  return (
    <>
      <Edit
        {...common}
        kind="text"
        value={both ? (metric ? both[1] : both[0]) : asText(celsius)}
        unit={typeof celsius === "string" ? "" : unit}
        empty={`how hot, ${unit}?`}
        onCommit={(text, { typed }) => {
          const value = toCelsius(text, metric);
          onCommit(value, { typed, doubtful: typeof value === "string" });
        }}
      />
      {both && (
        <span className="text-soft">
          {" "}
          ({metric ? both[0] : both[1]} {other})
        </span>
      )}
    </>
  );
}
