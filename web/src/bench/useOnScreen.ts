/** Whether an element is in sight, or nearly: what is not need not be painted at every frame. */
import { type RefObject, useEffect, useState } from "react";

const NEARLY_PX = 20;

export function useOnScreen(element: RefObject<Element | null>): boolean {
  const [onScreen, setOnScreen] = useState(true);
  useEffect(() => {
    const watched = element.current;
    if (watched === null || typeof IntersectionObserver === "undefined") return;
    const observer = new IntersectionObserver(
      ([entry]) => setOnScreen(entry?.isIntersecting ?? true),
      { rootMargin: `${NEARLY_PX}px` },
    );
    observer.observe(watched);
    return () => observer.disconnect();
  }, [element]);
  return onScreen;
}
