/** Paper and lists: landing sheets, conductor labels, and the landing list out and in. Nothing is half taken. */
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { freshKey, post, type PlanOut, type Problem } from "../../api/client";
import type { PlanHandle } from "../../plan/usePlan";
import { Button, Mark } from "../../ui/parts";
import { asText } from "../../ui/text";

interface Props {
  plan: PlanHandle;
  readOnly: boolean;
  current: string | null;
  device: string | null;
}

export function Lists({ plan, readOnly, current, device }: Props) {
  const id = plan.plan?.install.id ?? "";
  const base = `/api/installs/${id}`;
  const one = device ? `?device=${device}` : current ? `?cable=${current}` : null;
  const link =
    "inline-flex min-h-11 items-center underline decoration-faint underline-offset-4 hover:decoration-copper";
  return (
    <section aria-label="Paper and lists" className="mt-6 border-t border-rule pt-2">
      <p className="flex flex-wrap gap-x-6">
        {one && (
          <a className={link} href={`${base}/landings.pdf${one}`}>
            Landing sheet of {device ?? current}
          </a>
        )}
        <a className={link} href={`${base}/landings.pdf`}>
          All landing sheets
        </a>
        <a className={link} href={`${base}/conductor-labels.pdf`}>
          Conductor labels
        </a>
        <a className={link} href={`${base}/conductor-labels.csv`}>
          Labels for a printer, CSV
        </a>
        <a className={link} href={`${base}/landings.csv`}>
          Landing list, CSV
        </a>
      </p>
      {!readOnly && <Bring id={id} revision={plan.plan?.install.revision ?? 1} />}
    </section>
  );
}

function Bring({ id, revision }: { id: string; revision: number }) {
  const client = useQueryClient();
  const [open, setOpen] = useState(false);
  const [text, setText] = useState("");
  const [refused, setRefused] = useState<Problem | null>(null);
  const [said, setSaid] = useState("");
  async function bring() {
    setSaid("");
    const sent = await post<PlanOut>(`/api/installs/${id}/landings`, freshKey(), {
      base_revision: revision,
      csv: text,
    });
    setRefused(sent.kind === "refused" ? sent.problem : null);
    if (sent.kind === "unreachable") setSaid("Leitung does not answer. The list is kept here; try again.");
    if (sent.kind === "done") {
      client.setQueryData(["plan", id], sent.body);
      void client.invalidateQueries({ queryKey: ["history", id] });
      setSaid("Taken in.");
      setText("");
    }
  }
  if (!open)
    return (
      <Button className="mt-2" onClick={() => setOpen(true)}>
        Bring a landing list
      </Button>
    );
  return (
    <div className="mt-2 max-w-3xl">
      <p className="text-soft">
        One conductor a line: <code>cable,conductor,a,b,a_marked,b_marked,note</code>. An end reads
        device.strip.terminal, capped, or nothing. What the list does not name stays as it is.
      </p>
      <input
        type="file"
        accept=".csv,text/csv"
        aria-label="Landing list as a file"
        className="mt-2 block min-h-11"
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) void file.text().then(setText);
        }}
      />
      <textarea
        aria-label="Landing list"
        className="mt-2 block h-40 w-full border-2 border-ink/50 bg-sheet p-2 font-mono text-sm focus:border-copper"
        spellCheck={false}
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      {refused && (
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
      )}
      <p role="status" className="mt-2">
        {said}
      </p>
      <div className="mt-2 flex gap-2">
        <Button kind="main" disabled={!text.trim()} onClick={() => void bring()}>
          Take it in
        </Button>
        <Button onClick={() => setOpen(false)}>Close</Button>
      </div>
    </div>
  );
}
