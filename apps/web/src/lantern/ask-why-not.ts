import type { NearestPattern, OwnPattern } from '@lantern/core/detection';
import type { WhyNotAnswer, WhyNotQuestion } from './why-not-worker';

/** What is asked about: a stretch of a text, and the patterns as drafted. */
export interface WhyNotAsked {
  readonly text: string;
  readonly from: number;
  readonly to: number;
  readonly own: readonly OwnPattern[];
}

/** Asks in a worker of its own, which ends with the answer: all patterns are tried one by one. */
export function askWhyNot(asked: WhyNotAsked): Promise<readonly NearestPattern[]> {
  return new Promise((resolve, reject) => {
    const worker = new Worker(new URL('./why-not-worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<WhyNotAnswer>) => {
      worker.terminate();
      resolve(data.nearest);
    };
    worker.onerror = () => {
      worker.terminate();
      reject(new Error('The server could not answer. Try again.'));
    };
    worker.postMessage(asked satisfies WhyNotQuestion);
  });
}
