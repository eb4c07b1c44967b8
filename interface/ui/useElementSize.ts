import { useEffect, useState, type RefObject } from 'react';

/**
 * Width and height of an element in CSS pixels, kept up to date; 0 before it is laid out.
 * @param attached the element itself, where another one may take its place
 */
export function useElementSize(
  ref: RefObject<HTMLElement | null>,
  attached?: HTMLElement | null,
): { width: number; height: number } {
  const [size, setSize] = useState({ width: 0, height: 0 });
  useEffect(() => {
    const element = ref.current;
    if (!element) return;
    const observer = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect;
      setSize((old) => (old.width === width && old.height === height ? old : { width, height }));
    });
    observer.observe(element);
    return () => observer.disconnect();
  }, [ref, attached]);
  return size;
}
