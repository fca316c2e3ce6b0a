import { performance } from 'node:perf_hooks';
import type { NextFunction, Request, Response } from 'express';

/** Work on requests that arrive together takes so long in one go; then the event loop has its turn. */
export const SLICE_MS = 15;

/**
 * Takes requests up one after the other, a slice at a time: two hundred that arrive in the same instant would otherwise
 * be read in one go, and whoever is connected already would wait for all of them.
 */
export function inSlices(): (request: Request, response: Response, next: NextFunction) => void {
  const waiting: NextFunction[] = [];
  let isPlanned = false;
  const work = (): void => {
    const end = performance.now() + SLICE_MS;
    try {
      do waiting.shift()?.();
      while (waiting.length > 0 && performance.now() < end);
    } finally {
      // Also where one of them failed: the others must not wait for ever.
      isPlanned = waiting.length > 0;
      if (isPlanned) setImmediate(work);
    }
  };
  return (_request, _response, next) => {
    waiting.push(next);
    if (isPlanned) return;
    isPlanned = true;
    setImmediate(work);
  };
}
