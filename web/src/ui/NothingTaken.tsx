/** What was brought was refused as a whole: each line that cannot be meant, and what would do. */
import type { Problem } from "../api/client";
import { Mark } from "./parts";
import { asText } from "./text";

export function NothingTaken({ refused }: { refused: Problem }) {
  return (
    <ul role="alert" className="mt-2">
      <li className="flex gap-2 font-semibold text-stop">
        <Mark severity="stop" /> Nothing was taken in. {refused.errors ? "Correct these lines:" : refused.detail}
      </li>
      {refused.errors?.map((problem) => (
        <li key={`${problem.field} ${problem.message}`} className="py-0.5 pl-8">
          <b>{problem.field}</b>: {problem.value == null ? "" : `“${asText(problem.value)}” `}
          {problem.message}. <span className="text-soft">{problem.remedy}</span>
        </li>
      ))}
    </ul>
  );
}
