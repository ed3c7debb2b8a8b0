/** US or metric, for what is shown. */
import { setMetric, useMetric } from "./units";

export function UnitsSwitch() {
  const metric = useMetric();
  return (
    <button
      type="button"
      role="switch"
      aria-checked={metric}
      aria-label="Metric units"
      className="min-h-11 text-soft hover:text-ink"
      onClick={() => setMetric(!metric)}
    >
      <span className={metric ? "" : "border-b-2 border-copper text-ink"}>ft</span>
      {" / "}
      <span className={metric ? "border-b-2 border-copper text-ink" : ""}>m</span>
    </button>
  );
}
