import { useCallback, useState } from "react";

/** The size of an element, watched. */
export function useSize<T extends HTMLElement>(): [
  (element: T | null) => void,
  { width: number; height: number },
] {
  const [size, setSize] = useState({ width: 0, height: 0 });
  const [watch] = useState(
    () =>
      new ResizeObserver(([entry]) => {
        if (entry) setSize({ width: entry.contentRect.width, height: entry.contentRect.height });
      }),
  );
  const hold = useCallback(
    (element: T | null) => {
      watch.disconnect();
      if (element) watch.observe(element);
    },
    [watch],
  );
  return [hold, size];
}
