/** The bench as it stands: systems and what can be pressed at the side, the sheet beside them; on a phone one below the
 * other. */
import type { ReactNode } from "react";

interface Props {
  side: ReactNode;
  tabs?: ReactNode;
  children: ReactNode;
}

export function Frame({ side, tabs, children }: Props) {
  return (
    <main className="mt-2 flex grow flex-col border-t border-rule lg:grid lg:grid-cols-[17rem_minmax(0,1fr)]">
      <div className="border-rule max-lg:contents lg:sticky lg:top-0 lg:max-h-screen lg:self-start lg:overflow-y-auto lg:pb-8">
        {side}
      </div>
      <div className="min-w-0 max-lg:contents lg:border-l lg:border-rule">
        {tabs}
        <div className="min-w-0 px-5 pb-16 max-lg:order-4 md:px-7">{children}</div>
      </div>
    </main>
  );
}
