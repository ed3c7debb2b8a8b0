/** Light or dark, for a roof in the sun or a crawl space. */
import { setDark, useDark } from "./look";

export function LookSwitch() {
  const dark = useDark();
  return (
    <button
      type="button"
      role="switch"
      aria-checked={dark}
      aria-label="Dark look"
      className="min-h-11 text-soft hover:text-ink"
      onClick={() => setDark(!dark)}
    >
      <span className={dark ? "" : "border-b-2 border-copper text-ink"}>light</span>
      {" / "}
      <span className={dark ? "border-b-2 border-copper text-ink" : ""}>dark</span>
    </button>
  );
}
