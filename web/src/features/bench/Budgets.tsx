/** Each transformer: what hangs on it in its worst state, against what it may give. */
import type { BudgetShown } from "../../api/client";

export function Budgets({ budgets }: { budgets: readonly BudgetShown[] }) {
  if (!budgets.length) return <p className="mt-5 text-soft">No transformer in this system.</p>;
  return (
    <div className="mt-3 grid gap-x-10 gap-y-8 xl:grid-cols-2">
      {budgets.map((budget) => (
        <One key={budget.name} budget={budget} />
      ))}
    </div>
  );
}

function One({ budget }: { budget: BudgetShown }) {
  const rated = budget.rated_va ?? null;
  const scale = Math.max(rated ?? 0, budget.worst_va) || 1;
  const device = budget.name.slice(0, budget.name.lastIndexOf("."));
  const over = rated !== null && budget.worst_va > rated;
  const starts = budget.loads.map((_, at) => budget.loads.slice(0, at).reduce((sum, load) => sum + load.va, 0));
  return (
    <section aria-label={`Transformer of ${device}`}>
      <h2 className="text-lg">
        <b>{device}</b>{" "}
        <span className={over ? "font-bold text-stop" : "text-soft"}>
          {budget.worst_va.toFixed(1)} VA of {rated === null ? "a rating that is not known" : `${rated} VA`}
          {budget.percent != null ? `, ${budget.percent.toFixed(0)} %` : ""}
        </span>
      </h2>
      <p className="text-soft">
        Worst with {budget.worst_when}. Primary {budget.primary_volts.toFixed(0)} V, secondary{" "}
        {budget.secondary_volts.toFixed(1)} V.
      </p>
      <svg viewBox="0 0 600 34" className="mt-2 w-full" role="img" aria-label="What hangs on it">
        <rect
          x="0"
          y="4"
          width={(600 * (rated ?? scale)) / scale}
          height="22"
          fill="#fffdf8"
          stroke="#1b2126"
          strokeWidth="2"
        />
        {budget.loads.map((load, at) => {
          const x = (600 * (starts[at] ?? 0)) / scale;
          return (
            <rect
              key={load.name}
              x={x}
              y="5"
              width={Math.max(1, (600 * load.va) / scale - 2)}
              height="20"
              fill={at % 2 ? "#84350f" : "#a8481b"}
              opacity={load.known ? 1 : 0.5}
            />
          );
        })}
      </svg>
      <table className="mt-1 w-full text-left">
        <tbody>
          {budget.loads.map((load) => (
            <tr key={load.name} className="border-t border-rule">
              <td className="py-1">{load.words}</td>
              <td className="py-1 text-right">
                {load.known ? "" : "about "}
                {load.va.toFixed(1)} VA
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <details className="mt-2">
        <summary className="flex min-h-11 cursor-pointer items-center text-soft">In every state</summary>
        <table className="w-full text-left">
          <tbody>
            {budget.states.map((row) => (
              <tr key={row.when} className="border-t border-rule">
                <td className="py-1">{row.when}</td>
                <td className="py-1 text-right">{row.va.toFixed(1)} VA</td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </section>
  );
}
