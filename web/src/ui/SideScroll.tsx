/** What is wider than the screen and scrolls sideways: an edge that says there is more, and takes you there. */
import { type ReactNode, type RefObject, useEffect, useRef, useState } from "react";

const NEAR = 8;

interface Props {
  className?: string;
  box?: RefObject<HTMLDivElement | null>;
  /** What the further part is, for whoever does not see the edge. */
  more: string;
  children: ReactNode;
}

export function SideScroll({ className = "", box, more, children }: Props) {
  const own = useRef<HTMLDivElement>(null);
  const ref = box ?? own;
  const [further, setFurther] = useState(false);
  useEffect(() => {
    const element = ref.current;
    if (!element) return;
    const look = () => setFurther(element.scrollWidth - element.clientWidth - element.scrollLeft > NEAR);
    const observer = new ResizeObserver(look);
    observer.observe(element);
    for (const child of element.children) observer.observe(child);
    element.addEventListener("scroll", look, { passive: true });
    look();
    return () => {
      observer.disconnect();
      element.removeEventListener("scroll", look);
    };
  });
  return (
    <div className="relative min-w-0">
      <div ref={ref} className={`overflow-x-auto ${className}`}>
        {children}
      </div>
      {further && (
        <button
          type="button"
          aria-label={more}
          className="absolute inset-y-0 right-0 flex w-11 items-center justify-end bg-linear-to-l from-paper from-40% to-transparent pr-2 hover:text-copper-deep"
          onClick={() => ref.current?.scrollBy({ left: ref.current.clientWidth * 0.7, behavior: "smooth" })}
        >
          <svg viewBox="0 0 12 20" width="12" height="20" aria-hidden>
            <path d="M2 2l8 8-8 8" fill="none" stroke="currentColor" strokeWidth="2.5" />
          </svg>
        </button>
      )}
    </div>
  );
}
