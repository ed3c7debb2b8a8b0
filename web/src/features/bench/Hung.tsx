/** The same network as it hangs: every cable of the system with its strips; what is live is copper and heavy. */
import { useMemo } from "react";

import type { BenchSystem, CableView, Frame } from "../../api/client";
import { isLive } from "../../drawing/bench";
import { LandingDrawing } from "../../drawing/LandingDrawing";
import { layoutLandings } from "../../drawing/landings";
import type { PlanHandle } from "../../plan/usePlan";

interface Props {
  plan: PlanHandle;
  system: BenchSystem;
  frame: Frame | null;
  width: number;
}

export function Hung({ plan, system, frame, width }: Props) {
  const wiring = plan.plan?.result.wiring;
  const cables = plan.document?.cables ?? {};
  const live = useMemo(() => {
    const rails = system.ladder.rails;
    return (ref: string) => rails.some((rail) => isLive(frame, rail, ref));
  }, [system, frame]);
  if (!wiring) return null;
  const here = new Set(system.devices);
  const views = wiring.order.flatMap((id) => {
    const view = wiring.cables[id];
    const cable = cables[id];
    return view && cable && here.has(cable.a.device) && here.has(cable.b.device) ? [view] : [];
  });
  const control = (view: CableView) =>
    view.conductors.some((wire) => wire.kind != null && wire.kind !== "line" && wire.kind !== "ground");
  const ordered = [...views].sort((one, two) => Number(control(two)) - Number(control(one)));
  return (
    <div className="flex flex-wrap items-start gap-x-10 gap-y-6 pt-2">
      {ordered.map((view) => {
        const cable = cables[view.id];
        if (!cable) return null;
        const layout = layoutLandings(view, cable, wiring, () => [], Math.min(width, 620));
        return (
          <section key={view.id} aria-label={`Cable ${view.id}`} className="max-w-full [&_svg]:overflow-visible">
            <h2 className="font-bold">
              {view.id} <span className="font-normal text-soft">{view.title}</span>
            </h2>
            <LandingDrawing layout={layout} title={`Cable ${view.id}`} live={live} />
          </section>
        );
      })}
    </div>
  );
}
