/** What is put in for a while at a part: a bracket, a bridge, a bypass; demanded back before it is signed. */
import { type SubmitEvent, useState } from "react";

import type { RecordOut } from "../../api/client";
import type { PlanHandle } from "../../plan/usePlan";
import { Button, Mark } from "../../ui/parts";

interface Props {
  record: RecordOut;
  about: string;
  plan: PlanHandle;
  person: string;
  canRecord: boolean;
}

const field = "min-h-12 border-b-2 border-ink/50 bg-sheet px-2 focus:border-copper";

export function Temporary({ record, about, plan, person, canRecord }: Props) {
  const [adding, setAdding] = useState(false);
  const mine = record.open_items.filter((item) => item.temporary && item.about === about && !item.closed_at);
  const waiting = plan.outbox.waiting.flatMap((write) => {
    const body = write.body as { temporary?: boolean; about?: string; text?: string } | undefined;
    return body?.temporary && body.about === about ? [body.text ?? ""] : [];
  });
  const closing = new Set(plan.outbox.waiting.map((write) => write.path.split("/").at(-2)));
  function add(event: SubmitEvent<HTMLFormElement>) {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const said = (name: string) => (form.get(name) as string).trim();
    const body = { text: said("text"), owner: said("owner"), due: said("due") || null, temporary: true, about };
    plan.record("open-items", body, "Put in for a while");
    setAdding(false);
  }
  return (
    <section aria-label="Put in for a while" className="mt-6">
      {mine.length + waiting.length > 0 && <h2 className="text-xl font-bold">Put in for a while</h2>}
      <ul>
        {mine.map((item) => (
          <li key={item.id} className="flex flex-wrap items-center gap-3 border-t border-rule py-2 first:border-0">
            <span className="text-warning">
              <Mark severity="warning" />
            </span>
            <span className="grow">
              <b>{item.text}</b>
              <span className="block text-sm text-soft">
                {item.owner} takes it out{item.due ? ` by ${item.due}` : ""}
              </span>
            </span>
            {canRecord && !closing.has(item.id) && (
              <Button
                className="min-h-12"
                onClick={() => plan.record(`open-items/${item.id}/closing`, { note: "out again" }, "Out again")}
              >
                It is out again
              </Button>
            )}
          </li>
        ))}
        {waiting.map((text) => (
          <li key={text} className="border-t border-rule py-2 first:border-0">
            <b>{text}</b> <span className="text-soft">kept here, not sent yet</span>
          </li>
        ))}
      </ul>
      {canRecord && !adding && (
        <Button className="mt-2" onClick={() => setAdding(true)}>
          Something is put in for a while
        </Button>
      )}
      {adding && (
        <form onSubmit={add} className="mt-2 flex flex-wrap items-center gap-2">
          <input
            name="text"
            required
            autoFocus
            maxLength={200}
            aria-label="What is put in"
            placeholder="What: a bridge R to Y1, a bracket"
            className={`${field} min-w-56 grow`}
          />
          <input
            name="owner"
            required
            maxLength={200}
            defaultValue={person}
            aria-label="Who takes it out"
            placeholder="Who takes it out"
            className={`${field} w-40`}
          />
          <label className="inline-flex items-center gap-2 text-soft">
            by
            <input name="due" type="date" aria-label="Out by" className={`${field} text-ink`} />
          </label>
          <Button type="submit" kind="main">
            Note it
          </Button>
          <Button onClick={() => setAdding(false)}>Leave it</Button>
        </form>
      )}
    </section>
  );
}
