/** Light or dark, for a roof in the sun or a crawl space. */
import { setDark, useDark } from "./look";
import { TwoWay } from "./TwoWay";

export function LookSwitch() {
  return <TwoWay label="Dark look" words={["light", "dark"]} second={useDark()} onSwitch={setDark} />;
}
