/** When the house can do without a source: nothing said is any time. */
import type { SubmitEvent } from "react";

import type { Source } from "../../api/client";
import type { PlanHandle } from "../../plan/usePlan";
import { Button } from "../../ui/parts";

const field = "min-h-11 border-b-2 border-ink/50 bg-sheet px-2";

interface Props {
  plan: PlanHandle;
  sources: readonly (readonly [string, Source])[];
  readOnly: boolean;
}

export function PowerOff({ plan, sources, readOnly }: Props) {
  const said = sources.flatMap(([id, source]) => (source.power_off ?? []).map((window) => ({ id, source, window })));
  function put(id: string, windows: Source["power_off"], label: string) {
    plan.change({ sources: { [id]: { power_off: windows?.length ? windows : null } } }, label);
  }
  return (
    <section aria-label="When the power may be off" className="px-5 pt-5 md:px-7">
      <h2 className="text-lg font-bold">When the power may be off</h2>
      {said.length === 0 && <p className="text-soft">At any time, as nobody has said otherwise.</p>}
      <ul>
        {said.map(({ id, source, window }) => (
          <li key={`${id} ${window.day} ${window.begins}`} className="flex flex-wrap items-center gap-x-4">
            <b>{source.name ?? id}</b> {window.day}, {window.begins.slice(0, 5)} to {window.ends.slice(0, 5)}
            {!readOnly && (
              <Button
                onClick={() =>
                  put(
                    id,
                    (source.power_off ?? []).filter((one) => one !== window),
                    "Power off no more then",
                  )
                }
              >
                Not then
              </Button>
            )}
          </li>
        ))}
      </ul>
      {!readOnly && sources.length > 0 && (
        <form
          className="mt-2 flex flex-wrap items-center gap-2"
          onSubmit={(event: SubmitEvent<HTMLFormElement>) => {
            event.preventDefault();
            const form = new FormData(event.currentTarget);
            const of = (name: string) => form.get(name) as string;
            const before = sources.find(([id]) => id === of("source"))?.[1].power_off ?? [];
            put(
              of("source"),
              [...before, { day: of("day"), begins: of("from"), ends: of("to") }],
              "When the power may be off",
            );
          }}
        >
          <select name="source" aria-label="Of which source" className={field}>
            {sources.map(([id, source]) => (
              <option key={id} value={id}>
                {source.name ?? id}
              </option>
            ))}
          </select>
          on <input name="day" type="date" required aria-label="Off on" className={field} />
          from <input name="from" type="time" required aria-label="Off from" className={field} />
          to <input name="to" type="time" required aria-label="Off to" className={field} />
          <Button type="submit">May be off then</Button>
        </form>
      )}
    </section>
  );
}
