/** The work list as one text: changed there, read by the server, put into the plan as one change. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, freshKey, post, type Problem } from "../../api/client";
import type { PlanHandle } from "../../plan/usePlan";
import { NothingTaken } from "../../ui/NothingTaken";
import { Button } from "../../ui/parts";

interface Props {
  id: string;
  plan: PlanHandle;
  onDone: () => void;
}

export function AsText({ id, plan, onDone }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const [refused, setRefused] = useState<Problem | null>(null);
  const [said, setSaid] = useState("");
  const path = `/api/installs/${id}/work/lines`;
  const query = useQuery({
    queryKey: ["work lines", id, plan.plan?.install.revision],
    queryFn: async () =>
      data(await api.GET("/api/installs/{install_id}/work/lines", { params: { path: { install_id: id } } })),
    staleTime: Infinity,
  });
  const text = typed ?? query.data?.text;
  async function take() {
    setSaid("");
    const sent = await post<{ work: Record<string, unknown> }>(path, freshKey(), { text });
    setRefused(sent.kind === "refused" ? sent.problem : null);
    if (sent.kind === "unreachable") setSaid("Leitung does not answer. The text is kept here; try again.");
    if (sent.kind !== "done") return;
    const count = Object.keys(sent.body.work).length;
    if (count > 0) plan.change({ work: sent.body.work }, "Work list as a text");
    onDone();
  }
  if (query.isError && text === undefined) return <p className="mt-3 text-soft">The list cannot be read just now.</p>;
  return (
    <section aria-label="The work list as a text" className="mt-3 border-y border-rule py-3">
      <p className="text-soft">
        A line for each task. A line taken out is left out here; one without a key is a task of your own; after names
        keys of what comes first. The order of the lines says nothing.
      </p>
      <textarea
        aria-label="Tasks, a line each"
        className="mt-2 block h-96 w-full overflow-x-auto border-2 border-ink/50 bg-sheet p-2 font-mono text-sm whitespace-pre focus:border-copper"
        spellCheck={false}
        value={text ?? "Writing it …"}
        readOnly={text === undefined}
        onChange={(event) => setTyped(event.target.value)}
      />
      {refused && <NothingTaken refused={refused} />}
      <p className="mt-2 flex items-center gap-4">
        <Button kind="main" disabled={typed === null} onClick={() => void take()}>
          Take it over
        </Button>
        <Button onClick={onDone}>Leave it as it was</Button>
        {said && <span role="status">{said}</span>}
      </p>
    </section>
  );
}
