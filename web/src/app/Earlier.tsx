/** Says that an earlier revision is on the screen, and offers the way back to it or from it. */
import { useMutation, useQueryClient } from "@tanstack/react-query";

import { freshKey, type PlanOut, post } from "../api/client";
import { readAnew } from "../plan/readAnew";
import { inWords } from "../ui/inWords";
import { Button, Mark } from "../ui/parts";

interface Props {
  id: string;
  at: number;
  newest: number;
  mayBring: boolean;
  onNow: () => void;
}

export function Earlier({ id, at, newest, mayBring, onNow }: Props) {
  const client = useQueryClient();
  const bring = useMutation({
    mutationFn: async () => {
      const path = `/api/installs/${id}/revisions/${String(at)}/bringing-back`;
      const sent = await post<PlanOut>(path, freshKey(), { base_revision: newest });
      if (sent.kind !== "done") throw new Error(inWords(sent));
      return sent.body;
    },
    onSuccess(plan) {
      client.setQueryData(["plan", id], plan);
      for (const key of ["history", "record"]) void readAnew(client, [key, id]);
      void client.invalidateQueries({ queryKey: ["board"] });
      onNow();
    },
  });
  return (
    <section
      aria-label="An earlier revision"
      className="flex flex-wrap items-center gap-3 border-y border-rule bg-sheet px-5 py-2 md:px-7"
    >
      <Mark severity="note" />
      <p className="grow basis-64">
        <b>The plan as it stood at revision {at}.</b> Revision {newest} stands now; what was recorded is of today.
        {bring.error && <span className="block text-stop">{bring.error.message}</span>}
      </p>
      {mayBring && (
        <Button disabled={bring.isPending} onClick={() => bring.mutate()}>
          Bring it back
        </Button>
      )}
      <Button kind="main" onClick={onNow}>
        To revision {newest}
      </Button>
    </section>
  );
}
