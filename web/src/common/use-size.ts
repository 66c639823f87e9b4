import { useLayoutEffect, useRef, useState } from "react";

/** The size of an element in pixels, as it changes. */
export function useSize<Element extends HTMLElement>() {
  const element = useRef<Element>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  useLayoutEffect(() => {
    const node = element.current;
    if (!node) return;
    const observer = new ResizeObserver(([entry]) => {
      if (entry) setSize({ width: Math.floor(entry.contentRect.width), height: Math.floor(entry.contentRect.height) });
    });
    observer.observe(node);
    return () => observer.disconnect();
  }, []);
  return { element, ...size };
}
