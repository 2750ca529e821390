import { useEffect, useState, type RefObject } from 'react';

/** The width of something on the page, css px. @param first what it is taken for before it is known */
export function useWidth(thing: RefObject<HTMLElement | null>, first: number): number {
  const [width, setWidth] = useState(first);
  useEffect(() => {
    const element = thing.current;
    if (!element) return undefined;
    const observer = new ResizeObserver(() => {
      setWidth(element.clientWidth);
    });
    observer.observe(element);
    setWidth(element.clientWidth);
    return () => {
      observer.disconnect();
    };
  }, [thing]);
  return width;
}
