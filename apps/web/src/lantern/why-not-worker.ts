import {
  type NearestPattern,
  type OwnPattern,
  patternSet,
  type ReadyPattern,
  whyNotFound,
} from '@lantern/core/detection';

export interface WhyNotQuestion {
  readonly text: string;
  readonly from: number;
  readonly to: number;
  readonly own: readonly OwnPattern[];
}

export interface WhyNotAnswer {
  readonly nearest: readonly NearestPattern[];
}

self.onmessage = ({ data }: MessageEvent<WhyNotQuestion>) => {
  const ready = patternSet(data.own).filter((pattern): pattern is ReadyPattern => pattern.origin === 'ready');
  self.postMessage({ nearest: whyNotFound(data.text, data.from, data.to, ready) } satisfies WhyNotAnswer);
};
