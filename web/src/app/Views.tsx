/** The views of planning, one word each: the lines, the panels that feed them, whether units suit, the rules. */
import { Link } from "react-router";

import { SideScroll } from "../ui/SideScroll";
import { UnitsSwitch } from "../ui/UnitsSwitch";

export const VIEWS = [
  { id: "lines", name: "Lines", key: "l" },
  { id: "landings", name: "Landings", key: "w" },
  { id: "bench", name: "Bench", key: "n" },
  { id: "panels", name: "Panels", key: "p" },
  { id: "suit", name: "Does it suit", key: "s" },
  { id: "rules", name: "Rules", key: "r" },
] as const;

export function Views({ install, current }: { install: string; current: string }) {
  return (
    <nav aria-label="Views of planning" className="shrink-0">
      <SideScroll className="flex gap-x-5 px-5 md:gap-x-7 md:px-7" more="Further views">
        {VIEWS.map((view) => {
          const here = view.id === current;
          return (
            <Link
              key={view.id}
              to={`/installs/${install}/${view.id}`}
              aria-current={here ? "page" : undefined}
              className={`flex min-h-11 items-center whitespace-nowrap ${here ? "font-bold" : "text-soft hover:text-ink"}`}
            >
              <span className={`border-b-3 pt-[3px] pb-0.5 ${here ? "border-copper" : "border-transparent"}`}>
                {view.name}
              </span>
            </Link>
          );
        })}
        <span className="ml-auto shrink-0 whitespace-nowrap md:hidden">
          <UnitsSwitch />
        </span>
      </SideScroll>
    </nav>
  );
}
