/** Paper and lists: landing sheets, conductor labels, and the landing list out and in. Nothing is half taken. */
import { useQueryClient } from "@tanstack/react-query";

import type { PlanOut } from "../../api/client";
import { readAnew } from "../../plan/readAnew";
import type { PlanHandle } from "../../plan/usePlan";
import { BringList } from "../../ui/BringList";

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
  return (
    <BringList<PlanOut>
      name="Landing list"
      open="Bring a landing list"
      intro={
        <>
          One conductor a line: <code>cable,conductor,a,b,a_marked,b_marked,note</code>. An end reads
          device.strip.terminal, capped, or nothing. What the list does not name stays as it is.
        </>
      }
      path={`/api/installs/${id}/landings`}
      body={(csv) => ({ base_revision: revision, csv })}
      done={(answer) => {
        client.setQueryData(["plan", id], answer);
        void readAnew(client, ["history", id]);
        return "Taken in.";
      }}
    />
  );
}
