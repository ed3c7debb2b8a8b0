/** What a reading says against earlier ones of its place. */
import { Mark } from "../../ui/parts";
import type { ReadRow } from "./visit";

export function Changes({ row }: { row: ReadRow }) {
  return (
    <ul>
      {row.changes.map((change) => (
        <li
          key={change.says}
          className={change.grave ? "flex items-start gap-2 font-semibold text-warning" : "text-soft"}
        >
          {change.grave && <Mark severity="warning" />}
          <span className="inline-block first-letter:uppercase">{change.says}</span>
        </li>
      ))}
    </ul>
  );
}
