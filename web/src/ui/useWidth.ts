/** The inner width of a box, as it is and as it becomes. */
import { type RefObject, useLayoutEffect, useRef, useState } from "react";

export function useWidth(): [RefObject<HTMLDivElement | null>, number] {
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(0);
  useLayoutEffect(() => {
    const element = box.current;
    if (!element) return;
    const style = getComputedStyle(element);
    const inner = () => element.clientWidth - parseFloat(style.paddingLeft) - parseFloat(style.paddingRight);
    setWidth(inner());
    const observer = new ResizeObserver(() => setWidth(inner()));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [box, width];
}
