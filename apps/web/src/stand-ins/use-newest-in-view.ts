import { type RefObject, useEffect, useRef } from 'react';

/** Keeps the end of a list in view when something is added to it, or when the room for the list changes. */
export function useNewestInView(count: number): RefObject<HTMLDivElement | null> {
  const end = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (count === 0) return;
    // Newer browsers answer with a promise, which an effect must not return.
    void end.current?.scrollIntoView({ block: 'end' });
  }, [count]);
  useEffect(() => {
    const list = end.current?.parentElement;
    if (!list) return;
    const atEnd = () => list.scrollHeight - list.scrollTop - list.clientHeight < NEAR_PIXELS;
    let was = atEnd();
    const noted = () => {
      was = atEnd();
    };
    const observer = new ResizeObserver(() => {
      if (was) list.scrollTop = list.scrollHeight;
    });
    observer.observe(list);
    list.addEventListener('scroll', noted);
    return () => {
      observer.disconnect();
      list.removeEventListener('scroll', noted);
    };
  }, []);
  return end;
}

/** So near to the end counts as there. */
const NEAR_PIXELS = 40;
