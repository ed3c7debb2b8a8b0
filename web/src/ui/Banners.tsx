/** What stands between the person and the saved plan: no connection, an ended session, someone else's change. */
import type { ReactNode } from "react";

import type { Conflict } from "../api/client";
import type { PlanHandle } from "../plan/usePlan";
import { Button, Mark } from "./parts";
import { useSignal } from "./shell";
import { SignInForm } from "./SignIn";

/** So many on their way are no news: they are gone before one has read it. */
const A_FEW = 4;

export function Banners({ plan }: { plan: PlanHandle }) {
  const { outbox } = plan;
  const count = outbox.waiting.length;
  const kept = count === 1 ? "1 change is kept here" : `${count} changes are kept here`;
  const signal = useSignal();
  return (
    <div aria-live="polite">
      {outbox.trouble === "full" && (
        <Bar>
          <p className="grow">
            <b>This device keeps nothing more.</b> What you enter is lost when the page is closed: free some room, or
            find a signal first.
          </p>
        </Bar>
      )}
      {!signal && outbox.trouble === null && (
        <Bar>
          <p className="grow">
            <b>No signal.</b> What stands here was kept before; what you enter is kept on this device and sent in its
            order{count ? `: ${count} so far` : ""}.
          </p>
        </Bar>
      )}
      {signal && outbox.trouble === null && count > A_FEW && (
        <Bar>
          <p className="grow">
            <b>Sending what was kept here:</b> {count} left.
          </p>
        </Bar>
      )}
      {outbox.trouble === "offline" && (
        <Bar>
          <p className="grow">
            <b>No connection.</b> {count ? kept : "Nothing is lost"} and will be sent when it is back.
          </p>
          <Button onClick={plan.retry}>Try now</Button>
        </Bar>
      )}
      {outbox.trouble === "signed-out" && (
        <Bar>
          <div className="grow">
            <p className="mb-3">
              <b>Your session has ended.</b> {kept}. Sign in again to send {count === 1 ? "it" : "them"}.
            </p>
            <SignInForm onDone={plan.retry} />
          </div>
        </Bar>
      )}
      {plan.notice && (
        <Bar>
          <p className="grow">{plan.notice}</p>
          <Button onClick={plan.clearNotice}>Close</Button>
        </Bar>
      )}
      {outbox.conflict && <Choose conflict={outbox.conflict} onChoose={plan.resolve} />}
    </div>
  );
}

function Bar({ children }: { children: ReactNode }) {
  return (
    <div className="flex flex-wrap items-center gap-3 border-y border-rule bg-sheet px-5 py-2 text-warning md:px-7">
      <Mark severity="warning" />
      {children}
    </div>
  );
}

function Choose({ conflict, onChoose }: { conflict: Conflict; onChoose: (mine: boolean) => void }) {
  const by = conflict.theirs[0];
  return (
    <section aria-label="Changed by two people" className="border-y border-rule bg-sheet px-5 py-4 md:px-7">
      <h2 className="flex items-center gap-3 text-lg font-bold text-warning">
        <Mark severity="warning" />
        {by?.author ?? "Someone else"} changed the same part meanwhile
      </h2>
      <p className="mt-1 text-soft">Nothing was overwritten. Choose which stands.</p>
      <table className="mt-3 text-left">
        <thead className="text-soft">
          <tr>
            <th className="pr-8 font-normal">what</th>
            <th className="pr-8 font-normal">yours</th>
            <th className="font-normal">stands now</th>
          </tr>
        </thead>
        <tbody>
          {conflict.choices.map(({ what, yours, stands }) => (
            <tr key={what}>
              <td className="pr-8">{what}</td>
              <td className="pr-8 font-bold">{yours}</td>
              <td className="font-bold">{stands}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="mt-4 flex gap-3">
        <Button kind="main" onClick={() => onChoose(true)}>
          Use mine
        </Button>
        <Button onClick={() => onChoose(false)}>Keep what stands</Button>
      </div>
    </section>
  );
}
