/** US or metric, for what is shown. */
import { TwoWay } from "./TwoWay";
import { setMetric, useMetric } from "./units";

export function UnitsSwitch() {
  return <TwoWay label="Metric units" words={["ft", "m"]} second={useMetric()} onSwitch={setMetric} />;
}
